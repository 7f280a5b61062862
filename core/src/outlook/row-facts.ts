import { askedByNotice } from './notices.ts';
import type { DecisionFacts } from '../decision/facts.ts';
import { customOf } from '../history/custom.ts';
import { susceptibleShare, typicalLife } from '../life/nature.ts';
import { failureCost, KEPT_DAYS, renewalCost } from '../money/failure.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { PartMixture } from './mixture.ts';
import { customRun } from './installs.ts';
import { failedOnceRenewed } from './renewal.ts';
import { once, type RowGround } from './row-ground.ts';
import { looksOf } from './row-looks.ts';
import type { FindingFact, WeakPointFact } from './types.ts';

/** A look for which more comes off than for the renewal itself is none: the renewal is done at once. */
const isReachable = ({ look, renewMinutes }: WeakPointFact): boolean => (look?.offMinutes ?? 0) <= renewMinutes;

/** Typical life has passed since new, on any of its clocks. */
const middlePassed = (weakPoint: WeakPointFact, clocks: ClocksByKind, startDay: number, today: number): boolean =>
  weakPoint.nature === 'wear' &&
  weakPoint.causes.some((cause) =>
    cause.some((span) => {
      const clock = clocks[span.clock];
      return clock !== undefined && clock.at(today) - clock.at(startDay) >= typicalLife(span, weakPoint);
    }),
  );

/** A timing belt, whatever becomes of the engine. */
const isBelt = ({ group, componentClass }: WeakPointFact): boolean => group === 'timing' && componentClass === 'rubber';

/** A renewal helps where it brings the chance down to this part of it. */
const HELPING = 0.5;

/** Facts of a decision on one weak point, from all that is known of it. */
export function factsOf({
  weakPoint,
  appliesWeight,
  input,
  frame,
  part,
  state,
  dutyOn,
  isEnded,
  notices,
  current,
  lastLook,
  susceptible,
  hasFailed,
  suspicion,
  harmedBy,
  withHarm,
  chance,
  limit,
  isOpen,
  noProof,
  ahead,
  first,
  thinned,
  trusted,
  nextOf,
  question,
  view,
  reached,
}: RowGround): DecisionFacts {
  const { today, policy } = input;
  const { clocks } = frame;
  const { serviceDays } = frame.grid;
  const { look } = weakPoint;
  const dueBySchool = view.due !== null && view.due.day <= today + serviceDays;
  const good = lastLook?.result === 'sound' ? lastLook.day : null;
  // A look that was good is made again when its own interval says so, else at the next service after it.
  const byInterval = nextOf('look');
  const againDay = good === null ? -Infinity : byInterval === Infinity ? good + serviceDays : byInterval;
  const goodNow: FindingFact = {
    weakPointId: weakPoint.id,
    day: today,
    result: 'sound',
    broughtIn: false,
    sinceDay: null,
  };
  /** After a good look today the chance stays under the limit until the next service. */
  const settledBy = (mixture: PartMixture): boolean =>
    ahead(mixture, serviceDays, looksOf(weakPoint, [goodNow], clocks)) < limit;
  return {
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    nature: weakPoint.nature,
    isBelt: isBelt(weakPoint),
    revisedFitted: isEnded,
    watched: weakPoint.watch !== null,
    hasFailed,
    foundWorn: lastLook?.result === 'worn',
    chance,
    soon: once(() => withHarm(ahead(state.mixture, policy.holdDays), policy.holdDays)),
    classLimit: limit,
    limit: view.school === 'early' ? limit : Infinity,
    isOpen,
    noProof,
    chanceIfFirst: noProof ? withHarm(first().chance, serviceDays) : chance,
    firstChance: state.originalChance,
    customPassed:
      customRun(weakPoint, clocks, { ...part, startDay: question.renewedDay }) >= 1 ||
      (weakPoint.statements.some(({ always }) => always === true) &&
        trusted().some(
          ({ statement, due }) =>
            statement.always === true && statement.asks === 'renew' && due !== null && due.day <= today,
        )),
    hasCustom: customOf(weakPoint.statements, input.facts.market).length > 0,
    suspicion,
    harmedBy,
    customBy: once(() => [
      ...new Set(
        trusted()
          .filter(({ statement, due }) => statement.asks === 'renew' && due !== null && due.day <= today)
          .map(({ statement }) => statement.authority),
      ),
    ]),
    middlePassed: middlePassed(weakPoint, clocks, part.startDay, today),
    look:
      look === null
        ? null
        : {
            detection: look.detection,
            isReachable: isReachable(weakPoint),
            isOnFile: againDay > today,
            isDue: byInterval <= today + serviceDays,
            settles: once(() => settledBy(state.mixture)),
            settlesFirst: once(() => settledBy(first().mixture)),
          },
    crossesAtOnce: once(() => (reached(thinned(), limit) ?? Infinity) <= policy.holdDays),
    helps: once(
      () =>
        appliesWeight *
          failedOnceRenewed(
            weakPoint,
            { mixture: state.mixture, susceptible },
            { clocks, duty: dutyOn },
            { nowDay: today, days: [today + serviceDays] },
          )[0]! <=
        HELPING * chance,
    ),
    pays: once(
      () =>
        renewalCost(weakPoint, policy) <=
        ahead(thinned(), KEPT_DAYS) * (renewalCost(weakPoint, policy) + failureCost(weakPoint, policy)),
    ),
    notice: askedByNotice(notices, part, current),
    shareLeft: Math.min(state.shareLeft, susceptible / susceptibleShare(weakPoint)),
    byCondition: view.school === 'condition',
    schoolAsks: view.school === 'early' || !dueBySchool ? null : view.asks,
    ridesWith: null,
  };
}
