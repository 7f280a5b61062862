import { clockDuty, hastened, type ClockDuty } from '../duty/duty.ts';
import { susceptibleShare, typicalLife } from '../life/nature.ts';
import { hazardBetween, type Inspection } from '../life/risk.ts';
import { authorityMarks } from '../schools/authorities.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { School } from '../schools/schools.ts';
import { hastenedClocks, type Neglect } from '../upkeep/hastened.ts';
import { distanceAtDay, type UsagePath } from '../usage/path.ts';
import { decide, isGrave, wornLimit } from '../decision/decide.ts';
import type { DecisionFacts } from '../decision/facts.ts';
import { asksForWork, limitFor, VERDICTS, wantsProof, type DecisionRule, type Verdict } from '../decision/kinds.ts';
import { customOf, isTrusted } from '../history/custom.ts';
import { failureCost, KEPT_DAYS, renewalCost } from '../money/failure.ts';
import { failedBy, thinnedMixture, type PartMixture } from './mixture.ts';
import { customRun, decidingRecord, neverRenewed, partState, type PartQuestion, type PartState } from './part.ts';
import { REPAIR_LAG_YEARS } from '../history/unknown.ts';
import { runningOn, type Running } from './ahead.ts';
import { harmedBy, harmsTo } from './harm.ts';
import { failedOnceRenewed } from './renewal.ts';
import { crossing, dayReached } from './crossing.ts';
import { RIBBON, type Grid } from './grid.ts';
import { followedSchool, type SchoolQuestion } from './schools.ts';
import type { DueFact, FindingFact, FollowedBecause, InstallFact, OutlookInput, WeakPointFact } from './types.ts';
import type { AuthorityMark, StatementAsks, WhenFact } from '../schools/statements.ts';

/**
 * Shared inputs of a row: the clocks of the vehicle or of the engine now fitted, and the days of
 * all lanes.
 */
export interface Frame {
  readonly clocks: ClocksByKind;
  readonly path: UsagePath;
  readonly grid: Grid;
  readonly fittedDay: number | null;
  /** Distance on the vehicle's own meter, which is what people read. */
  readonly kmAtDay: (day: number) => number;
  /** How neglected upkeep hastens weak points, by their id. */
  readonly neglects: ReadonlyMap<string, readonly Neglect[]>;
}

/** The judgement of one weak point on one vehicle, without what is only drawn. */
export interface JudgedRow {
  readonly weakPoint: WeakPointFact;
  readonly verdict: Verdict;
  readonly rule: DecisionRule;
  readonly chance: number;
  /** Part of it that has failed already and is still in there; 0 where a record says what is in there. */
  readonly already: number;
  readonly limit: number;
  readonly appliesWeight: number;
  readonly due: DueFact | null;
  /** Chance if it is the first one, where the verdict goes by that because nobody can show a renewal. */
  readonly unproved: number | null;
  readonly followed: School;
  readonly rank: number;
}

/** A judgement with everything it was made of. */
export interface RowWorkings extends JudgedRow {
  readonly facts: DecisionFacts;
  readonly state: PartState;
  readonly dutyOn: ClockDuty;
  readonly looks: readonly Inspection[];
  readonly current: readonly FindingFact[];
  /** The mixture with fewer installations and lives, for drawings and searches. */
  readonly thinned: () => PartMixture;
  readonly running: () => Running;
  /** P(susceptible | running, looks). */
  readonly susceptible: number;
  readonly authorities: () => readonly AuthorityMark[];
  readonly question: SchoolQuestion;
  /** Chance before the next service if it is the first one; null where a record says which it is. */
  readonly ifFirst: () => number | null;
  readonly because: FollowedBecause;
  readonly settled: boolean;
}

const looksOf = ({ look }: WeakPointFact, findings: readonly FindingFact[], clocks: ClocksByKind): Inspection[] => {
  if (look === null) return [];
  const warning = look.warning.flatMap((span) =>
    clocks[span.clock] ? [{ clock: clocks[span.clock]!, length: span.from }] : [],
  );
  return findings
    .filter(({ result }) => result !== 'failed')
    .map(({ day, result }) => ({
      day,
      worn: result === 'worn',
      detection: look.detection,
      falseAlarm: look.falseAlarm,
      warning,
    }));
};

