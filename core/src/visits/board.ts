import { EPSILON, mayStand, YEAR_MONTHS, type PlanQuestion, type Reduced } from './question.ts';

/**
 * A plan under way, with what every month holds, so that moving one item costs a handful of additions. What does not
 * change while things are moved is laid out once, in arrays by item and month.
 */
export class Board {
  readonly month: Int32Array;
  readonly months: number;
  private readonly groups: number;
  /** Cost of each item in each month, labour apart, and last for later; Infinity where it may not stand. */
  private readonly told: Float64Array;
  /** Cost of each item alone on a visit of each month; and the months in the order of that. */
  private readonly alone: Float64Array;
  private readonly aloneOrder: readonly Int32Array[];
  private readonly itemParts: Float64Array;
  private readonly counts: Int32Array;
  private readonly minutes: Float64Array;
  private readonly parts: Float64Array;
  private readonly items: Int32Array;
  /** Months that hold something, as a list, and where each stands in it; -1 for those that hold nothing. */
  private readonly occupied: Int32Array;
  private readonly occupiedAt: Int32Array;
  private occupiedCount = 0;
  private readonly capacity: number;
  private readonly budget: number;
  private readonly yearBudget: number;

  constructor(
    private readonly question: PlanQuestion,
    private readonly reduced: Reduced,
  ) {
    const { items, months, visitCost, labourPerMinute, capacity, budget, yearBudget = null } = question;
    const { own, groupMinutes, groupsOf } = reduced;
    this.months = months;
    this.groups = groupMinutes.length;
    this.capacity = (capacity ?? Infinity) + EPSILON;
    this.budget = (budget ?? Infinity) + EPSILON;
    this.yearBudget = (yearBudget ?? Infinity) + EPSILON;
    this.month = new Int32Array(items.length).fill(-1);
    this.itemParts = Float64Array.from(items, ({ parts }) => parts);
    this.told = new Float64Array(items.length * (months + 1));
    this.alone = new Float64Array(items.length * months);
    items.forEach((item, i) => {
      for (let month = 0; month <= months; month += 1)
        this.told[i * (months + 1) + month] = !mayStand(item, month)
          ? Infinity
          : month === months
            ? item.later
            : item.byMonth[month]!;
      const minutes = groupsOf[i]!.reduce((sum, g) => sum + groupMinutes[g]!, own[i]!);
      const money = visitCost + labourPerMinute * minutes;
      const fits = minutes <= this.capacity && money + item.parts <= this.budget;
      for (let month = 0; month < months; month += 1)
        this.alone[i * months + month] = fits ? this.told[i * (months + 1) + month]! + money : Infinity;
    });
    this.aloneOrder = items.map((_, i) =>
      Int32Array.from({ length: months }, (__, month) => month).sort(
        (x, y) => this.alone[i * months + x]! - this.alone[i * months + y]! || x - y,
      ),
    );
    this.counts = new Int32Array(months * this.groups);
    this.minutes = new Float64Array(months);
    this.parts = new Float64Array(months);
    this.items = new Int32Array(months);
    this.occupied = new Int32Array(months);
    this.occupiedAt = new Int32Array(months).fill(-1);
  }

  /** Money of the visits of the year that a month lies in. */
  private spentIn(month: number): number {
    const { visitCost, labourPerMinute } = this.question;
    const from = month - (month % YEAR_MONTHS);
    let money = 0;
    for (let at = from; at < Math.min(from + YEAR_MONTHS, this.months); at += 1)
      if (this.items[at]! > 0) money += visitCost + labourPerMinute * this.minutes[at]! + this.parts[at]!;
    return money;
  }

  /** Cost that an item adds when it is put into a month; Infinity where it does not fit. */
  cost(item: number, month: number): number {
    const costInMonth = this.told[item * (this.months + 1) + month]!;
    if (month === this.months || costInMonth === Infinity) return costInMonth;
    const { visitCost, labourPerMinute } = this.question;
    const parts = this.itemParts[item]!;
    if (this.items[month] === 0) {
      const alone = this.alone[item * this.months + month]!;
      return this.yearBudget < Infinity && this.spentIn(month) + (alone - costInMonth) + parts > this.yearBudget
        ? Infinity
        : alone;
    }
    const { groupsOf, groupMinutes, own } = this.reduced;
    const needs = groupsOf[item]!;
    const at = month * this.groups;
    let minutes = own[item]!;
    for (let k = 0; k < needs.length; k += 1)
      if (this.counts[at + needs[k]!] === 0) minutes += groupMinutes[needs[k]!]!;
    const all = this.minutes[month]! + minutes;
    if (all > this.capacity) return Infinity;
    if (visitCost + labourPerMinute * all + this.parts[month]! + parts > this.budget) return Infinity;
    const more = labourPerMinute * minutes;
    if (this.yearBudget < Infinity && this.spentIn(month) + more + parts > this.yearBudget) return Infinity;
    return costInMonth + more;
  }

