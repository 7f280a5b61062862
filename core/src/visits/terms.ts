import { dayFromDate, yearOfDay } from '../units/day.ts';
import { PLAN_MONTH_DAYS, type PlanSpan } from './item-costs.ts';

/** A day that something has to be done before: a trip, a roadworthiness inspection. Day numbers. */
export interface PlanEvent {
  readonly day: number;
  /** Day before which everything that is due by then is done. */
  readonly dueBy: number;
  /** Only what an inspection would find fault with. */
  readonly onlyInspected: boolean;
}

/** Terms of a plan: its length, the cost and length of a visit, and the limits to keep. */
export interface ProposalTerms extends PlanSpan {
  readonly visitCost: number;
  readonly labourPerMinute: number;
  /** Most minutes, and most money, of a visit; most money of a year's visits. */
  readonly capacity: number | null;
  readonly budget: number | null;
  readonly yearBudget: number | null;
  /** Cooling is done before the heat rather than in it. */
  readonly coolingBeforeSummer: boolean;
  readonly events: readonly PlanEvent[];
  /** First day on which it can come in; null where any will do. What is due before comes in then. */
  readonly notBeforeDay: number | null;
}

/** Limits on the months of one item. */
export interface Limited {
  readonly dueDay: number | null;
  readonly isCooling: boolean;
  readonly isInspected: boolean;
}

/** Calendar months of the heat on the northern half of the world: the first, and the first after it. */
const SUMMER = { from: 6, to: 9 } as const;
/**
 * Days after the beginning of summer within which due work is still done before it; a part of the
 * year.
 */
const SUMMER_REACH_DAYS = 183;

/** First day of the next summer that has not begun. */
function nextSummer(nowDay: number): number {
  const year = yearOfDay(nowDay);
  const here = dayFromDate(year, SUMMER.from, 1)!;
  return here > nowDay ? here : dayFromDate(year + 1, SUMMER.from, 1)!;
}

/** Tells whether the middle of a month of the planner lies in the heat. */
function isHot(nowDay: number, month: number): boolean {
  const day = nowDay + (month + 0.5) * PLAN_MONTH_DAYS;
  const year = yearOfDay(day);
  return day >= dayFromDate(year, SUMMER.from, 1)! && day < dayFromDate(year, SUMMER.to, 1)!;
}

/** The planner's month that a day lies in; below 0 for days that have passed. */
export const monthOfPlan = (nowDay: number, day: number): number => Math.floor((day - nowDay) / PLAN_MONTH_DAYS);

/**
 * The last day on which something may be done: the day by which it is asked for, the day before an event that comes
 * after it, the day before the heat for cooling that falls due in it or soon after. Null where nothing asks for it.
 */
export function latestDay(
  { dueDay, isCooling, isInspected }: Limited,
  { coolingBeforeSummer, events }: Pick<ProposalTerms, 'coolingBeforeSummer' | 'events'>,
  nowDay: number,
): number | null {
  if (dueDay === null) return null;
  const before = events
    .filter(({ dueBy, onlyInspected }) => dueDay <= dueBy && (!onlyInspected || isInspected))
    .map(({ day }) => day - 1);
  const summer = nextSummer(nowDay);
  const heat =
    coolingBeforeSummer && isCooling && dueDay >= summer && dueDay < summer + SUMMER_REACH_DAYS ? [summer - 1] : [];
  return Math.min(dueDay, ...before, ...heat);
}

/** Months in which something is not done because of the heat; none where it cannot wait for a cooler one. */
export function barredMonths(
  { isCooling }: Pick<Limited, 'isCooling'>,
  { coolingBeforeSummer, months }: Pick<ProposalTerms, 'coolingBeforeSummer' | 'months'>,
  { nowDay, deadline }: { readonly nowDay: number; readonly deadline: number | null },
): readonly boolean[] {
  const hot = Array.from({ length: months }, (_, month) => isCooling && coolingBeforeSummer && isHot(nowDay, month));
  return hot.slice(0, (deadline ?? months - 1) + 1).every(Boolean) ? hot.map(() => false) : hot;
}
