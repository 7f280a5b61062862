import { KEPT_DAYS } from '../money/failure.ts';
import { failedAfterRenewal, failedByDay, type Forecast, type ItemForecast } from '../forecast/forecast.ts';

/** Days of a month of the planner: twelve to a year. */
export const PLAN_MONTH_DAYS = 30.4375;

/** Days between two points at which a cost is summed up. */
const STEP_DAYS = 15;
/** Months beyond the horizon that "later" looks through. */
const BEYOND = 12;

/** Cost of something, by where the money goes; any one money. */
export interface CostParts {
  /** Failures that are expected before it is done, repair and all. */
  readonly failures: number;
  readonly parts: number;
  /** Life of the successor that is used up within the time that is looked at. */
  readonly wear: number;
}

/** Cost of doing something first in each month, labour of the visit apart, and of leaving it. */
export interface ItemCosts {
  /** The least of all months is 0; Infinity where it may not be done. */
  readonly byMonth: readonly number[];
  readonly later: number;
  /** The same in full, by month and, last, for later. */
  readonly told: readonly CostParts[];
}

const NOTHING: CostParts = { failures: 0, parts: 0, wear: 0 };

/** Money of a renewal: its parts, its labour alone, and what a failure costs beyond both. */
export interface RenewalMoney {
  readonly parts: number;
  readonly labour: number;
  readonly failure: number;
  /** It may be left until it fails: nothing grave comes of that. */
  readonly canLeave: boolean;
}

/** Months for which an owner is taken to keep a vehicle where nobody says. */
const KEPT_MONTHS = KEPT_DAYS / PLAN_MONTH_DAYS;

/** Length of a plan, and whether the vehicle is kept beyond it; months of the planner. */
export interface PlanSpan {
  readonly months: number;
  /** Months for which the owner keeps it, if known and within the plan; else null. */
  readonly keptMonths: number | null;
}

/**
 * Long-run cost a day of a part that is always renewed at its best age, from the chances of one put in new: the least
 * over ages of [planned (1 - F) + failure F] / time lived, within the forecast; age replacement (Barlow and Proschan
 * 1965). 0 for what never fails.
 */
function longRunRate(forecast: Forecast, item: ItemForecast, planned: number, failing: number): number {
  const last = forecast.ahead[forecast.ahead.length - 1]!;
  const failed = (age: number): number => failedAfterRenewal(forecast, item, forecast.nowDay, forecast.nowDay + age);
  let lived = 0;
  let before = 1;
  let best = Infinity;
  for (let age = STEP_DAYS; age <= last; age += STEP_DAYS) {
    const alive = 1 - failed(age);
    lived += ((before + alive) / 2) * STEP_DAYS;
    before = alive;
    best = Math.min(best, (planned * alive + failing * (1 - alive)) / lived);
  }
  return before > 1 - 1e-9 ? 0 : best;
}

const sumOf = ({ failures, parts, wear }: CostParts): number => failures + parts + wear;

/** Costs by month of which the least is 0, from costs in full, and of all ways of putting it off. */
function beside(byMonth: readonly CostParts[], off: readonly CostParts[]): ItemCosts {
  const later = off.reduce((least, one) => (sumOf(one) < sumOf(least) ? one : least));
  const least = Math.min(...byMonth.map(sumOf), sumOf(later));
  return { byMonth: byMonth.map((one) => sumOf(one) - least), later: sumOf(later) - least, told: [...byMonth, later] };
}

/**
 * Cost of renewing first in each month, labour of the visit apart, against its successors at their best pace:
 * c_f F(t) + c_parts (1 - F(t)) - g int_0^t (1 - F), where F is this part's own chance of having failed by then, as
 * the forecast has it with all that is known, and g the long-run rate of parts like it. Each less the least of all, so
 * that doing it at its best costs nothing. `later` is the least of renewing it in the year beyond the horizon, and,
 * where nothing grave comes of it, of leaving it until it fails within the five years that a vehicle is kept: c_f F(T),
 * with no renewal at the end.
 *
 * Of a vehicle that is given away within the horizon only what fails until then counts: c_f [F(t) + (1 - F(t)) Fn(T -
 * t)] + c_parts (1 - F(t)) with Fn of a part put in new and T the end; left for later it is c_f F(T).
 */
export function renewalCosts(
  forecast: Forecast,
  item: ItemForecast,
  { parts, labour, failure, canLeave }: RenewalMoney,
  { months, keptMonths }: PlanSpan,
): ItemCosts {
  const planned = labour + parts;
  // A failure is repaired on a visit of its own: its labour comes on top of what it costs beyond the planned work.
  const failing = planned + failure;
  const failedBy = (days: number): number => failedByDay(forecast, item, forecast.nowDay + days);
  if (keptMonths !== null) {
    const end = keptMonths * PLAN_MONTH_DAYS;
    const byMonth = Array.from({ length: months }, (_, month): CostParts => {
      const days = month * PLAN_MONTH_DAYS;
      if (days >= end) return { failures: Infinity, parts: 0, wear: 0 };
      const failed = failedBy(days);
      const again = failedAfterRenewal(forecast, item, forecast.nowDay + days, forecast.nowDay + end);
      return { failures: failing * (failed + (1 - failed) * again), parts: parts * (1 - failed), wear: 0 };
    });
    return beside(byMonth, [{ failures: failing * failedBy(end), parts: 0, wear: 0 }]);
  }
  const rate = longRunRate(forecast, item, planned, failing);
  const until = Math.min((months + BEYOND) * PLAN_MONTH_DAYS, forecast.ahead[forecast.ahead.length - 1]!);
  const lived: number[] = [];
  const failed: number[] = [];
  let sum = 0;
  let before = 1;
  let at = 0;
  for (let month = 0; month * PLAN_MONTH_DAYS <= until; month += 1) {
    const days = month * PLAN_MONTH_DAYS;
    for (; at < days; at = Math.min(days, at + STEP_DAYS)) {
      const step = Math.min(STEP_DAYS, days - at);
      const alive = 1 - failedBy(at + step);
      sum += ((before + alive) / 2) * step;
      before = alive;
    }
    lived.push(sum);
    failed.push(1 - before);
  }
  // Successors live from each renewal to the end of what is looked at; what is left of life is not lost by it.
  const all = lived.map((of, month): CostParts => ({
    failures: failing * failed[month]!,
    parts: parts * (1 - failed[month]!),
    wear: rate * (sum - of),
  }));
  const beyond = all.slice(months).map((one) => ({ ...one, parts: one.parts + labour }));
  const left: CostParts = { failures: failing * failedBy(KEPT_MONTHS * PLAN_MONTH_DAYS), parts: 0, wear: 0 };
  return beside(all.slice(0, months), canLeave ? [...beyond, left] : beyond);
}

