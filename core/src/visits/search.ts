import { randomFrom } from '../numeric/random.ts';
import { Board } from './board.ts';
import { EPSILON, mustFit, reduce, type Plan, type PlanQuestion, type VisitSet } from './question.ts';
import { Ruins } from './ruins.ts';

/** Percentage of places in which a good choice is skipped, so that a mistake is not repeated. */
const BLINKS = 0.02;
/**
 * Allowed excess of a plan at first, as a share of one visit's cost; and the rounds until it is
 * allowed again.
 */
const HEAT = 0.35;
const REHEAT = 1000;
/** Beginning near a good plan: rounds in which nothing may be worse, and rounds until it may be worse again. */
const COLD_ROUNDS = 300;
const REHEAT_NEAR = 500;

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
      const target = ruins.target[item]!;
      const along = target >= 0 ? board.cost(item, target) : Infinity;
      if (along < Infinity) board.put(item, target);
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
