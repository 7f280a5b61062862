import { failedByDay, failedAfterRenewal, type Forecast, type ItemForecast } from '../forecast/forecast.ts';
import { planVisits, type KnownPlan, type PlanningOptions } from './plan.ts';
import { planStanding, type PlanItem, type PlanQuestion } from './question.ts';

/** Days of a month of the planner: twelve to a year. */
export const PLAN_MONTH_DAYS = 30.4375;

/** Something that may be put on a visit. Any one money. */
export interface ProposalItem {
  readonly key: string;
  /** Operations that it takes directly, and minutes beside them. */
  readonly operations: readonly string[];
  readonly ownMinutes: number;
  /** Parts of the planned work; what a failure costs beyond it. */
  readonly parts: number;
  readonly failure: number;
  /** What lies ahead of it; null for what does not fail: a look, a recurring task. */
  readonly forecast: ItemForecast | null;
  /** Day by which it is asked for, or was; null where nothing asks for it. */
  readonly dueDay: number | null;
  readonly pin: number | null;
}

/** What is planned for: how far ahead, and what a visit costs and may take. */
export interface ProposalTerms {
  readonly months: number;
  readonly visitCost: number;
  readonly labourPerMinute: number;
  readonly capacity: number | null;
  readonly budget: number | null;
}

/** A vehicle as it is planned for. */
export interface ProposalGround {
  readonly forecast: Forecast;
  readonly operations: PlanQuestion['operations'];
  /** Each with the minutes that it takes by itself, with all its access. */
  readonly items: readonly (ProposalItem & { readonly aloneMinutes: number })[];
}

/** Days between two points at which a cost is summed up. */
const STEP_DAYS = 15;

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

/**
 * Cost of doing an item first in each month, labour of the visit apart, against its successors at their best pace:
 * c_f F(t) + c_parts (1 - F(t)) - g int_0^t (1 - F), where F is this part's own chance of having failed by then, as
 * the forecast has it with all that is known, and g the long-run rate of parts like it. Each less the least of all, so
 * that doing it at its best costs nothing. `later` is the least of the year beyond the horizon.
 */
export function itemCosts(
  forecast: Forecast,
  { forecast: item, parts, failure, ownMinutes }: Pick<ProposalItem, 'forecast' | 'parts' | 'failure' | 'ownMinutes'>,
  {
    months,
    labourPerMinute,
    aloneMinutes,
  }: Pick<ProposalTerms, 'months' | 'labourPerMinute'> & { readonly aloneMinutes: number },
): { readonly byMonth: number[]; readonly later: number } {
  if (item === null) return { byMonth: Array.from({ length: months }, () => 0), later: 0 };
  const labour = labourPerMinute * Math.max(aloneMinutes, ownMinutes);
  const planned = labour + parts;
  const failing = planned + failure;
  const rate = longRunRate(forecast, item, planned, failing);
  const until = Math.min((months + 12) * PLAN_MONTH_DAYS, forecast.ahead[forecast.ahead.length - 1]!);
  const costs: number[] = [];
  let lived = 0;
  let before = 1;
  let at = 0;
  for (let month = 0; month * PLAN_MONTH_DAYS <= until; month += 1) {
    const days = month * PLAN_MONTH_DAYS;
    for (; at < days; at = Math.min(days, at + STEP_DAYS)) {
      const step = Math.min(STEP_DAYS, days - at);
      const alive = 1 - failedByDay(forecast, item, forecast.nowDay + at + step);
      lived += ((before + alive) / 2) * step;
      before = alive;
    }
    // A failure is repaired on a visit of its own: its labour comes on top of what it costs beyond the planned work.
    costs.push(failing * (1 - before) + parts * before - rate * lived);
  }
  const least = Math.min(...costs.map((cost, month) => (month < months ? cost : cost + labour)));
  const later = Math.min(...costs.slice(months).map((cost) => cost + labour));
  return { byMonth: costs.slice(0, months).map((cost) => cost - least), later: later - least };
}

