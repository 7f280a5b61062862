import { failedAfterRenewal, failedByDay } from '../forecast/forecast.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { moneyOf, type PreparedPlan, type Proposal, type ProposalItem } from './proposal.ts';
import { YEAR_MONTHS } from './question.ts';

/** Cost of a failure, and its chance. */
export interface Mishap {
  readonly chance: number;
  readonly cost: number;
}

/** Number of steps in a distribution of costs. */
const GRID = 600;

/**
 * Costs that a sum of mishaps, each coming of its own or not, stays under with some chances: the distribution of the
 * sum by convolution, on a grid of six hundred steps from nothing to all of them. Money.
 */
export function quantilesOf(mishaps: readonly Mishap[], chances: readonly number[]): readonly number[] {
  const most = mishaps.reduce((sum, { cost }) => sum + cost, 0);
  if (most <= 0) return chances.map(() => 0);
  const step = most / GRID;
  let sums = new Float64Array(GRID + 1);
  sums[0] = 1;
  for (const { chance, cost } of mishaps) {
    const next = new Float64Array(GRID + 1);
    // A cost between two steps is shared between them, so that the mean stays as it is.
    const [low, part] = [Math.floor(cost / step), cost / step - Math.floor(cost / step)];
    for (let at = 0; at <= GRID; at += 1) {
      const here = sums[at]!;
      if (here === 0) continue;
      next[at]! += here * (1 - chance);
      next[Math.min(GRID, at + low)]! += here * chance * (1 - part);
      next[Math.min(GRID, at + low + 1)]! += here * chance * part;
    }
    sums = next;
  }
  return chances.map((wanted) => {
    let under = 0;
    for (let at = 0; at <= GRID; at += 1) {
      under += sums[at]!;
      if (under >= wanted - 1e-12) return at * step;
    }
    return most;
  });
}

/**
 * Cost of one year with a vehicle: planned work, and expected failures beside it. Any one money.
 */
export interface YearCost {
  /** Visits with their labour, and parts. */
  readonly visits: number;
  readonly failures: number;
  /** Failures in one year of twenty are under the first, in one over the second. */
  readonly failuresLow: number;
  readonly failuresHigh: number;
  readonly total: number;
}

/** Quantiles of the cost: nine cases of ten lie between them. */
const LOW = 0.05;
const HIGH = 0.95;

/** What fails of a part counts with its renewal, or with a look where the plan holds no renewal of it. */
const countsFailures = ({ money }: ProposalItem): boolean => money.kind !== 'look' || money.isAlone;

/** Possible failures of one item between two days ahead, if it is renewed in a month or left. */
function mishapsOf(
  { ground: { forecast }, terms }: PreparedPlan,
  item: ProposalItem,
  month: number,
  [from, to]: readonly [number, number],
): Mishap[] {
  const { money } = item;
  if (money.kind === 'task' || money.forecast === null) return [];
  const failing = money.forecast;
  const day = (ahead: number): number => forecast.nowDay + ahead;
  const at = month * PLAN_MONTH_DAYS;
  if (money.kind === 'look') {
    const until = Math.min(to, at + money.warningDays);
    const seen = month < terms.months && until > Math.max(from, at);
    const found = seen
      ? money.detection *
        (failedByDay(forecast, failing, day(until)) - failedByDay(forecast, failing, day(Math.max(from, at))))
      : 0;
    const fails = failedByDay(forecast, failing, day(to)) - failedByDay(forecast, failing, day(from));
    return [
      { chance: Math.max(0, fails - found), cost: money.failure + money.renewal },
      { chance: found, cost: money.renewal },
    ];
  }
  const cost = terms.labourPerMinute * item.aloneMinutes + money.parts + money.failure;
  const renewed = month < terms.months ? at : Infinity;
  const old = Math.max(
    0,
    failedByDay(forecast, failing, day(Math.min(to, renewed))) - failedByDay(forecast, failing, day(from)),
  );
  if (renewed >= to) return [{ chance: old, cost }];
  const since = (ahead: number): number =>
    failedAfterRenewal(forecast, failing, day(renewed), day(Math.max(renewed, ahead)));
  return [{ chance: Math.min(1, old + since(to) - since(from)), cost }];
}

/** Cost of a plan in each year: its work, and its expected failures. */
export function yearsAhead(prepared: PreparedPlan, { months: plan }: Pick<Proposal, 'months'>): readonly YearCost[] {
  const { terms, items, looks } = prepared;
  const placed = [...items, ...looks].map((item, i) => ({ item, month: plan[i]! }));
  return Array.from({ length: Math.floor(terms.months / YEAR_MONTHS) }, (_, year): YearCost => {
    const first = year * YEAR_MONTHS;
    const here = placed.filter(({ month }) => month >= first && month < first + YEAR_MONTHS);
    const parts = here.reduce((sum, { item: { money } }) => sum + (money.kind === 'renew' ? money.parts : 0), 0);
    const visits = moneyOf(prepared, here).labour + parts;
    // A look that nothing asks for takes away from what the renewal beside it counts.
    const saved = here
      .filter(({ item }) => !countsFailures(item))
      .reduce((sum, { item, month }) => sum + prepared.costs.get(item.key)!.told[month]!.failures, 0);
    const days = [first * PLAN_MONTH_DAYS, (first + YEAR_MONTHS) * PLAN_MONTH_DAYS] as const;
    const mishaps = placed
      .filter(({ item }) => countsFailures(item))
      .flatMap(({ item, month }) => mishapsOf(prepared, item, month, days));
    const expected = mishaps.reduce((sum, { chance, cost }) => sum + chance * cost, 0);
    const [low, high] = quantilesOf(mishaps, [LOW, HIGH]);
    const failures = Math.max(0, expected + saved);
    return { visits, failures, failuresLow: low!, failuresHigh: high!, total: visits + failures };
  });
}

/** Cost of all months together, with the range of nine cases in ten. */
export function costSpread(prepared: PreparedPlan, proposal: Pick<Proposal, 'months'>): YearCost {
  const years = yearsAhead(prepared, proposal);
  const { terms, items } = prepared;
  const mishaps = items.flatMap((item, i) =>
    countsFailures(item) ? mishapsOf(prepared, item, proposal.months[i]!, [0, terms.months * PLAN_MONTH_DAYS]) : [],
  );
  const [low, high] = quantilesOf(mishaps, [LOW, HIGH]);
  const sum = (of: (year: YearCost) => number): number => years.reduce((all, year) => all + of(year), 0);
  return {
    visits: sum(({ visits }) => visits),
    failures: sum(({ failures }) => failures),
    failuresLow: low!,
    failuresHigh: high!,
    total: sum(({ total }) => total),
  };
}
