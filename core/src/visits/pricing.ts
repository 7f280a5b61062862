import { EPSILON, type PlanQuestion, type Reduced } from './question.ts';

/** What a set comes to so far: its cost beside what its items are paid, its minutes, its parts. */
interface Laid {
  readonly value: number;
  readonly minutes: number;
  readonly parts: number;
}

/** Exact pricing of one month: the set whose visit costs least beside what its items are paid. */
export class Pricing {
  private readonly users: readonly Int32Array[];

  constructor(
    private readonly question: PlanQuestion,
    private readonly reduced: Reduced,
  ) {
    this.users = Array.from(reduced.groupMinutes, (_, g) =>
      Int32Array.from(question.items.flatMap((__, i) => (reduced.groupsOf[i]!.includes(g) ? [i] : []))),
    );
  }

  /**
   * The least of visit cost, labour and cost by month less what each item is paid, over all sets that fit into a month;
   * 0 for none. By depth first, cut off where even sharing every operation among all that may still need it cannot
   * help. Answers the items of that set.
   */
  least(
    month: number,
    paid: Float64Array,
    nodes: { left: number },
  ): { readonly value: number; readonly set: number[] } {
    const { items, visitCost, labourPerMinute, capacity, budget } = this.question;
    const { own, groupMinutes, groupsOf } = this.reduced;
    const gain = (i: number): number => paid[i]! - items[i]!.byMonth[month]! - labourPerMinute * own[i]!;
    const may = items
      .map((_, i) => i)
      .filter((i) => {
        const { pin, deadline, notBefore = 0 } = items[i]!;
        return (
          (pin === null || pin === month) &&
          (deadline === null || month <= deadline) &&
          month >= notBefore &&
          gain(i) > 0
        );
      })
      .sort((a, b) => gain(b) - gain(a));
    if (may.length === 0) return { value: 0, set: [] };
    const inPlay = new Set(may);
    const sharers = this.users.map((users) => users.filter((i) => inPlay.has(i)).length);
    // What an item brings at best: its gain less its fair part of every operation, were all to share it.
    const bring = Float64Array.from(
      may,
      (i) => gain(i) - labourPerMinute * groupsOf[i]!.reduce((sum, g) => sum + groupMinutes[g]! / sharers[g]!, 0),
    );
    const order = may.map((_, k) => k).sort((a, b) => bring[b]! - bring[a]!);
    const used = new Int32Array(groupMinutes.length);
    let best = 0;
    let set: number[] = [];
    const chosen: number[] = [];
    const go = (at: number, value: number, minutes: number, parts: number): void => {
      if (nodes.left <= 0) return;
      nodes.left -= 1;
      if (value < best - EPSILON && chosen.length > 0) {
        best = value;
        set = [...chosen];
      }
      let hope = value;
      for (let k = at; k < order.length; k += 1) {
        const item = may[order[k]!]!;
        let extra = 0;
        for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]! / sharers[g]!;
        hope -= Math.max(0, gain(item) - labourPerMinute * extra);
      }
      if (hope >= best - EPSILON || at >= order.length) return;
      const item = may[order[at]!]!;
      let extra = own[item]!;
      for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]!;
      const all = minutes + extra;
      const spent = parts + items[item]!.parts;
      const fits =
        (capacity === null || all <= capacity + EPSILON) &&
        (budget === null || visitCost + labourPerMinute * all + spent <= budget + EPSILON);
      if (fits) {
        for (const g of groupsOf[item]!) used[g]! += 1;
        chosen.push(item);
        go(at + 1, value + items[item]!.byMonth[month]! - paid[item]! + labourPerMinute * extra, all, spent);
        chosen.pop();
        for (const g of groupsOf[item]!) used[g]! -= 1;
      }
      go(at + 1, value, minutes, parts);
    };
    go(0, visitCost, 0, 0);
    return { value: best, set };
  }

  /** All sets of a month that cost less than so much beside what their items are paid, as bits, each told once. */
  within(
    month: number,
    paid: Float64Array,
    { most, nodes }: { readonly most: number; readonly nodes: { left: number } },
    tell: (set: number, value: number) => void,
  ): void {
    const { items, visitCost, labourPerMinute, capacity, budget } = this.question;
    const { own, groupMinutes, groupsOf } = this.reduced;
    const gain = (i: number): number => paid[i]! - items[i]!.byMonth[month]! - labourPerMinute * own[i]!;
    const may = items
      .map((_, i) => i)
      .filter((i) => {
        const { pin, deadline, notBefore = 0 } = items[i]!;
        return (pin === null || pin === month) && (deadline === null || month <= deadline) && month >= notBefore;
      })
      .sort((a, b) => gain(b) - gain(a));
    const inPlay = new Set(may);
    const sharers = this.users.map((users) => Math.max(1, users.filter((i) => inPlay.has(i)).length));
    const used = new Int32Array(groupMinutes.length);
    const go = (at: number, set: number, { value, minutes, parts }: Laid): void => {
      if (nodes.left <= 0) return;
      nodes.left -= 1;
      let hope = value;
      for (let k = at; k < may.length; k += 1) {
        const item = may[k]!;
        let extra = 0;
        for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]! / sharers[g]!;
        hope -= Math.max(0, gain(item) - labourPerMinute * extra);
      }
      if (hope >= most) return;
      if (at === may.length) {
        if (set !== 0) tell(set, value);
        return;
      }
      const item = may[at]!;
      let extra = own[item]!;
      for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]!;
      const all = minutes + extra;
      const spent = parts + items[item]!.parts;
      const fits =
        (capacity === null || all <= capacity + EPSILON) &&
        (budget === null || visitCost + labourPerMinute * all + spent <= budget + EPSILON);
      if (fits) {
        for (const g of groupsOf[item]!) used[g]! += 1;
        const cost = items[item]!.byMonth[month]! - paid[item]! + labourPerMinute * extra;
        go(at + 1, set | (1 << item), { value: value + cost, minutes: all, parts: spent });
        for (const g of groupsOf[item]!) used[g]! -= 1;
      }
      go(at + 1, set, { value, minutes, parts });
    };
    go(0, 0, { value: visitCost, minutes: 0, parts: 0 });
  }
}
