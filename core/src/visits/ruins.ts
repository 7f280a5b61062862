import type { Board } from './board.ts';
import type { Reduced, VisitSet } from './question.ts';

/** Items that are taken out at once, at most. */
const MOST_TAKEN = 8;
/**
 * Parts of the rounds, summed up, in which two visits change places, a whole visit is moved, what shares an operation
 * is moved together, what stands around a month is taken out; in the rest anything is.
 */
const KINDS = { swap: 0.05, visit: 0.12, sharers: 0.34, around: 0.7 } as const;
/** Probability that an item that is moved joins an existing visit. */
const JOINING = 0.6;
/**
 * Probability that items with a shared operation open a visit of their own, in the cheapest month.
 */
const OPENING = 0.3;
/** Probability that a visit known to be good is put together, if there are any. */
const KNOWN = 0.3;

/**
 * Chooses what a round takes out of a plan, and where it goes first; `random` answers even numbers in [0, 1). Source:
 * ruin and recreate (Schrimpf and others 2000), with moves of our own for whole visits and what shares an operation.
 */
export class Ruins {
  /** The month that each item that is taken out goes to first; -1 where it finds its own. */
  readonly target: Int32Array;
  private readonly sharers: readonly (readonly number[])[];

  constructor(
    private readonly board: Board,
    { groupMinutes, groupsOf }: Reduced,
    private readonly random: () => number,
    private readonly sets: readonly VisitSet[],
  ) {
    this.target = new Int32Array(board.month.length).fill(-1);
    this.sharers = Array.from(groupMinutes, (_, g) => groupsOf.flatMap((groups, i) => (groups.includes(g) ? [i] : [])));
  }

  private below(end: number): number {
    return Math.floor(this.random() * end);
  }

  /** A month that something stands in, or any at all. */
  private someMonth(): number {
    const { month } = this.board;
    return this.random() < JOINING ? month[this.below(month.length)]! : this.below(this.board.months + 1);
  }

  private together(taken: number[], month: number): number[] {
    for (const item of taken) this.target[item] = month;
    return taken;
  }

  private onVisit(at: number): number[] {
    const items: number[] = [];
    for (let item = 0; item < this.board.month.length; item += 1) if (this.board.month[item] === at) items.push(item);
    return items;
  }

  /** Items to take out. */
  next(): number[] {
    const { month } = this.board;
    const count = month.length;
    const at = month[this.below(count)]!;
    if (this.sets.length > 0 && this.random() < KNOWN) {
      const set = this.sets[this.below(this.sets.length)]!;
      const joining = this.together(
        set.items.filter((item) => month[item] !== set.month),
        set.month,
      );
      const leaving = this.onVisit(set.month).filter((item) => !set.items.includes(item));
      return [...joining, ...this.together(leaving, -1)];
    }
    const kind = this.random();
    if (kind < KINDS.swap) {
      const other = this.someMonth();
      if (other !== at) return [...this.together(this.onVisit(at), other), ...this.together(this.onVisit(other), at)];
    }
    if (kind < KINDS.visit) return this.together(this.onVisit(at), this.someMonth());
    if (kind < KINDS.sharers && this.sharers.length > 0) {
      const sharing = this.sharers[this.below(this.sharers.length)]!;
      const moved = sharing.filter(() => this.random() < 0.7);
      return this.together(moved, this.random() < OPENING ? this.board.bestEmpty(moved) : this.someMonth());
    }
    const taken: number[] = [];
    const most = 1 + this.below(Math.min(MOST_TAKEN, count));
    if (kind < KINDS.around)
      for (let item = 0; item < count && taken.length < most; item += 1)
        if (Math.abs(month[item]! - at) <= 1 && this.random() < 0.8) taken.push(item);
    while (taken.length < most) {
      const item = this.below(count);
      if (taken.includes(item)) break;
      taken.push(item);
    }
    return this.together(taken, -1);
  }
}