/**
 * Foresight of a look: its chance to see a failure coming, the days of warning, the cost of a failure beyond the
 * renewal, and of the renewal.
 */
export interface LookMoney {
  readonly detection: number;
  readonly warningDays: number;
  readonly failure: number;
  readonly renewal: number;
  /** Nothing else in the plan counts what fails of it: then all that is expected to fail stands with it. */
  readonly isAlone: boolean;
}

/**
 * Chance that a look so many days ahead finds it worn: r (F(t + L) - F(t)), what would fail within its warning time L
 * and is seen with chance r; today also what has failed already and is still in there.
 */
export const foundWorn = (
  forecast: Forecast,
  item: ItemForecast,
  { detection, warningDays }: Pick<LookMoney, 'detection' | 'warningDays'>,
  days: number,
): number => {
  const by = (ahead: number): number => failedByDay(forecast, item, forecast.nowDay + ahead);
  return detection * Math.max(0, by(days + warningDays) - by(days));
};

/**
 * Cost of a look first in each month, its labour apart: it saves r (F(t + L) - F(t)) times what a failure costs beyond
 * the planned renewal, where it finds with chance r what would fail within its warning time L. Not looking costs
 * nothing, so that a look is worth its while where it lowers the sum. Where nothing else in the plan counts what fails
 * of it, that stands with it: the renewal whether it was found or failed, and what a failure costs beyond.
 */
export function lookCosts(
  forecast: Forecast,
  item: ItemForecast,
  { detection, warningDays, failure, renewal, isAlone }: LookMoney,
  { months, keptMonths }: PlanSpan,
): ItemCosts {
  const end = (keptMonths ?? Infinity) * PLAN_MONTH_DAYS;
  const whole = Math.min(keptMonths ?? months, months) * PLAN_MONTH_DAYS;
  const all = isAlone ? (failure + renewal) * failedByDay(forecast, item, forecast.nowDay + whole) : 0;
  const byMonth = Array.from({ length: months }, (_, month) => {
    const from = month * PLAN_MONTH_DAYS;
    if (from >= end) return Infinity;
    const by = (days: number): number => failedByDay(forecast, item, forecast.nowDay + days);
    return -detection * failure * (by(Math.min(end, from + warningDays)) - by(from));
  });
  return {
    byMonth,
    later: 0,
    told: [...byMonth, 0].map((cost) => ({ ...NOTHING, failures: all + (Number.isFinite(cost) ? cost : 0) })),
  };
}

/** A recurring task on one vehicle. */
export interface TaskMoney {
  /** Months from now on which it is due, whole or not; below 0 where it is overdue. */
  readonly dueMonth: number;
  readonly everyMonths: number | null;
  readonly labour: number;
  /**
   * Weak points that it protects: how many times as fast each wears while the task is overdue, and
   * the cost of its failure.
   */
  readonly protects: readonly { readonly forecast: ItemForecast; readonly factor: number; readonly failure: number }[];
}

/**
 * Cost of a recurring task first done in each month, its labour apart. Early, it gives away the part of its interval
 * that is left; late, what it protects wears faster: (factor - 1) (F(t) - F(due)) times what a failure costs.
 */
export function taskCosts(
  forecast: Forecast,
  { dueMonth, everyMonths, labour, protects }: TaskMoney,
  { months, keptMonths }: PlanSpan,
): ItemCosts {
  const failed = (item: ItemForecast, month: number): number =>
    failedByDay(forecast, item, forecast.nowDay + month * PLAN_MONTH_DAYS);
  const neglect = (month: number): number =>
    protects.reduce(
      (sum, { forecast: item, factor, failure }) =>
        sum + (factor - 1) * failure * Math.max(0, failed(item, month) - failed(item, Math.max(0, dueMonth))),
      0,
    );
  const early = (month: number): number =>
    everyMonths === null || month >= dueMonth ? 0 : (labour * (dueMonth - month)) / everyMonths;
  const end = Math.min(months, keptMonths ?? months);
  const costByMonth = Array.from({ length: months }, (_, month): CostParts => ({
    failures: neglect(month),
    parts: 0,
    wear: early(month),
  }));
  const later = dueMonth < end ? neglect(end) : 0;
  return {
    byMonth: costByMonth.map((one, month) => (month < end ? sumOf(one) : Infinity)),
    later,
    told: [...costByMonth, { ...NOTHING, failures: later }],
  };
}