/**
 * Days for which the weak point shows itself before it fails, from today's use; 0 if it cannot be
 * looked at.
 */
function warningDays({ look }: WeakPointFact, clocks: ClocksByKind, today: number): number {
  if (look === null || look.detection < 0.5) return 0;
  return look.warning.reduce((least, span) => {
    const clock = clocks[span.clock];
    return clock ? Math.min(least, clock.dayOf(clock.at(today) + span.from) - today) : least;
  }, Infinity);
}

/** Range of a due date: the part of the hazard that runs on distance moves with the spread of the forecast rate. */
function dueRange(
  state: PartState,
  ahead: number,
  { today, rateSpread }: Pick<OutlookInput, 'today' | 'rateSpread'>,
  kmAtDay: (day: number) => number,
): DueFact {
  const day = today + ahead;
  const install = state.mixture.installDays.at(-1) ?? today;
  const all = hazardBetween(state.told, install, today, day);
  const byDistance = hazardBetween(
    { ...state.told, clocks: state.told.clocks.filter(({ clock }) => clock.kind !== 'age') },
    install,
    today,
    day,
  );
  // What has passed, or is asked for at once, is known to the day.
  const moved = rateSpread * (all > 0 ? byDistance / all : 0);
  return { day, km: kmAtDay(day), earliestDay: today + ahead / (1 + moved), latestDay: today + ahead * (1 + moved) };
}

/**
 * Tells whether this weak point has failed on this vehicle before. Susceptibility belongs to the
 * vehicle, whichever part was in it.
 */
const failedBefore = ({ id }: WeakPointFact, findings: readonly FindingFact[]): boolean =>
  findings.some(({ weakPointId, result }) => weakPointId === id && result === 'failed');

/** Tells whether the fitted part ends the weak point. */
const endedBy = ({ retiredByRevision, revisions }: WeakPointFact, fitted: string | null): boolean =>
  fitted !== null &&
  (fitted === retiredByRevision || revisions.some(({ revision, ends }) => ends === true && revision === fitted));

/** Facts of the weak point for the fitted part: a later revision may have its own window. */
function asFitted(weakPoint: WeakPointFact, fitted: string | null): WeakPointFact {
  const later = weakPoint.revisions.find(({ revision }) => revision === fitted);
  return later === undefined || later.causes.length === 0 ? weakPoint : { ...weakPoint, causes: later.causes };
}

/** Remembers what is computed when it is first asked for. */
function once<T>(compute: () => T): () => T {
  let known: { readonly value: T } | null = null;
  return () => (known ??= { value: compute() }).value;
}

/** Findings about the part that is in now, oldest first. */
function currentFindings(
  weakPoint: WeakPointFact,
  { findings, today }: OutlookInput,
  { install, fittedDay }: { readonly install: InstallFact; readonly fittedDay: number | null },
): FindingFact[] {
  return (
    findings
      .filter(({ weakPointId, day }) => weakPointId === weakPoint.id && day <= today && day >= (fittedDay ?? -Infinity))
      // On the very day of the renewal a worn finding or a failure is about the part that came out, a sound one about
      // the part that went in.
      .filter(
        ({ day, result }) =>
          install.certainty !== 'done' || day > install.day || (day === install.day && result === 'sound'),
      )
      .sort((a, b) => a.day - b.day)
  );
}

/** The chances of one part on one vehicle, as decisions ask for them. */
interface Chances {
  readonly looks: readonly Inspection[];
  readonly today: number;
  readonly applies: number;
  readonly limit: number;
}

/** Chance of having failed by so many days ahead. */
const failedAhead = (mixture: PartMixture, { looks, today, applies }: Omit<Chances, 'limit'>, days: number): number =>
  applies * failedBy(mixture, looks, today, [today + days]).by[0]!;

