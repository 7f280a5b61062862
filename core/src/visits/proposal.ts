import type { Forecast, ItemForecast } from '../forecast/forecast.ts';
import {
  foundWorn,
  lookCosts,
  PLAN_MONTH_DAYS,
  renewalCosts,
  taskCosts,
  type CostParts,
  type ItemCosts,
  type LookMoney,
  type TaskMoney,
} from './item-costs.ts';
import { workTogether } from '../access/together.ts';
import {
  groupsOf,
  membersOf,
  mergeQuestion,
  spreadMonths,
  spreadSets,
  squeezeMonths,
  squeezeSets,
  type Groups,
} from './groups.ts';
import { planVisits, type PlanningOptions } from './plan.ts';
import { mayStand, planStanding, type PlanItem, type PlanQuestion, type VisitSet } from './question.ts';
import { searchPlan } from './search.ts';
import { barredMonths, latestDay, monthOfPlan, type Limited, type ProposalTerms } from './terms.ts';

/** Cost of an item, by its kind. Minutes of labour are apart. */
export type ItemMoney =
  | {
      readonly kind: 'renew';
      readonly forecast: ItemForecast;
      readonly parts: number;
      /** Cost of a failure beyond the planned work. */
      readonly failure: number;
      /** It may be left until it fails: nothing grave comes of that. */
      readonly canLeave: boolean;
    }
  | ({ readonly kind: 'look'; readonly forecast: ItemForecast | null } & LookMoney)
  | ({ readonly kind: 'task' } & Omit<TaskMoney, 'labour'>);

/** Something that may be put on a visit. Any one money. */
export interface ProposalItem extends Limited {
  readonly key: string;
  /** Operations that it takes directly, and minutes beside them. */
  readonly operations: readonly string[];
  readonly ownMinutes: number;
  /** Minutes that it takes by itself, with all its access. */
  readonly aloneMinutes: number;
  readonly money: ItemMoney;
  /** First day on which it is worth doing; null where any will do. */
  readonly notBeforeDay: number | null;
  /** A look that nothing asks for: it is proposed where it pays, before the renewal of this key. */
  readonly before: string | null;
  /** Key of the job that it goes in new with: both stand on one visit unless somebody puts them apart. */
  readonly goesWith: string | null;
  /** No plan proposes it, what fails of it counts, and somebody may put it on a visit by hand. */
  readonly isOnlyByHand: boolean;
}

/** The same before its access is counted. */
export type DraftItem = Omit<ProposalItem, 'aloneMinutes'>;

/** A vehicle as it is planned for. */
export interface ProposalGround {
  readonly forecast: Forecast;
  readonly operations: PlanQuestion['operations'];
  readonly items: readonly ProposalItem[];
}

/** What a look on some day may find, and what is renewed then. Any one money. */
export interface IfWorn {
  readonly chance: number;
  readonly cost: number;
}

/** The renewal that a look so many days ahead may lead to; null for what is no look, or has no forecast. */
export const ifFoundWorn = ({ forecast }: ProposalGround, { money }: DraftItem, days: number): IfWorn | null =>
  money.kind !== 'look' || money.forecast === null
    ? null
    : { chance: foundWorn(forecast, money.forecast, money, days), cost: money.renewal };

/** A vehicle's question made ready: what does not change while things are dragged. */
export interface PreparedPlan {
  readonly ground: ProposalGround;
  readonly terms: ProposalTerms;
  readonly costs: ReadonlyMap<string, ItemCosts>;
  /** Items that are planned first, and looks that are added if they pay. */
  readonly items: readonly ProposalItem[];
  readonly looks: readonly ProposalItem[];
  readonly asPlanned: readonly PlanItem[];
}

const partsOf = ({ money }: ProposalItem): number => (money.kind === 'renew' ? money.parts : 0);

function costsOf({ forecast }: ProposalGround, item: ProposalItem, terms: ProposalTerms): ItemCosts {
  const { money } = item;
  const labour = terms.labourPerMinute * item.aloneMinutes;
  switch (money.kind) {
    case 'renew':
      return renewalCosts(forecast, money.forecast, { ...money, labour }, terms);
    case 'look':
      return money.forecast === null
        ? taskCosts(forecast, { dueMonth: 0, everyMonths: null, labour, protects: [] }, terms)
        : lookCosts(forecast, money.forecast, money, terms);
    case 'task':
      return taskCosts(forecast, { ...money, labour }, terms);
    default:
      return money satisfies never;
  }
}