/** Proposed visits, and what they cost beside other ways. */
export interface Proposal {
  /** In the order of their months; items by key. */
  readonly visits: readonly { readonly month: number; readonly day: number; readonly keys: readonly string[] }[];
  /** What the plan leaves for later. */
  readonly later: readonly string[];
  readonly cost: number;
  /** No plan costs less than this. */
  readonly bound: number;
  readonly proven: boolean;
  /** The same things, each on its own best date; all at once now; nothing until it fails, where nothing is due. */
  readonly apart: number;
  readonly allNow: number;
  readonly wait: number;
}

/** The planner's question for a vehicle. */
export function proposalQuestion({ forecast, operations, items }: ProposalGround, terms: ProposalTerms): PlanQuestion {
  return {
    ...terms,
    operations,
    items: items.map((item): PlanItem => {
      const { byMonth, later } = itemCosts(forecast, item, { ...terms, aloneMinutes: item.aloneMinutes });
      const due = item.dueDay === null ? null : Math.floor((item.dueDay - forecast.nowDay) / PLAN_MONTH_DAYS);
      const deadline = due === null || due >= terms.months ? null : Math.max(0, due);
      return {
        operations: item.operations,
        ownMinutes: item.ownMinutes,
        parts: item.parts,
        byMonth,
        later: deadline === null ? later : 0,
        pin: item.pin,
        deadline: item.pin === null ? deadline : null,
      };
    }),
  };
}

/**
 * Visits that cost least over the months ahead: what is due by its day, everything else where it is cheapest beside
 * what is open anyway, or later. Null where something fits on no visit. Throws RangeError as the planner does.
 */
export function proposeVisits(ground: ProposalGround, terms: ProposalTerms, options: PlanningOptions): Proposal | null {
  const { forecast, items } = ground;
  const question = proposalQuestion(ground, terms);
  const plan: KnownPlan | null = planVisits(question, options);
  if (plan === null) return null;
  const open = { ...question, capacity: null, budget: null };
  const standing = (months: readonly number[]): number => planStanding(open, months).cost;
  const allowed = (item: PlanItem, month: number): boolean =>
    (item.pin === null || item.pin === month) && (item.deadline === null || month <= item.deadline);
  const own = question.items.map((item, i) => {
    const visit = terms.visitCost + terms.labourPerMinute * items[i]!.aloneMinutes;
    let best = item.pin ?? (item.deadline === null ? terms.months : 0);
    const cost = (month: number): number => (month === terms.months ? item.later : item.byMonth[month]! + visit);
    for (let month = 0; month < terms.months; month += 1)
      if (allowed(item, month) && cost(month) < cost(best)) best = month;
    return best;
  });
  // Each on its own date comes in by itself, even where two dates fall into one month.
  const apart = question.items.reduce((sum, item, i) => {
    const month = own[i]!;
    return month === terms.months
      ? sum + item.later
      : sum + item.byMonth[month]! + terms.visitCost + terms.labourPerMinute * items[i]!.aloneMinutes;
  }, 0);
  const months = new Map<number, string[]>();
  plan.months.forEach((month, i) => months.set(month, [...(months.get(month) ?? []), items[i]!.key]));
  return {
    visits: [...months]
      .filter(([month]) => month < terms.months)
      .sort(([a], [b]) => a - b)
      .map(([month, keys]) => ({ month, day: dayOfMonth(forecast.nowDay, items, keys, month), keys })),
    later: months.get(terms.months) ?? [],
    cost: plan.cost,
    bound: plan.bound,
    proven: plan.proven,
    apart,
    allNow: standing(question.items.map(() => 0)),
    wait: standing(question.items.map((item) => item.pin ?? item.deadline ?? terms.months)),
  };
}

/** A visit stands in the middle of its month, or before the first of its things is due; never before tomorrow. */
function dayOfMonth(nowDay: number, items: readonly ProposalItem[], keys: readonly string[], month: number): number {
  const due = items.filter(({ key }) => keys.includes(key)).flatMap(({ dueDay }) => (dueDay === null ? [] : [dueDay]));
  const middle = nowDay + Math.round((month + 0.5) * PLAN_MONTH_DAYS);
  return Math.max(nowDay + 1, Math.min(middle, ...due));
}
