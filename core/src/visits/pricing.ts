import { EPSILON, mayStand, type PlanQuestion, type Reduced } from './question.ts';

/** A set so far: its cost minus the prices of its items, its minutes, its parts. */
export interface Laid {
  readonly value: number;
  readonly minutes: number;
  readonly parts: number;
}

/**
 * Limits of the search over sets: those that cost less than `most`, within a number of nodes; both
 * move on the way.
 */
interface Reach {
  most: number;
  readonly nodes: { left: number };
}

/** Looks through the sets of items that fit into one month, by what their visit costs beside what they are paid. */
export class Pricing {
  private readonly users: readonly Int32Array[];
  /** Most that one visit may cost. */
  private readonly money: number;

  constructor(
    private readonly question: PlanQuestion,
    private readonly reduced: Reduced,
  ) {
    this.users = Array.from(reduced.groupMinutes, (_, g) =>
      Int32Array.from(question.items.flatMap((__, i) => (reduced.groupsOf[i]!.includes(g) ? [i] : []))),
    );
    this.money = Math.min(question.budget ?? Infinity, question.yearBudget ?? Infinity);
  }

  /** Gain of each item in a month, without the operations that it shares. */
  private gains(month: number, paid: Float64Array): Float64Array {
    const { items, labourPerMinute } = this.question;
    return Float64Array.from(
      items,
      (item, i) => paid[i]! - item.byMonth[month]! - labourPerMinute * this.reduced.own[i]!,
    );
  }

  /** Among how many of some items each group of operations may be shared, at least one. */
  private sharers(items: readonly number[]): readonly number[] {
    const inPlay = new Set(items);
    return this.users.map((users) => Math.max(1, users.filter((i) => inPlay.has(i)).length));
  }

  /**
   * Tells every set of `order` that fits a visit and costs less than the reach, each once, by depth first; cut off
   * where even sharing every operation among all that may still need it cannot help.
   */
  private walk(
    month: number,
    { order, gain, paid }: { readonly order: readonly number[]; readonly gain: Float64Array; paid: Float64Array },
    reach: Reach,
    tell: (chosen: readonly number[], laid: Laid) => void,
  ): void {
    const { items, visitCost, labourPerMinute, capacity } = this.question;
    const { own, groupMinutes, groupsOf } = this.reduced;
    const sharers = this.sharers(order);
    const used = new Int32Array(groupMinutes.length);
    const chosen: number[] = [];
    const go = (at: number, { value, minutes, parts }: Laid): void => {
      if (reach.nodes.left <= 0) return;
      reach.nodes.left -= 1;
      let hope = value;
      for (let k = at; k < order.length; k += 1) {
        const item = order[k]!;
        let extra = 0;
        for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]! / sharers[g]!;
        hope -= Math.max(0, gain[item]! - labourPerMinute * extra);
      }
      if (hope >= reach.most || at >= order.length) return;
      const item = order[at]!;
      let extra = own[item]!;
      for (const g of groupsOf[item]!) if (used[g] === 0) extra += groupMinutes[g]!;
      const all = minutes + extra;
      const spent = parts + items[item]!.parts;
      if (
        (capacity === null || all <= capacity + EPSILON) &&
        visitCost + labourPerMinute * all + spent <= this.money + EPSILON
      ) {
        for (const g of groupsOf[item]!) used[g]! += 1;
        chosen.push(item);
        const laid = {
          value: value + items[item]!.byMonth[month]! - paid[item]! + labourPerMinute * extra,
          minutes: all,
          parts: spent,
        };
        if (laid.value < reach.most) tell(chosen, laid);
        go(at + 1, laid);
        chosen.pop();
        for (const g of groupsOf[item]!) used[g]! -= 1;
      }
      go(at + 1, { value, minutes, parts });
    };
    go(0, { value: visitCost, minutes: 0, parts: 0 });
  }

  /**
   * The least of visit cost, labour and cost by month less what each item is paid, over all sets that fit into a month;
   * 0 for none. Answers the items of that set. Exact while nodes are left.
   */
  least(
    month: number,
    paid: Float64Array,
    nodes: { left: number },
  ): { readonly value: number; readonly set: readonly number[] } {
    const { items, labourPerMinute } = this.question;
    const { groupMinutes, groupsOf } = this.reduced;
    const gain = this.gains(month, paid);
    const may = items.flatMap((item, i) => (mayStand(item, month) && gain[i]! > 0 ? [i] : []));
    const sharers = this.sharers(may);
    // What an item brings at best: its gain less its fair part of every operation, were all to share it.
    const bring = (i: number): number =>
      gain[i]! - labourPerMinute * groupsOf[i]!.reduce((sum, g) => sum + groupMinutes[g]! / sharers[g]!, 0);
    const brought = new Map(may.map((i) => [i, bring(i)]));
    const order = may.sort((a, b) => brought.get(b)! - brought.get(a)!);
    let value = 0;
    let set: readonly number[] = [];
    const reach: Reach = { most: -EPSILON, nodes };
    this.walk(month, { order, gain, paid }, reach, (chosen, laid) => {
      value = laid.value;
      set = [...chosen];
      reach.most = value - EPSILON;
    });
    return { value, set };
  }

  /** All sets of a month that cost less than so much beside what their items are paid, each told once. */
  within(
    month: number,
    paid: Float64Array,
    reach: { readonly most: number; readonly nodes: { left: number } },
    tell: (chosen: readonly number[], laid: Laid) => void,
  ): void {
    const gain = this.gains(month, paid);
    const order = this.question.items
      .flatMap((item, i) => (mayStand(item, month) ? [i] : []))
      .sort((a, b) => gain[b]! - gain[a]!);
    this.walk(month, { order, gain, paid }, reach, tell);
  }
}
