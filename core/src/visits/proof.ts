import { Pricing } from './pricing.ts';
import { EPSILON, planStanding, reduce, YEAR_MONTHS, type Plan, type PlanQuestion } from './question.ts';

/** One visit that a plan no dearer than the one known may have: its month, its items, what it costs above its month. */
interface Column {
  readonly month: number;
  readonly items: readonly number[];
  /** The same items as bits, the first thirty and those after them. */
  readonly low: number;
  readonly high: number;
  readonly above: number;
  readonly money: number;
}

/** Bits that are used of one number; two numbers hold all items of a question that is proved. */
const BITS = 30;
const MOST_ITEMS = 2 * BITS;
const bitsFrom = (items: readonly number[], from: number): number =>
  items.reduce((set, item) => (item >= from && item < from + BITS ? set | (1 << (item - from)) : set), 0);
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
  const { visitCost, labourPerMinute, yearBudget = null } = question;
  for (let month = 0; month < months && nodes.left > 0 && columns.length < MOST_COLUMNS; month += 1)
    pricing.within(month, paid, { most: least[month]! + gap, nodes }, (chosen, { value, minutes, parts }) =>
      columns.push({
        month,
        items: [...chosen],
        low: bitsFrom(chosen, 0),
        high: bitsFrom(chosen, BITS),
        above: value - least[month]!,
        money: visitCost + labourPerMinute * minutes + parts,
      }),
    );
  if (nodes.left <= 0 || columns.length >= MOST_COLUMNS || until()) return null;
  const columnsOf: Column[][] = items.map(() => []);
  for (const column of columns) for (const item of column.items) columnsOf[item]!.push(column);
  for (const list of columnsOf) list.sort((a, b) => a.above - b.above);
  const chosen: Column[] = [];
  const monthTaken = new Uint8Array(months);
  const spent = new Float64Array(Math.ceil(months / YEAR_MONTHS));
  let better: Plan | null = null;
  let left = PROOF_NODES;
  let isOver = false;
  const go = (low: number, high: number, above: number, covered: number): void => {
    left -= 1;
    if (isOver || left <= 0 || (left % 4096 === 0 && until())) {
      isOver = true;
      return;
    }
    if (covered === items.length) {
      let all = above;
      for (let month = 0; month < months; month += 1) if (monthTaken[month] === 0) all -= least[month]!;
      if (all >= gap) return;
      gap = all - EPSILON;
      const plan = items.map(() => months);
      for (const { month, items: here } of chosen) for (const item of here) plan[item] = month;
      better = { months: plan, cost: planStanding(question, plan).cost };
      return;
    }
    const fits = (column: Column): boolean =>
      monthTaken[column.month] === 0 &&
      (column.low & low) === 0 &&
      (column.high & high) === 0 &&
      above + column.above < gap &&
      (yearBudget === null || spent[Math.floor(column.month / YEAR_MONTHS)]! + column.money <= yearBudget + EPSILON);
    const leaving = (item: number): number => above + items[item]!.later - paid[item]!;
    let next = -1;
    let fewest = Infinity;
    for (let item = 0; item < items.length && fewest > 1; item += 1) {
      if (item < BITS ? low & (1 << item) : high & (1 << (item - BITS))) continue;
      let count = may[item] && leaving(item) < gap ? 1 : 0;
      for (const column of columnsOf[item]!) {
        if (fits(column)) count += 1;
        if (count >= fewest) break;
      }
      if (count < fewest) {
        fewest = count;
        next = item;
      }
    }
    if (fewest === 0) return;
    if (may[next] && leaving(next) < gap)
      go(low | bitsFrom([next], 0), high | bitsFrom([next], BITS), leaving(next), covered + 1);
    for (const column of columnsOf[next]!) {
      if (above + column.above >= gap) break;
      if (!fits(column)) continue;
      const year = Math.floor(column.month / YEAR_MONTHS);
      chosen.push(column);
      monthTaken[column.month] = 1;
      spent[year]! += column.money;
      go(low | column.low, high | column.high, above + column.above, covered + column.items.length);
      spent[year]! -= column.money;
      monthTaken[column.month] = 0;
      chosen.pop();
    }
  };
  go(0, 0, 0, 0);
  return isOver ? null : { better };
}
