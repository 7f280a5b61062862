import { closureOf, type Operations } from '../access/access.ts';

/** One thing to do: what it takes, and what it costs to do it in each month. Any one money. */
export interface PlanItem {
  /** Operations that it takes directly; what gives access to them is added. */
  readonly operations: readonly string[];
  /** Minutes beside them. */
  readonly ownMinutes: number;
  /** Counts against a visit's budget; it stands in `byMonth` already. */
  readonly parts: number;
  /** Cost of doing it in each month, labour apart; Infinity where it may not be done then. */
  readonly byMonth: readonly number[];
  /** Cost of not doing it within the horizon. */
  readonly later: number;
  /** The month it must be done in; null where it may be any. */
  readonly pin: number | null;
  /** The last month it may be done in; null where it may be left. */
  readonly deadline: number | null;
  /** The first month it may be done in. */
  readonly notBefore?: number;
}

/** Question of a plan. Month `months` stands for later. */
export interface PlanQuestion {
  readonly operations: Operations;
  readonly items: readonly PlanItem[];
  readonly months: number;
  /** Cost of a visit whatever is done on it. */
  readonly visitCost: number;
  readonly labourPerMinute: number;
  /** Most minutes of a visit; null where there is no limit. */
  readonly capacity: number | null;
  /** Most that a visit may cost, parts and all; null where there is no limit. */
  readonly budget: number | null;
  /** Most that the visits of one year may cost together; years are twelve months from now on. */
  readonly yearBudget?: number | null;
}

/** Months of a year, within which a yearly budget is spent. */
export const YEAR_MONTHS = 12;

/** Tells whether an item may be done in a month, or left for later. */
export const mayStand = ({ pin, deadline, notBefore = 0, byMonth }: PlanItem, month: number): boolean =>
  (pin === null || pin === month) &&
  (deadline === null || month <= deadline) &&
  month >= notBefore &&
  byMonth[month] !== Infinity;

/** Items whose operations are the same merged, and what one item alone needs put into its own minutes. */
export interface Reduced {
  readonly own: Float64Array;
  /** Groups of operations that the same items share: their minutes, and by item which groups it needs. */
  readonly groupMinutes: Float64Array;
  readonly groupsOf: readonly Int32Array[];
}

/** A plan: the month of each item. */
export interface Plan {
  readonly months: readonly number[];
  readonly cost: number;
}

/** Items that would stand on one visit of a month. */
export interface VisitSet {
  readonly month: number;
  readonly items: readonly number[];
}

/** State of a plan. */
export interface PlanStanding {
  readonly cost: number;
  readonly feasible: boolean;
}

/** Money and minutes nearer to each other than this are the same. */
export const EPSILON = 1e-9;

/** Throws RangeError naming what does not fit together. */
export function mustFit({ items, months, capacity, budget, yearBudget = null }: PlanQuestion): void {
  if (!(Number.isInteger(months) && months >= 1)) throw new RangeError('months must be a whole number of at least 1');
  items.forEach((item, i) => {
    if (item.byMonth.length !== months) throw new RangeError(`items.${i}.byMonth needs one cost for each month`);
    const { pin, deadline, notBefore = 0 } = item;
    if (pin !== null && !(pin >= 0 && pin < months)) throw new RangeError(`items.${i}.pin lies outside of the months`);
    if (deadline !== null && deadline < notBefore)
      throw new RangeError(`items.${i}.deadline lies before it may be done`);
    if (pin !== null && (pin < notBefore || (deadline !== null && pin > deadline)))
      throw new RangeError(`items.${i}.pin lies outside of what its limits allow`);
  });
  if (capacity !== null && !(capacity > 0)) throw new RangeError('capacity must be positive');
  if (budget !== null && !(budget > 0)) throw new RangeError('budget must be positive');
  if (yearBudget !== null && !(yearBudget > 0)) throw new RangeError('yearBudget must be positive');
}

/** Merges operations with the same users, and folds what only one item needs into that item's minutes. */
export function reduce({ operations, items }: PlanQuestion): Reduced {
  const users = new Map<string, number[]>();
  items.forEach(({ operations: keys }, i) => {
    for (const key of closureOf(operations, keys)) users.set(key, [...(users.get(key) ?? []), i]);
  });
  const ownMinutes = Float64Array.from(items, ({ ownMinutes }) => ownMinutes);
  const groups = new Map<string, { minutes: number; readonly users: readonly number[] }>();
  for (const [key, by] of users) {
    const { minutes } = operations.get(key)!;
    if (by.length === 1) ownMinutes[by[0]!]! += minutes;
    else {
      const name = by.join(' ');
      const group = groups.get(name) ?? { minutes: 0, users: by };
      group.minutes += minutes;
      groups.set(name, group);
    }
  }
  const list = [...groups.values()];
  return {
    own: ownMinutes,
    groupMinutes: Float64Array.from(list, ({ minutes }) => minutes),
    groupsOf: items.map((_, i) => Int32Array.from(list.flatMap((group, g) => (group.users.includes(i) ? [g] : [])))),
  };
}

/** Cost and feasibility of a given plan: months, minutes and money of every visit within their limits, pins kept. */
export function planStanding(question: PlanQuestion, months: readonly number[]): PlanStanding {
  const { operations, items, visitCost, labourPerMinute, capacity, budget, yearBudget = null } = question;
  let cost = 0;
  let feasible = true;
  const spent = new Float64Array(Math.ceil(question.months / YEAR_MONTHS));
  items.forEach((item, i) => {
    const month = months[i]!;
    cost += month === question.months ? item.later : item.byMonth[month]!;
    if (!mayStand(item, month)) feasible = false;
  });
  for (let month = 0; month < question.months; month += 1) {
    const here = items.filter((_, i) => months[i] === month);
    if (here.length === 0) continue;
    const keys = closureOf(operations, [...new Set(here.flatMap(({ operations: of }) => of))]);
    const minutes =
      keys.reduce((sum, key) => sum + operations.get(key)!.minutes, 0) +
      here.reduce((sum, { ownMinutes }) => sum + ownMinutes, 0);
    const visit = visitCost + labourPerMinute * minutes;
    cost += visit;
    if (capacity !== null && minutes > capacity + EPSILON) feasible = false;
    const money = visit + here.reduce((sum, { parts }) => sum + parts, 0);
    const year = Math.floor(month / YEAR_MONTHS);
    spent[year]! += money;
    if (budget !== null && money > budget + EPSILON) feasible = false;
    if (yearBudget !== null && spent[year]! > yearBudget + EPSILON) feasible = false;
  }
  return { cost, feasible };
}