/** An item of the planner's question, with its limits as months. */
function asPlanned(item: ProposalItem, costs: ItemCosts, terms: ProposalTerms, nowDay: number): PlanItem {
  const last = latestDay(item, terms, nowDay);
  const opens = terms.notBeforeDay === null ? 0 : Math.max(0, monthOfPlan(nowDay, terms.notBeforeDay));
  const month = last === null ? null : Math.max(opens, monthOfPlan(nowDay, last));
  const deadline = month === null || month >= (terms.keptMonths ?? terms.months) ? null : month;
  const barred = barredMonths(item, terms, { nowDay, deadline });
  const first = item.notBeforeDay === null ? 0 : Math.max(0, monthOfPlan(nowDay, item.notBeforeDay));
  const earliest = Math.max(opens, deadline === null ? first : Math.min(first, deadline));
  return {
    operations: item.operations,
    ownMinutes: item.ownMinutes,
    parts: partsOf(item),
    byMonth: costs.byMonth.map((cost, at) => (item.isOnlyByHand || barred[at] ? Infinity : cost)),
    later: deadline === null ? costs.later : 0,
    pin: null,
    deadline,
    notBefore: earliest,
  };
}

/** Makes a vehicle's question ready: costs by month of all that may be done. */
export function preparePlan(ground: ProposalGround, terms: ProposalTerms): PreparedPlan {
  const costs = new Map(ground.items.map((item) => [item.key, costsOf(ground, item, terms)]));
  const items = ground.items.filter(({ before }) => before === null);
  return {
    ground,
    terms,
    costs,
    items,
    looks: ground.items.filter(({ before }) => before !== null),
    asPlanned: items.map((item) => asPlanned(item, costs.get(item.key)!, terms, ground.forecast.nowDay)),
  };
}

/** Months into which items were put by hand, by key; months of the planner. */
export type Pins = ReadonlyMap<string, number>;

/** The planner's question with some things put where somebody wants them. */
export function proposalQuestion(
  { ground, terms, asPlanned: items }: PreparedPlan,
  pinned: readonly (number | null)[],
): PlanQuestion {
  const { months, visitCost, labourPerMinute, capacity, budget, yearBudget } = terms;
  return {
    operations: ground.operations,
    months,
    visitCost,
    labourPerMinute,
    capacity,
    budget,
    yearBudget,
    items: items.map((item, i) => atPin(item, pinned[i] ?? null, months)),
  };
}

/**
 * Keeps an item in the month into which it was put by hand, whatever limits it; an item put off
 * beyond the plan is left.
 */
function atPin(item: PlanItem, pin: number | null, months: number): PlanItem {
  if (pin === null) return item;
  const free = { ...item, deadline: null, notBefore: 0 };
  if (pin >= months) return { ...free, byMonth: item.byMonth.map(() => Infinity) };
  // It may be put into a month that it would not be proposed in; what it costs there moves nothing else.
  return { ...free, pin, byMonth: item.byMonth.map(() => 0) };
}

/** Cost of a plan over its length, by where the money goes. */
export interface PlanMoney extends CostParts {
  /** Visits and their labour. */
  readonly labour: number;
  readonly total: number;
}

/** One visit of a proposal; items by key. */
export interface ProposedVisit {
  readonly month: number;
  readonly day: number;
  readonly keys: readonly string[];
}

/** Proposed visits, and what they cost beside other ways. */
export interface Proposal {
  /** Visits in the order of their months. */
  readonly visits: readonly ProposedVisit[];
  /** Items that the plan leaves for later. */
  readonly later: readonly string[];
  /** Month of everything in the order it was prepared, the terms' months for later: where another search begins. */
  readonly months: readonly number[];
  readonly money: PlanMoney;
  /**
   * The same jobs, each with what goes along with it on its own best date; all at once now; nothing until it fails,
   * where nothing is due.
   */
  readonly apart: PlanMoney;
  readonly allNow: PlanMoney;
  readonly wait: PlanMoney;
  /** No other plan costs less: it is proven among those that keep the limits, and none of these ways is cheaper. */
  readonly isLeast: boolean;
  /** Largest possible saving against the best plan, without looks; null while unknown. */
  readonly above: number | null;
  readonly proven: boolean;
  /** Visits of prepared items that are worth it by what is known: a search with other pins may begin with them. */
  readonly sets: readonly VisitSet[];
}

interface Placed {
  readonly item: ProposalItem;
  readonly month: number;
}

/** Minutes of some items on one visit. */
const minutesTogether = ({ operations }: ProposalGround, items: readonly ProposalItem[]): number =>
  workTogether(
    operations,
    items.map((item) => ({ operations: item.operations, own: item.ownMinutes })),
  ).minutes;

