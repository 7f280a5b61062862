import { workOfJob, workTogether } from '../access/together.ts';
import type { Forecast } from '../forecast/forecast.ts';
import { countedPrice, failureCost, renewalCost, type CostPolicy } from '../money/failure.ts';
import { labourCost } from '../money/labour.ts';
import type { Group } from '../outlook/types.ts';
import type { StatementAsks } from '../schools/statements.ts';
import type { Span } from '../shorthand/window.ts';
import { isGrave, SURE_LOOK } from '../decision/decide.ts';
import { YOUNG_PART } from '../history/custom.ts';
import { asksForWork, type Consequence, type Verdict } from '../decision/kinds.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { lookKey, pointKey } from './keys.ts';
import type { DraftItem, ProposalGround } from './proposal.ts';
import type { ProposalTerms } from './terms.ts';
import { daysOf, upkeepItems, type ToldTask } from './upkeep-items.ts';

/** A weak point as an answer tells it, as far as visits are planned by it. */
export interface ToldPoint {
  readonly weakPointId: string;
  readonly verdict: Verdict;
  readonly group: Group;
  readonly consequence: Consequence;
  readonly safety: boolean;
  readonly watch: unknown;
  readonly due: { readonly day: number } | null;
  readonly component: string;
  /** The job that it goes along with. */
  readonly rides: { readonly weakPointId: string } | null;
  /** Components that go in new with it, by name; null where nobody tells its work. */
  readonly work: { readonly renewWith: readonly string[] } | null;
  readonly installs: readonly { readonly certainty: string; readonly day: number }[];
  readonly failure: { readonly parts: number; readonly minutes: number } | null;
  readonly operation: string | null;
  readonly renewMinutes: number;
  readonly partPrice: number | null;
  readonly usualPrice?: number | null | undefined;
  readonly look: {
    readonly minutes: number;
    readonly off?: readonly string[] | undefined;
    readonly detection: number;
    readonly warning: readonly Span[];
  } | null;
  /** Statements about it. */
  readonly authorities: readonly {
    readonly asks: StatementAsks;
    readonly interval: readonly Span[];
    readonly doubted?: boolean | undefined;
    /** Null where it speaks for this vehicle. */
    readonly setAside: unknown;
  }[];
}

/** A vehicle as an answer tells it. */
export interface ToldVehicle {
  readonly forecast: Forecast;
  readonly operations: ProposalGround['operations'];
  readonly points: readonly ToldPoint[];
  readonly tasks: readonly ToldTask[];
  readonly rateKmPerDay: number;
  /** Entries of planned visits, by weak point: the plan keeps them. */
  readonly standing: ReadonlyMap<string, 'renew' | 'look'>;
  /** It was just bought: upkeep of which nobody knows when it was last done is done soon, not at the next service. */
  readonly isBought: boolean;
  /**
   * True to include every renewal, also those that nobody would propose: for what else could be
   * done while it is apart.
   */
  readonly isEveryRenewal: boolean;
}

/** Consequences that an inspection finds fault with, beside whatever is a matter of safety. */
const INSPECTED: readonly Consequence[] = ['leak', 'emissions'];
/** Days of the renewal intervals that count for this vehicle, the shortest; null where nobody gives one. */
function customDays({ authorities }: ToldPoint, rateKmPerDay: number): number | null {
  const spans = authorities.flatMap(({ asks, interval, doubted, setAside }) =>
    asks === 'renew' && doubted !== true && setAside === null ? interval : [],
  );
  return daysOf(spans, rateKmPerDay);
}

/** A look is cheap where it takes, with all that comes off for it, at most this part of the minutes of the renewal. */
const CHEAP_LOOK = 1 / 4;

/** A cheap and sure look settles whether it must be renewed: a chain is measured, and renewed if it is found worn. */
function isSettledByALook({ look, renewMinutes }: ToldPoint, { operations }: ToldVehicle): boolean {
  if (look === null || look.detection < SURE_LOOK) return false;
  const { minutes } = workTogether(operations, [{ operations: look.off ?? [], own: look.minutes }]);
  return minutes <= CHEAP_LOOK * renewMinutes;
}

/**
 * A renewal that nothing asks for yet may stand in a plan where the date of the school that is followed lies within it:
 * not where it is watched, or can be looked at and has no interval, or where a cheap look settles it.
 */
function isPlannedAhead(point: ToldPoint, told: ToldVehicle, months: number): boolean {
  const { forecast, rateKmPerDay } = told;
  const until = forecast.nowDay + months * PLAN_MONTH_DAYS;
  if (asksForWork(point.verdict) || point.verdict === 'ride_along' || point.verdict === 'watch') return false;
  if (point.due === null || point.due.day >= until) return false;
  return !isSettledByALook(point, told) && (point.look === null || customDays(point, rateKmPerDay) !== null);
}

/** A renewal that is asked for, or that a plan may hold. */
const isJob = (point: ToldPoint, told: ToldVehicle, months: number): boolean =>
  (asksForWork(point.verdict) && point.verdict !== 'look') ||
  point.verdict === 'ride_along' ||
  isPlannedAhead(point, told, months);

/**
 * The job that names a part as new which was not renewed of late: a job that is only planned, or one before which the
 * part is looked at.
 */
function jobBehind(point: ToldPoint, told: ToldVehicle, months: number): ToldPoint | null {
  if (point.verdict !== 'run_on' && point.verdict !== 'look') return null;
  return (
    told.points.find((job) => {
      if (!job.work?.renewWith.includes(point.component) || !isJob(job, told, months)) return false;
      const [install] = point.installs;
      const custom = customDays(point, told.rateKmPerDay) ?? customDays(job, told.rateKmPerDay);
      const isYoung =
        install?.certainty === 'done' &&
        custom !== null &&
        (job.due?.day ?? told.forecast.nowDay) - install.day < YOUNG_PART * custom;
      return !isYoung;
    }) ?? null
  );
}

