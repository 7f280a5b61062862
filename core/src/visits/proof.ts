import { Pricing } from './pricing.ts';
import { EPSILON, planStanding, reduce, type Plan, type PlanQuestion } from './question.ts';

/** One visit that a plan no dearer than the one known may have: its month, its items, what it costs above its month. */
interface Column {
  readonly month: number;
  readonly set: number;
  readonly above: number;
}

/** Items that fit into the bits of one number. */
const MOST_ITEMS = 31;
/** More visits than this are not looked through. */
const MOST_COLUMNS = 150_000;
const PROOF_NODES = 3_000_000;

/**
 * The best plan there is, given multipliers and a plan that is known: every plan that costs less is made of visits
 * whose cost above their month's least is under the gap between the two (reduced-cost enumeration; Baldacci and others
 * 2008), and all of these are looked through, depth first, the item with fewest visits left before the others. Null
 * where that is too much to look through; else the months, or null for those of the plan that is known.
 */
export function planProof(
  question: PlanQuestion,
  { paid, cost }: { readonly paid: Float64Array; readonly cost: number },
  until: () => boolean,
): { readonly better: Plan | null } | null {
  const { items, months } = question;
  if (items.length > MOST_ITEMS) return null;
  const reduced = reduce(question);
  const pricing = new Pricing(question, reduced);
  const least = new Float64Array(months);
  let bound = paid.reduce((sum, of) => sum + of, 0);
  const nodes = { left: PROOF_NODES };
  for (let month = 0; month < months; month += 1) {
    least[month] = pricing.least(month, paid, nodes).value;
    bound += least[month]!;
  }
  const may = items.map(({ pin, deadline }) => pin === null && deadline === null);
  let gap = cost - bound - EPSILON;
  const columns: Column[] = [];
  for (let month = 0; month < months && nodes.left > 0 && columns.length < MOST_COLUMNS; month += 1)
    pricing.within(month, paid, { most: least[month]! + gap, nodes }, (set, value) =>
      columns.push({ month, set, above: value - least[month]! }),
    );
  if (nodes.left <= 0 || columns.length >= MOST_COLUMNS || until()) return null;
  const of: Column[][] = items.map(() => []);
  for (const column of columns)
    for (let item = 0; item < items.length; item += 1) if (column.set & (1 << item)) of[item]!.push(column);
  for (const list of of) list.sort((a, b) => a.above - b.above);
  const full = items.length === MOST_ITEMS ? 0x7fffffff : (1 << items.length) - 1;
  const chosen: Column[] = [];
  const monthTaken = new Uint8Array(months);
  let better: Plan | null = null;
  let left = PROOF_NODES;
  let isOver = false;
  const go = (covered: number, above: number): void => {
    left -= 1;
    if (isOver || left <= 0 || (left % 4096 === 0 && until())) {
      isOver = true;
      return;
    }
    if (covered === full) {
      let all = above;
      for (let month = 0; month < months; month += 1) if (monthTaken[month] === 0) all -= least[month]!;
      if (all >= gap) return;
      gap = all - EPSILON;
      const plan = items.map(() => months);
      for (const { month, set } of chosen)
        for (let item = 0; item < items.length; item += 1) if (set & (1 << item)) plan[item] = month;
      better = { months: plan, cost: planStanding(question, plan).cost };
      return;
    }
    const fits = ({ month, set, above: more }: Column): boolean =>
      monthTaken[month] === 0 && (set & covered) === 0 && above + more < gap;
    let next = -1;
    let fewest = Infinity;
    for (let item = 0; item < items.length && fewest > 1; item += 1) {
      if (covered & (1 << item)) continue;
      let count = may[item] && above + items[item]!.later - paid[item]! < gap ? 1 : 0;
      for (const column of of[item]!) {
        if (fits(column)) count += 1;
        if (count >= fewest) break;
      }
      if (count < fewest) {
        fewest = count;
        next = item;
      }
    }
    if (fewest === 0) return;
    if (may[next] && above + items[next]!.later - paid[next]! < gap)
      go(covered | (1 << next), above + items[next]!.later - paid[next]!);
    for (const column of of[next]!) {
      if (above + column.above >= gap) break;
      if (!fits(column)) continue;
      chosen.push(column);
      monthTaken[column.month] = 1;
      go(covered | column.set, above + column.above);
      monthTaken[column.month] = 0;
      chosen.pop();
    }
  };
  go(0, 0);
  return isOver ? null : { better };
}