/** Cost of items in their months; with `apart` each of these groups comes in by itself. */
export function moneyOf(
  { ground, terms, costs }: Pick<PreparedPlan, 'ground' | 'terms' | 'costs'>,
  placed: readonly Placed[],
  apart: Groups | null = null,
): PlanMoney {
  const costsInMonth = placed.map(({ item, month }) => costs.get(item.key)!.told[month]!);
  const labour =
    apart === null
      ? planStanding(
          {
            ...terms,
            operations: ground.operations,
            capacity: null,
            budget: null,
            yearBudget: null,
            items: placed.map(({ item }) => ({
              ...item,
              parts: 0,
              byMonth: new Array<number>(terms.months).fill(0),
              later: 0,
              pin: null,
              deadline: null,
            })),
          },
          placed.map(({ month }) => month),
        ).cost
      : membersOf(apart)
          .filter(([first]) => placed[first!]!.month < terms.months)
          .map((members) =>
            minutesTogether(
              ground,
              members.map((i) => placed[i]!.item),
            ),
          )
          .reduce((sum, minutes) => sum + terms.visitCost + terms.labourPerMinute * minutes, 0);
  const sum = (of: (parts: CostParts) => number): number => costsInMonth.reduce((all, parts) => all + of(parts), 0);
  const [failures, parts, wear] = [sum((one) => one.failures), sum((one) => one.parts), sum((one) => one.wear)];
  return { failures, parts, wear, labour, total: failures + parts + wear + labour };
}

/** The month in which each job would best come by itself, with what goes along with it. */
const ownMonths = (question: PlanQuestion, minutes: readonly number[], terms: ProposalTerms): number[] =>
  question.items.map((item, i) => {
    const visit = terms.visitCost + terms.labourPerMinute * minutes[i]!;
    let best = item.deadline ?? terms.months;
    let least = Infinity;
    for (let month = 0; month <= terms.months; month += 1) {
      const cost = month === terms.months ? item.later : item.byMonth[month]! + visit;
      if (!mayStand(item, month) || cost >= least) continue;
      best = month;
      least = cost;
    }
    return best;
  });

/** Sums of money that differ by less are the same. */
const LEAST_MONEY = 1e-6;

/** Rounds of the search that adds looks to a plan that stands. */
const LOOK_ROUNDS = 250;

/**
 * Looks that nothing asks for, put where they pay beside a plan that stands: before the renewal they may save, or
 * anywhere where that is left for later. Months in the order of the prepared looks, and what each costs there.
 */
function placeLooks(
  prepared: PreparedPlan,
  months: readonly number[],
  pins: Pins,
): { readonly months: readonly number[]; readonly costs: PreparedPlan['costs'] } {
  const { ground, terms, items, looks, costs } = prepared;
  if (looks.length === 0) return { months: [], costs };
  const standing = proposalQuestion(prepared, months);
  const monthOf = new Map(items.map(({ key }, i) => [key, months[i]!]));
  const until = looks.map((look): ItemCosts => {
    const renewed = monthOf.get(look.before!) ?? terms.months;
    const { money } = look;
    return renewed === terms.months || money.kind !== 'look' || money.forecast === null
      ? costs.get(look.key)!
      : lookCosts(ground.forecast, money.forecast, money, { ...terms, keptMonths: renewed });
  });
  const added = looks.map((look, i) =>
    atPin(asPlanned(look, until[i]!, terms, ground.forecast.nowDay), pins.get(look.key) ?? null, terms.months),
  );
  const plan = searchPlan(
    { ...standing, items: [...standing.items, ...added] },
    { until: (round) => round >= LOOK_ROUNDS, from: [...months, ...added.map(() => terms.months)] },
  );
  return {
    months: plan === null ? looks.map(() => terms.months) : plan.months.slice(items.length),
    costs: new Map([...costs, ...looks.map(({ key }, i) => [key, until[i]!] as const)]),
  };
}

/** How visits are searched for. */
export interface ProposalOptions extends PlanningOptions {
  readonly pins: Pins;
  /** Only a search, as while something is dragged: nothing is said of how good it is. */
  readonly isQuick?: boolean;
}

/** The plan that is found, from where one stood before. */
function planned(question: PlanQuestion, { left, isQuick = false, ...near }: Omit<ProposalOptions, 'pins'>) {
  if (!isQuick) return planVisits(question, { left, ...near });
  const found = searchPlan(question, { ...near, until: () => left() <= 0 });
  return found && { ...found, bound: -Infinity, proven: false, sets: near.sets ?? [] };
}

