import {
  EPSILON,
  mayStand,
  mustFit,
  reduce,
  YEAR_MONTHS,
  type Plan,
  type PlanQuestion,
  type Reduced,
} from './question.ts';

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

/** A plan under way, with what every month holds, so that moving one item costs a handful of additions. */
class Board {
  readonly month: Int32Array;
  private readonly counts: Int32Array;
  private readonly minutes: Float64Array;
  private readonly parts: Float64Array;
  private readonly items: Int32Array;
  private readonly groups: number;

  constructor(
    private readonly question: PlanQuestion,
    private readonly reduced: Reduced,
  ) {
    this.groups = reduced.groupMinutes.length;
    this.month = new Int32Array(question.items.length).fill(-1);
    this.counts = new Int32Array(question.months * this.groups);
    this.minutes = new Float64Array(question.months);
    this.parts = new Float64Array(question.months);
    this.items = new Int32Array(question.months);
  }

  /** Cost that an item adds when it is put into a month; Infinity where it does not fit. */
  cost(item: number, month: number): number {
    const { items, months, visitCost, labourPerMinute, capacity, budget, yearBudget = null } = this.question;
    const told = items[item]!;
    if (!mayStand(told, month)) return Infinity;
    if (month === months) return told.later;
    let minutes = this.reduced.own[item]!;
    const at = month * this.groups;
    for (const group of this.reduced.groupsOf[item]!)
      if (this.counts[at + group] === 0) minutes += this.reduced.groupMinutes[group]!;
    const fixed = this.items[month] === 0 ? visitCost : 0;
    const all = this.minutes[month]! + minutes;
    if (capacity !== null && all > capacity + EPSILON) return Infinity;
    if (budget !== null && visitCost + labourPerMinute * all + this.parts[month]! + told.parts > budget + EPSILON)
      return Infinity;
    const more = fixed + labourPerMinute * minutes;
    if (yearBudget !== null && this.spentIn(month) + more + told.parts > yearBudget + EPSILON) return Infinity;
    return told.byMonth[month]! + more;
  }

  /** Money of the visits of the year that a month lies in. */
  private spentIn(month: number): number {
    const { months, visitCost, labourPerMinute } = this.question;
    const from = month - (month % YEAR_MONTHS);
    let money = 0;
    for (let at = from; at < Math.min(from + YEAR_MONTHS, months); at += 1)
      if (this.items[at]! > 0) money += visitCost + labourPerMinute * this.minutes[at]! + this.parts[at]!;
    return money;
  }

  put(item: number, month: number): void {
    this.month[item] = month;
    if (month === this.question.months) return;
    let minutes = this.reduced.own[item]!;
    const at = month * this.groups;
    for (const group of this.reduced.groupsOf[item]!) {
      if (this.counts[at + group] === 0) minutes += this.reduced.groupMinutes[group]!;
      this.counts[at + group]! += 1;
    }
    this.minutes[month]! += minutes;
    this.parts[month]! += this.question.items[item]!.parts;
    this.items[month]! += 1;
  }

  take(item: number): void {
    const month = this.month[item]!;
    this.month[item] = -1;
    if (month < 0 || month === this.question.months) return;
    let minutes = this.reduced.own[item]!;
    const at = month * this.groups;
    for (const group of this.reduced.groupsOf[item]!) {
      this.counts[at + group]! -= 1;
      if (this.counts[at + group] === 0) minutes += this.reduced.groupMinutes[group]!;
    }
    this.minutes[month]! -= minutes;
    this.parts[month]! -= this.question.items[item]!.parts;
    this.items[month]! -= 1;
  }

  /** Puts an item where it costs least; answers that cost, Infinity where it fits nowhere. */
  putBest(item: number, blink: () => boolean): number {
    let best = Infinity;
    let where = -1;
    for (let month = 0; month <= this.question.months; month += 1) {
      const cost = this.cost(item, month);
      if (cost < best && !(where >= 0 && blink())) {
        best = cost;
        where = month;
      }
    }
    if (where >= 0) this.put(item, where);
    return best;
  }

