import { Board } from './board.ts';
import { EPSILON, mustFit, reduce, type Plan, type PlanQuestion, type Reduced, type VisitSet } from './question.ts';

/** Random numbers that are the same each time, so that the same question has the same answer. Source: mulberry32. */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** In how many of a hundred places a good one is passed over, so that the same mistakes are not made twice. */
const BLINKS = 0.02;
/** Items that are taken out at once, at most. */
const MOST_TAKEN = 8;
/**
 * Parts of the rounds, summed up, in which two visits change places, a whole visit is moved, what shares an operation
 * is moved together, what stands around a month is taken out; in the rest anything is.
 */
const KINDS = { swap: 0.05, visit: 0.12, sharers: 0.34, around: 0.7 } as const;
/** How often what is moved together goes where something stands already, rather than anywhere. */
const JOINING = 0.6;
/** How often what shares an operation begins a visit of its own, in the month where that costs least. */
const OPENING = 0.3;
/** How often a visit that is known to be worth it is put together, where there are such. */
const KNOWN = 0.3;

/** How much worse a plan may be at first, as a part of what one visit costs; and rounds until it may be so again. */
const HEAT = 0.35;
const REHEAT = 1000;
/** Beginning near a good plan: rounds in which nothing may be worse, and rounds until it may be worse again. */
const COLD_ROUNDS = 300;
const REHEAT_NEAR = 500;

/** Chooses what is taken out: it says which rounds look at what. */
class Ruins {
  /** The month that each item that is taken out goes to first; -1 where it finds its own. */
  readonly whither: Int32Array;
  private readonly sharers: readonly (readonly number[])[];

  constructor(
    private readonly board: Board,
    { groupMinutes, groupsOf }: Reduced,
    private readonly random: () => number,
    private readonly sets: readonly VisitSet[],
  ) {
    this.whither = new Int32Array(board.month.length).fill(-1);
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
    for (const item of taken) this.whither[item] = month;
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

/** Part of the items that is put anew when the search begins from somewhere else, and good places it passes over. */
const ANEW = 0.8;
const BLINKS_ANEW = 0.2;

export interface SearchOptions {
  /** Says when to stop; asked between two rounds, told how many have passed without anything better. */
  readonly until: (round: number, stale: number) => boolean;
  /** A plan to begin from, such as the one before a drag. */
  readonly from?: readonly number[];
  /** Visits that are worth it by what is known of much the same question, with the same items in the same order. */
  readonly sets?: readonly VisitSet[];
  readonly seed?: number;
}

/**
 * Plans to begin from where something has been put elsewhere since: what stood on a visit with it goes along, and what
 * stands where it goes comes back.
 */
const dragged = ({ items }: PlanQuestion, from: readonly number[]): number[][] =>
  items.flatMap(({ pin }, i) => {
    const was = from[i]!;
    if (pin === null || pin === was) return [];
    return [from.map((month) => (month === was ? pin : month === pin ? was : month))];
  });

/**
 * The best plan found: ruin and recreate (Schrimpf and others 2000; blinks after Christiaens and Vanden Berghe 2020).
 * Some items are taken out, a month's or at random, and put back one after the other where they cost least; worse
 * plans are accepted less and less. From a plan that does not fit any more what can be kept is kept. Null where some
 * item fits nowhere. Throws RangeError naming what is wrong in the question.
 */
export function searchPlan(question: PlanQuestion, { until, from, sets = [], seed = 1 }: SearchOptions): Plan | null {
  mustFit(question);
  const random = randomFrom(seed);
  const reduced = reduce(question);
  const board = new Board(question, reduced);
  const count = question.items.length;
  const never = (): boolean => false;
  const blink = (): boolean => random() < BLINKS;
  const order = Array.from({ length: count }, (_, i) => i).sort((a, b) => reduced.own[b]! - reduced.own[a]!);
  // What is pinned has the first claim on its month, what has a deadline the next.
  const urgency = (i: number): number => {
    const { pin, deadline } = question.items[i]!;
    return pin !== null ? -2 : deadline !== null ? -1 : 0;
  };
  order.sort((a, b) => urgency(a) - urgency(b));
  const lay = (months: readonly number[] | undefined): number => {
    for (let item = 0; item < count; item += 1) board.take(item);
    for (const item of order) {
      const month = months?.[item];
      if (month !== undefined && board.cost(item, month) < Infinity) board.put(item, month);
    }
    for (const item of order) if (board.month[item]! < 0) board.putBest(item, never);
    return board.total();
  };
  const starts = from === undefined ? [undefined] : [from, ...dragged(question, from)];
  const [start] = starts.map((months) => ({ months, cost: lay(months) })).sort((x, y) => x.cost - y.cost);
  lay(start!.months);
  let now = board.total();
  let best = now;
  let kept = Int32Array.from(board.month);
  const scale = HEAT * Math.max(1, question.visitCost + (now === Infinity ? 0 : now / (count + 1)));
  const before = new Int32Array(count);
  const ruins = new Ruins(board, reduced, random, sets);
  const cycle = from === undefined ? REHEAT : REHEAT_NEAR;
  let found = 0;
  for (let round = 0; count > 0 && !until(round, round - found); round += 1) {
    const taken = ruins.next();
    for (let i = taken.length - 1; i > 0; i -= 1) {
      const j = Math.floor(random() * (i + 1));
      [taken[i], taken[j]] = [taken[j]!, taken[i]!];
    }
    let moved = 0;
    for (const item of taken) {
      before[item] = board.month[item]!;
      board.take(item);
      if (before[item] >= 0) moved -= board.cost(item, before[item]);
    }
    taken.sort((a, b) => urgency(a) - urgency(b));
    // What moves together goes together; what may not go along goes where it costs least.
    for (const item of taken) {
      const whither = ruins.whither[item]!;
      const along = whither >= 0 ? board.cost(item, whither) : Infinity;
      if (along < Infinity) board.put(item, whither);
      moved += along < Infinity ? along : board.putBest(item, blink);
    }
    const isCold = from !== undefined && round < COLD_ROUNDS;
    const heat = (isCold ? 0 : scale * Math.exp(-(round % cycle) / (cycle / 6))) + EPSILON;
    const isTaken = now === Infinity ? board.total() < Infinity : moved <= 0 || random() < Math.exp(-moved / heat);
    if (!isTaken) {
      for (const item of taken) board.take(item);
      for (const item of taken) if (before[item]! >= 0) board.put(item, before[item]!);
      continue;
    }
    now = now === Infinity ? board.total() : now + moved;
    if (now < best - EPSILON) {
      best = board.total();
      now = best;
      kept = Int32Array.from(board.month);
      found = round;
    }
    if (round % cycle === cycle - 1 && best < Infinity) {
      board.load(kept);
      now = best;
      // Every other time from somewhere else: what is stuck stays stuck from where it is.
      if (Math.floor(round / cycle) % 2 === 0) {
        const anew = order.filter(() => random() < ANEW);
        for (const item of anew) board.take(item);
        anew.sort((a, b) => urgency(a) - urgency(b) || random() - 0.5);
        for (const item of anew) board.putBest(item, () => random() < BLINKS_ANEW);
        now = board.total();
      }
    }
  }
  return best === Infinity ? null : { months: [...kept], cost: best };
}
