import type { PlanItem, PlanQuestion, VisitSet } from './question.ts';

/** Number of the group of each item; groups are numbered in the order of their first items. */
export type Groups = readonly number[];

/** What is needed to tell what stands together. */
interface Grouped {
  readonly key: string;
  /** Key of the item that it stands together with; null where it stands by itself. */
  readonly goesWith: string | null;
}

/**
 * Groups of items that stand on one visit: each with the job it goes with, unless somebody put it somewhere by hand.
 */
export function groupsOf(items: readonly Grouped[], pins: ReadonlyMap<string, number>): Groups {
  const places = new Map(items.map(({ key }, i) => [key, i]));
  const direct = items.map(({ key, goesWith }, i) => {
    const head = goesWith === null ? undefined : places.get(goesWith);
    const isApart = pins.has(key) && (goesWith === null || pins.get(goesWith) !== pins.get(key));
    return head === undefined || isApart ? i : head;
  });
  // What goes with something that itself goes along stands with the job behind both.
  const heads = direct.map((head) => {
    let last = head;
    for (let steps = 0; steps < items.length && direct[last] !== last; steps += 1) last = direct[last]!;
    return last;
  });
  const numbers = new Map<number, number>();
  for (const head of heads) if (!numbers.has(head)) numbers.set(head, numbers.size);
  return heads.map((head) => numbers.get(head)!);
}

const least = (days: readonly (number | null)[]): number | null => {
  const known = days.filter((day) => day !== null);
  return known.length === 0 ? null : Math.min(...known);
};

/** Left for later by hand: no month is open to it, and no day asks for it. */
const isPutOff = ({ byMonth, pin, deadline }: PlanItem): boolean =>
  pin === null && deadline === null && byMonth.every((cost) => cost === Infinity);

/** Several items as one: their work together, their costs added, the strictest of their limits. */
function merged(items: readonly PlanItem[], months: number): PlanItem {
  const [only] = items as [PlanItem];
  if (items.length === 1) return only;
  const sum = (of: (item: PlanItem) => number): number => items.reduce((all, item) => all + of(item), 0);
  const pin = items.find((item) => item.pin !== null)?.pin ?? null;
  // What somebody put somewhere, or off, takes along what goes with it, whatever day that has of its own.
  const isByHand = pin !== null || items.some(isPutOff);
  const deadline = isByHand ? null : least(items.map((item) => item.deadline));
  const first = Math.max(...items.map(({ notBefore = 0 }) => notBefore));
  return {
    operations: [...new Set(items.flatMap(({ operations }) => operations))],
    ownMinutes: sum(({ ownMinutes }) => ownMinutes),
    parts: sum(({ parts }) => parts),
    byMonth: Array.from({ length: months }, (_, month) =>
      month === pin
        ? sum(({ byMonth }) => (Number.isFinite(byMonth[month]!) ? byMonth[month]! : 0))
        : sum(({ byMonth }) => byMonth[month]!),
    ),
    later: sum(({ later }) => later),
    pin,
    deadline,
    notBefore: isByHand ? 0 : deadline === null ? first : Math.min(first, deadline),
  };
}

/** Items of each group, in its order. */
export const membersOf = (groups: Groups): number[][] => {
  const members: number[][] = [];
  groups.forEach((group, i) => {
    (members[group] ??= []).push(i);
  });
  return members;
};

/** The planner's question with one item for each group. */
export const mergeQuestion = (question: PlanQuestion, groups: Groups): PlanQuestion => ({
  ...question,
  items: membersOf(groups).map((members) =>
    merged(
      members.map((i) => question.items[i]!),
      question.months,
    ),
  ),
});

/** Months of the items from those of their groups. */
export const spreadMonths = (months: readonly number[], groups: Groups): number[] =>
  groups.map((group) => months[group]!);

/** Months of the groups from those of their items: of each its first item’s. */
export const squeezeMonths = (months: readonly number[], groups: Groups): number[] =>
  membersOf(groups).map(([first]) => months[first!]!);

/** Visits of items from visits of groups. */
export const spreadSets = (sets: readonly VisitSet[], groups: Groups): VisitSet[] =>
  sets.map(({ month, items }) => ({ month, items: groups.flatMap((group, i) => (items.includes(group) ? [i] : [])) }));

/** Visits of groups from visits of items; those that part a group say nothing any more. */
export function squeezeSets(sets: readonly VisitSet[], groups: Groups): VisitSet[] {
  const members = membersOf(groups);
  return sets.flatMap(({ month, items }) => {
    const whole = [...new Set(items.map((i) => groups[i]!))];
    return whole.every((group) => members[group]!.every((i) => items.includes(i))) ? [{ month, items: whole }] : [];
  });
}