/** The work of one action on a weak point. */
function workOf(
  point: ToldPoint,
  told: ToldVehicle,
  action: 'renew' | 'look',
): Pick<DraftItem, 'operations' | 'ownMinutes'> {
  const { look, operation } = point;
  const { operations, own } = workOfJob({
    action,
    operation: operation !== null && told.operations.has(operation) ? operation : null,
    renewMinutes: point.renewMinutes,
    look: look && { minutes: look.minutes, off: look.off ?? [] },
  });
  return { operations: operations.filter((key) => told.operations.has(key)), ownMinutes: own };
}

/**
 * What a plan holds of one weak point: what the decision on it asks for, what goes along with such a job, what the
 * school that is followed renews within the plan, or a look that may pay. Everything else is left, and what fails of
 * it counts.
 */
function pointItems(
  point: ToldPoint,
  told: ToldVehicle,
  { policy, months }: { readonly policy: CostPolicy<Consequence>; readonly months: number },
): DraftItem[] {
  const { weakPointId, look } = point;
  const known = told.forecast.items.find((item) => item.weakPointId === weakPointId) ?? null;
  const stands = told.standing.get(weakPointId) ?? null;
  const failure = failureCost(point, policy);
  const common = {
    isCooling: point.group === 'cooling',
    isInspected: point.safety || INSPECTED.includes(point.consequence),
    notBeforeDay: null,
    before: null,
    goesWith: null,
    isOnlyByHand: false,
  };
  const asked = asksForWork(point.verdict) || point.verdict === 'ride_along' ? (point.due?.day ?? null) : null;
  const renewal = (dueDay: number | null, goesWith: string | null = null): DraftItem[] =>
    known === null
      ? []
      : [
          {
            ...common,
            key: pointKey(weakPointId),
            ...workOf(point, told, 'renew'),
            dueDay,
            goesWith,
            money: {
              kind: 'renew',
              forecast: known,
              parts: countedPrice(point),
              failure,
              canLeave: dueDay === null && !isGrave(point),
            },
          },
        ];
  const looking = (dueDay: number | null, before: string | null, isAlone = before === null): DraftItem[] =>
    look === null
      ? []
      : [
          {
            ...common,
            key: lookKey(weakPointId),
            ...workOf(point, told, 'look'),
            dueDay,
            before,
            money: {
              kind: 'look',
              forecast: known,
              detection: look.detection,
              warningDays: daysOf(look.warning, told.rateKmPerDay) ?? told.forecast.serviceDays,
              failure,
              renewal: renewalCost(point, policy),
              isAlone,
            },
          },
        ];
  if (stands !== null) return stands === 'look' ? looking(asked, null) : renewal(asked);
  if (told.isEveryRenewal) return renewal(asked);
  const behind = jobBehind(point, told, months);
  const beside = behind === null ? [] : renewal(null, pointKey(behind.weakPointId));
  if (point.verdict === 'look') {
    // A look that nothing dates and of which nothing is known has nothing to say.
    return known === null && asked === null ? [] : [...looking(asked, null, beside.length === 0), ...beside];
  }
  if (asksForWork(point.verdict)) return renewal(asked);
  if (point.verdict === 'ride_along' && point.rides !== null) return renewal(asked, pointKey(point.rides.weakPointId));
  if (beside.length > 0) return beside;
  if (isPlannedAhead(point, told, months)) return [...renewal(null), ...looking(null, pointKey(weakPointId))];
  if (known === null) return [];
  return look === null ? renewal(null).map((item) => ({ ...item, isOnlyByHand: true })) : looking(null, null);
}

/**
 * A vehicle as the planner takes it: weak points that may be renewed, looks that are asked for or may pay, and upkeep
 * as often as it falls due over the months. What does not apply any more, and what nobody renews, is left out.
 */
export function proposalGround(
  told: ToldVehicle,
  { months, policy }: { readonly months: ProposalTerms['months']; readonly policy: CostPolicy<Consequence> },
): ProposalGround {
  const drafts = [
    ...told.points
      .filter(({ verdict, watch }) => verdict !== 'behind_it' && watch === null)
      .flatMap((point) => pointItems(point, told, { policy, months })),
    ...upkeepItems(told.tasks, {
      forecast: told.forecast,
      rateKmPerDay: told.rateKmPerDay,
      isBought: told.isBought,
      months,
      failureOf: (weakPointId) => {
        const point = told.points.find((one) => one.weakPointId === weakPointId);
        return point === undefined ? null : failureCost(point, policy);
      },
    }),
  ];
  return {
    forecast: told.forecast,
    operations: told.operations,
    items: drafts.map((draft) => ({
      ...draft,
      aloneMinutes: workTogether(told.operations, [{ operations: draft.operations, own: draft.ownMinutes }]).minutes,
    })),
  };
}

/** Minutes that a visit takes beside the work: taking it in, the lift, giving it back. A view of the trade. */
export const VISIT_MINUTES = 30;

/** Default terms of a plan: no limits, cooling before the heat. A visit costs workshop and owner their time. */
export const usualTerms = (
  months: number,
  { labourCostPerHour, visitOwnerCost }: { readonly labourCostPerHour: number; readonly visitOwnerCost: number },
): ProposalTerms => ({
  months,
  keptMonths: null,
  visitCost: labourCost(VISIT_MINUTES, labourCostPerHour) + visitOwnerCost,
  labourPerMinute: labourCost(1, labourCostPerHour),
  capacity: null,
  budget: null,
  yearBudget: null,
  coolingBeforeSummer: true,
  events: [],
  notBeforeDay: null,
});