/** After a good look today the chance stays under the limit for so many days. */
function settledBy(mixture: PartMixture, look: Inspection, chances: Chances, days: number): boolean {
  const looks = [...chances.looks, { ...look, day: chances.today, worn: false }];
  return failedAhead(mixture, { ...chances, looks }, days) < chances.limit;
}

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

/** How likely it is the cause of what is reported, less what a good look since then has left of that. */
function suspicionOf(
  { id, look }: WeakPointFact,
  { suspects, reports = [] }: OutlookInput,
  lastLook: FindingFact | null,
): number {
  const share = suspects?.get(id) ?? 0;
  const reportedDay = Math.max(-Infinity, ...reports.map(({ day }) => day));
  const isCleared = lastLook?.result === 'sound' && lastLook.day >= reportedDay;
  return isCleared ? share * (1 - (look?.detection ?? 0)) : share;
}

/** A renewal helps where it brings the chance down to this part of it. */
const HELPING = 0.5;

/** Rules by which work is due at once: a fact, or an interval that has passed. */
const AT_ONCE: ReadonlySet<DecisionRule> = new Set([
  'failed',
  'customary',
  'customary_condition',
  'no_proof_customary',
]);

/**
 * Decides one weak point that applies with `appliesWeight`; Early looks for its date so many `years` ahead. The lean
 * part of the outlook: a whole fleet is judged with it.
 */