  /** Cost of all that is on the board; Infinity while something has no place. */
  total(): number {
    let sum = 0;
    for (let item = 0; item < this.month.length; item += 1) {
      const month = this.month[item]!;
      if (month < 0) return Infinity;
      const { byMonth, later } = this.question.items[item]!;
      sum += month === this.question.months ? later : byMonth[month]!;
    }
    for (let month = 0; month < this.question.months; month += 1)
      if (this.items[month]! > 0) sum += this.question.visitCost + this.question.labourPerMinute * this.minutes[month]!;
    return sum;
  }

  load(months: ArrayLike<number>): void {
    for (let item = 0; item < this.month.length; item += 1) this.take(item);
    for (let item = 0; item < this.month.length; item += 1) if (months[item]! >= 0) this.put(item, months[item]!);
  }
}

/** In how many of a hundred places a good one is passed over, so that the same mistakes are not made twice. */
const BLINKS = 0.02;
/** Items that are taken out at once, at most. */
const MOST_TAKEN = 10;
/** Part of the rounds in which a whole visit is moved to another month. */
const WHOLE_VISITS = 0.15;
/** How much worse a plan may be at first, as a part of what one visit costs; and rounds until it may be so again. */
const HEAT = 0.25;
const REHEAT = 3000;

export interface SearchOptions {
  /** Says when to stop; asked between two rounds, told how many have passed without anything better. */
  readonly until: (round: number, stale: number) => boolean;
  /** A plan to begin from, such as the one before a drag. */
  readonly from?: readonly number[];
  readonly seed?: number;
}

/**
 * The best plan found: ruin and recreate (Schrimpf and others 2000; blinks after Christiaens and Vanden Berghe 2020).
 * Some items are taken out, a month's or at random, and put back one after the other where they cost least; worse
 * plans are accepted less and less. From a plan that does not fit any more what can be kept is kept. Null where some
 * item fits nowhere. Throws RangeError naming what is wrong in the question.
 */
export function searchPlan(question: PlanQuestion, { until, from, seed = 1 }: SearchOptions): Plan | null {
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
  for (const item of order) {
    const month = from?.[item];
    if (month !== undefined && board.cost(item, month) < Infinity) board.put(item, month);
  }
  for (const item of order) if (board.month[item]! < 0) board.putBest(item, never);
  let now = board.total();
  let best = now;
  let kept = Int32Array.from(board.month);
  const scale = HEAT * Math.max(1, question.visitCost + (now === Infinity ? 0 : now / (count + 1)));
  const before = new Int32Array(count);
  let found = 0;
  for (let round = 0; count > 0 && !until(round, round - found); round += 1) {
    const taken: number[] = [];
    const most = 1 + Math.floor(random() * Math.min(MOST_TAKEN, count));
    const month = board.month[Math.floor(random() * count)]!;
    const kind = random();
    if (kind < WHOLE_VISITS) {
      for (let item = 0; item < count; item += 1) if (board.month[item] === month) taken.push(item);
    } else {
      // A month and what stands around it, or anything.
      if (kind < 0.6)
        for (let item = 0; item < count && taken.length < most; item += 1)
          if (Math.abs(board.month[item]! - month) <= 1 && random() < 0.8) taken.push(item);
      while (taken.length < most) {
        const item = Math.floor(random() * count);
        if (taken.includes(item)) break;
        taken.push(item);
      }
    }
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
    // A visit moves as a whole; what may not go along goes where it costs least.
    const whither = kind < WHOLE_VISITS ? Math.floor(random() * (question.months + 1)) : -1;
    for (const item of taken) {
      const along = whither >= 0 ? board.cost(item, whither) : Infinity;
      if (along < Infinity) board.put(item, whither);
      moved += along < Infinity ? along : board.putBest(item, blink);
    }
    const heat = scale * Math.exp(-(round % REHEAT) / (REHEAT / 6)) + EPSILON;
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
    if (round % REHEAT === REHEAT - 1 && best < Infinity) {
      board.load(kept);
      now = best;
    }
  }
  return best === Infinity ? null : { months: [...kept], cost: best };
}