/** The same with what goes together on one visit; apart where together it fits on none. */
function plannedTogether(question: PlanQuestion, groups: Groups, options: ProposalOptions) {
  const { pins: _, ...near } = options;
  const merged = mergeQuestion(question, groups);
  const plan = planned(merged, {
    ...near,
    ...(near.from === undefined ? {} : { from: squeezeMonths(near.from, groups) }),
    ...(near.sets === undefined ? {} : { sets: squeezeSets(near.sets, groups) }),
  });
  return plan === null
    ? planned(question, near)
    : { ...plan, months: spreadMonths(plan.months, groups), sets: spreadSets(plan.sets, groups) };
}

/**
 * Visits that cost least over the months ahead: what is due by its day, everything else where it is cheapest beside
 * what is open anyway, or later; looks where they lower the cost. `from` are months of the prepared items. Null where
 * something fits on no visit. Throws RangeError as the planner does.
 */
export function proposeVisits(prepared: PreparedPlan, options: ProposalOptions): Proposal | null {
  const { pins } = options;
  const { ground, terms, items, looks } = prepared;
  const question = proposalQuestion(
    prepared,
    items.map(({ key }) => pins.get(key) ?? null),
  );
  const groups = groupsOf(items, pins);
  const plan = plannedTogether(question, groups, options);
  if (plan === null) return null;
  const all = [...items, ...looks];
  const added = placeLooks(prepared, plan.months, pins);
  const months = [...plan.months, ...added.months];
  const priced = { ...prepared, costs: added.costs };
  const placed = (where: readonly number[]): Placed[] => where.map((month, i) => ({ item: all[i]!, month }));
  const byMonth = new Map<number, ProposalItem[]>();
  months.forEach((month, i) => byMonth.set(month, [...(byMonth.get(month) ?? []), all[i]!]));
  const money = moneyOf(priced, placed(months));
  const ways = otherWays(prepared, question, groups);
  return {
    visits: [...byMonth]
      .filter(([month]) => month < terms.months)
      .sort(([a], [b]) => a - b)
      .map(([month, here]) => ({
        month,
        day: dayOfVisit(ground.forecast.nowDay, here, month, terms),
        keys: here.map(({ key }) => key),
      })),
    later: (byMonth.get(terms.months) ?? []).flatMap(({ key, before }) => (before === null ? [key] : [])),
    months,
    money,
    ...ways,
    isLeast: plan.proven && Object.values(ways).every((way) => money.total <= way.total + LEAST_MONEY),
    above: plan.bound === -Infinity ? null : Math.max(0, plan.cost - plan.bound),
    proven: plan.proven,
    sets: plan.sets,
  };
}

/** Other ways to keep the vehicle, on the same terms: what goes along with a job goes along with it in each. */
function otherWays(
  prepared: PreparedPlan,
  question: PlanQuestion,
  groups: Groups,
): Pick<Proposal, 'apart' | 'allNow' | 'wait'> {
  const { ground, terms, items } = prepared;
  const merged = mergeQuestion(question, groups);
  const minutes = membersOf(groups).map((members) =>
    minutesTogether(
      ground,
      members.map((i) => items[i]!),
    ),
  );
  const placed = (where: readonly number[]): Placed[] => where.map((month, i) => ({ item: items[i]!, month }));
  const due = merged.items.map((item) => item.pin ?? item.deadline ?? terms.months);
  return {
    apart: moneyOf(prepared, placed(spreadMonths(ownMonths(merged, minutes, terms), groups)), groups),
    allNow: moneyOf(prepared, placed(items.map(() => 0))),
    wait: moneyOf(prepared, placed(spreadMonths(due, groups))),
  };
}

/** A visit stands in the middle of its month, or by the last day that one of its things leaves; not before tomorrow. */
function dayOfVisit(nowDay: number, items: readonly ProposalItem[], month: number, terms: ProposalTerms): number {
  const first = Math.max(nowDay + 1, terms.notBeforeDay ?? 0);
  const last = items.flatMap((item) => latestDay(item, terms, nowDay) ?? []).map((day) => Math.max(first, day));
  // What is put off by hand past its day stands in the month it was put into.
  const from = nowDay + Math.ceil(month * PLAN_MONTH_DAYS);
  const middle = nowDay + Math.round((month + 0.5) * PLAN_MONTH_DAYS);
  return Math.max(first, Math.min(middle, ...last.filter((day) => day >= from || month === 0)));
}