export function judgeRow(
  { weakPoint: told, appliesWeight }: { readonly weakPoint: WeakPointFact; readonly appliesWeight: number },
  input: OutlookInput,
  frame: Frame,
  years: number = RIBBON.horizonYears,
): RowWorkings {
  const { today, policy } = input;
  const { clocks, grid, fittedDay, kmAtDay } = frame;
  const { serviceDays } = grid;
  const dutyOn = hastened(
    clockDuty(told.componentClass, input.duty, policy.dutyFactors, input.severity),
    told.hastens,
    { duty: input.duty, features: input.facts.features },
  );
  const record = decidingRecord({ weakPoint: told, services: input.services, fittedDay, nowDay: today });
  const fitted = input.facts.fitted?.[told.componentKey] ?? (record?.certainty === 'done' ? record.revision : null);
  const weakPoint = asFitted(told, fitted);
  const part: PartQuestion = {
    weakPoint,
    clocks,
    worn: hastenedClocks(clocks, frame.neglects.get(weakPoint.id) ?? []),
    duty: dutyOn,
    services: input.services,
    failedBefore: failedBefore(weakPoint, input.findings),
    startDay: frame.path.startDay,
    fittedDay,
    counted: input.counted,
    market: input.facts.market,
    nowDay: today,
  };
  const state = partState(part);
  const install = state.installs[0]!;
  const renewedDay = install.day;
  const current = currentFindings(weakPoint, input, { install, fittedDay });
  const looks = looksOf(weakPoint, current, clocks);
  const exact = failedBy(state.mixture, looks, today, [today + serviceDays]);
  const lastLook = current.at(-1) ?? null;
  const hasFailed = lastLook?.result === 'failed';
  const harms = harmsTo(weakPoint, input, clocks);
  // A good look, or a renewal, ends what harm may have come before; what stops the vehicle would have been noticed.
  const noticed = weakPoint.safety || REPAIR_LAG_YEARS[weakPoint.consequence] === 0;
  const harmSince = Math.max(
    noticed ? today : -Infinity,
    install.certainty === 'done' ? install.day : -Infinity,
    lastLook?.result === 'sound' ? lastLook.day : -Infinity,
  );
  const suspicion = suspicionOf(weakPoint, input, lastLook);
  /** The chance with the harm that a failed neighbour has done, or does, by then, and with what is reported. */
  const withHarm = (own: number, ahead: number): number => {
    const harmed = own + (1 - own) * appliesWeight * harmedBy(harms, harmSince, today + ahead);
    return harmed + (1 - harmed) * suspicion;
  };
  // What has failed is no chance.
  const chance = hasFailed ? 1 : withHarm(appliesWeight * exact.by[0]!, serviceDays);
  const limit = limitFor(weakPoint.consequence, weakPoint.safety, policy.limits, policy.safetyLimit);
  const chances: Chances = { looks, today, applies: appliesWeight, limit };
  const isOpen = (install.certainty === 'assumed' || install.certainty === 'unknown') && weakPoint.watch === null;
  /** The part as the one it was built with, where nobody can show another. */
  const first = once(() => {
    const { mixture } = partState({ ...part, services: [neverRenewed(weakPoint.componentKey, fittedDay)] });
    return { mixture, chance: failedAhead(mixture, chances, serviceDays) };
  });
  const noProof = isOpen && wantsProof(weakPoint.consequence, weakPoint.safety, policy.proofFor);
  const thinned = once(() => thinnedMixture(state.mixture));
  const running = once(() => runningOn(thinned(), looks, grid, appliesWeight));
  const crossingDays = once(() =>
    chance >= limit
      ? 0
      : crossing(thinned(), looks, grid, { applies: appliesWeight, limit, susceptible: exact.susceptible, years }),
  );
  const authorities = once(() =>
    authorityMarks(weakPoint.statements, clocks, {
      installDay: renewedDay,
      lookDay: lastLook?.day ?? null,
      kmAtDay,
      market: input.facts.market,
    }),
  );
  const trusted = once(() =>
    authorities().filter(({ statement, standing }) => standing.counts && isTrusted(statement, input.facts.market)),
  );
  const nextOf = (asks: StatementAsks): number =>
    trusted().reduce(
      (soonest, { statement, due }) => (statement.asks === asks && due !== null ? Math.min(soonest, due.day) : soonest),
      Infinity,
    );
  const question: SchoolQuestion = {
    weakPoint,
    state,
    authorities,
    policy,
    limit,
    crossingDays,
    today,
    serviceDays,
    renewedDay,
    warningDays: warningDays(weakPoint, clocks, today),
    lastLookDay: lastLook?.day ?? null,
    kmAtDay,
    clocks,
    market: input.facts.market,
  };
  const { view, because } = followedSchool(question, input.choices);
  const followed = view.school;
  const dueBySchool = view.due !== null && view.due.day <= today + serviceDays;
  /** Days until the chance of having failed comes to the limit that counts, if it does before the next service. */
  const reached = (mixture: PartMixture, most: number): number | null =>
    dayReached(mixture, looks, today, { applies: appliesWeight, limit: most, days: serviceDays });
  const { look } = weakPoint;
  const good = lastLook?.result === 'sound' ? lastLook.day : null;
  // A look that was good is made again when its own interval says so, else at the next service after it.
  const byInterval = nextOf('look');
  const againDay = good === null ? -Infinity : byInterval === Infinity ? good + serviceDays : byInterval;
  const inspection = (): Inspection =>
    looksOf(
      weakPoint,
      [{ weakPointId: weakPoint.id, day: today, result: 'sound', broughtIn: false, sinceDay: null }],
      clocks,
    )[0]!;
  const facts: DecisionFacts = {
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    nature: weakPoint.nature,
    isBelt: isBelt(weakPoint),
    revisedFitted: endedBy(told, fitted),
    watched: weakPoint.watch !== null,
    hasFailed,
    foundWorn: lastLook?.result === 'worn',
    chance,
    soon: once(() => withHarm(failedAhead(state.mixture, chances, policy.holdDays), policy.holdDays)),
    classLimit: limit,
    limit: followed === 'early' ? limit : Infinity,
    isOpen,
    noProof,
    chanceIfFirst: noProof ? withHarm(first().chance, serviceDays) : chance,
    firstChance: state.originalChance,
    customPassed:
      customRun(weakPoint, clocks, { ...part, startDay: renewedDay }) >= 1 ||
      trusted().some(({ statement, due }) => statement.always === true && due !== null && due.day <= today),
    hasCustom: customOf(weakPoint.statements, input.facts.market).length > 0,
    suspicion,
    harmedBy: harmedBy(harms, harmSince, today + serviceDays) > 0 ? [...new Set(harms.map(({ title }) => title))] : [],
    customBy: [
      ...new Set(
        trusted()
          .filter(({ statement, due }) => statement.asks === 'renew' && due !== null && due.day <= today)
          .map(({ statement }) => statement.authority),
      ),
    ],
    middlePassed: middlePassed(weakPoint, clocks, frame.path.startDay, today),
    look:
      look === null
        ? null
        : {
            detection: look.detection,
            isReachable: isReachable(weakPoint),
            isOnFile: againDay > today,
            isDue: byInterval <= today + serviceDays,
            settles: once(() => settledBy(state.mixture, inspection(), chances, serviceDays)),
            settlesFirst: once(() => settledBy(first().mixture, inspection(), chances, serviceDays)),
          },
    crossesAtOnce: once(() => (reached(thinned(), limit) ?? Infinity) <= policy.holdDays),
    helps: once(
      () =>
        appliesWeight *
          failedOnceRenewed(
            weakPoint,
            { mixture: state.mixture, susceptible: exact.susceptible },
            { clocks, duty: dutyOn },
            { nowDay: today, days: [today + serviceDays] },
          )[0]! <=
        HELPING * chance,
    ),
    pays: once(
      () =>
        renewalCost(weakPoint, policy) <=
        failedAhead(thinned(), chances, KEPT_DAYS) * (renewalCost(weakPoint, policy) + failureCost(weakPoint, policy)),
    ),
    shareLeft: Math.min(state.shareLeft, exact.susceptible / susceptibleShare(weakPoint)),
    byCondition: followed === 'condition',
    schoolAsks: followed === 'early' || !dueBySchool ? null : view.asks,
    ridesWith: null,
  };
  const { verdict, rule } = decide(facts);
  const byFirst = rule.startsWith('no_proof');
  /**
   * Due date of the row: one answer for card, row, list, strip and file. Work is due on the day on which the chance of
   * having failed reaches the limit, on the date of the school or of an interval that asks, or at the next service. A
   * row without work has the date of its school.
   */
  const dueOf = (): DueFact | null => {
    if (verdict === 'behind_it' || verdict === 'watch') return null;
    const at = (ahead: number): DueFact => dueRange(state, ahead, input, kmAtDay);
    const schoolDay = view.due?.day ?? Infinity;
    if (!asksForWork(verdict)) return schoolDay === Infinity ? null : at(schoolDay - today);
    if (verdict === 'hold' || suspicion >= limit || AT_ONCE.has(rule) || (rule === 'no_proof_look' && isGrave(facts)))
      return at(0);
    if (rule.startsWith('school_')) return at(schoolDay - today);
    const told = Math.min(byInterval, nextOf('renew')) - today;
    const interval = told > 0 ? told : rule === 'interval_look' ? 0 : Infinity;
    const crossed = reached(byFirst ? first().mixture : thinned(), rule === 'worn' ? wornLimit(facts) : limit);
    return at(Math.min(crossed ?? serviceDays, interval, serviceDays));
  };
  const decidedUnproved = byFirst && noProof ? facts.chanceIfFirst : null;
  // Half at the limit, and never full: of two far beyond it, the further is still the more pressing.
  const decides = decidedUnproved ?? chance;
  const pressing = limit === Infinity ? decides / 10 : decides / (decides + limit);
  return {
    weakPoint,
    verdict,
    rule,
    chance,
    already: hasFailed ? 1 : withHarm(appliesWeight * exact.now, 0),
    limit,
    appliesWeight,
    followed,
    because,
    facts,
    state,
    dutyOn,
    looks,
    current,
    thinned,
    running,
    susceptible: exact.susceptible,
    authorities,
    question,
    settled: install.certainty === 'done' || install.certainty === 'not_done',
    due: dueOf(),
    unproved: decidedUnproved,
    ifFirst: () => (isOpen ? first().chance : null),
    rank: VERDICTS.indexOf(verdict) + 0.99 * (1 - pressing),
  };
}

/**
 * The strictest interval that speaks for this vehicle, is not doubted, and has passed, whichever school is followed;
 * null where none has.
 */
export const whenOn = (path: UsagePath, day: number): WhenFact => ({ day, km: distanceAtDay(path, day) });