  put(item: number, month: number): void {
    this.month[item] = month;
    if (month === this.months) return;
    let minutes = this.reduced.own[item]!;
    const at = month * this.groups;
    for (const group of this.reduced.groupsOf[item]!) {
      if (this.counts[at + group] === 0) minutes += this.reduced.groupMinutes[group]!;
      this.counts[at + group]! += 1;
    }
    this.minutes[month]! += minutes;
    this.parts[month]! += this.itemParts[item]!;
    if (this.items[month] === 0) {
      this.occupiedAt[month] = this.occupiedCount;
      this.occupied[this.occupiedCount] = month;
      this.occupiedCount += 1;
    }
    this.items[month]! += 1;
  }

  take(item: number): void {
    const month = this.month[item]!;
    this.month[item] = -1;
    if (month < 0 || month === this.months) return;
    let minutes = this.reduced.own[item]!;
    const at = month * this.groups;
    for (const group of this.reduced.groupsOf[item]!) {
      this.counts[at + group]! -= 1;
      if (this.counts[at + group] === 0) minutes += this.reduced.groupMinutes[group]!;
    }
    this.minutes[month]! -= minutes;
    this.parts[month]! -= this.itemParts[item]!;
    this.items[month]! -= 1;
    if (this.items[month] === 0) {
      this.occupiedCount -= 1;
      const last = this.occupied[this.occupiedCount]!;
      const place = this.occupiedAt[month]!;
      this.occupied[place] = last;
      this.occupiedAt[last] = place;
      this.occupiedAt[month] = -1;
      // What is left of many additions and subtractions is nothing.
      this.minutes[month] = 0;
      this.parts[month] = 0;
    }
  }

  /** Puts an item where it costs least; answers that cost, Infinity where it fits nowhere. */
  putBest(item: number, blink: () => boolean): number {
    let best = this.told[item * (this.months + 1) + this.months]!;
    let where = best < Infinity ? this.months : -1;
    for (let k = 0; k < this.occupiedCount; k += 1) {
      const month = this.occupied[k]!;
      const cost = this.cost(item, month);
      if (cost < best && !(where >= 0 && blink())) {
        best = cost;
        where = month;
      }
    }
    // Of the months that hold nothing only the first that fits can be the best: alone it costs the same, whatever is.
    for (const month of this.aloneOrder[item]!) {
      if (this.alone[item * this.months + month]! >= best) break;
      if (this.items[month]! > 0 || (where >= 0 && blink())) continue;
      const cost = this.cost(item, month);
      if (cost === Infinity) continue;
      best = cost;
      where = month;
      break;
    }
    if (where >= 0) this.put(item, where);
    return best;
  }

  /** The month that holds nothing in which some items together cost least, labour apart; later where none may. */
  bestEmpty(items: readonly number[]): number {
    let best = Infinity;
    let where = this.months;
    for (let month = 0; month < this.months; month += 1) {
      if (this.items[month]! > 0) continue;
      let sum = 0;
      for (const item of items) sum += this.told[item * (this.months + 1) + month]!;
      if (sum >= best) continue;
      best = sum;
      where = month;
    }
    return where;
  }

  /** Cost of all that is on the board; Infinity while something has no place. */
  total(): number {
    let sum = 0;
    for (let item = 0; item < this.month.length; item += 1) {
      const month = this.month[item]!;
      if (month < 0) return Infinity;
      sum += this.told[item * (this.months + 1) + month]!;
    }
    for (let month = 0; month < this.months; month += 1)
      if (this.items[month]! > 0) sum += this.question.visitCost + this.question.labourPerMinute * this.minutes[month]!;
    return sum;
  }

  load(months: ArrayLike<number>): void {
    for (let item = 0; item < this.month.length; item += 1) this.take(item);
    for (let item = 0; item < this.month.length; item += 1) if (months[item]! >= 0) this.put(item, months[item]!);
  }
}
