import { Pricing } from './pricing.ts';
import { mustFit, reduce, type PlanQuestion, type VisitSet } from './question.ts';

/** Nodes that pricing may look at in one round of the bound, all months together. */
const PRICING_NODES = 400_000;

export interface BoundOptions {
  /** Cost of a plan that is known: the bound is steered towards it. */
  readonly cost: number;
  readonly until: (round: number) => boolean;
}

/** A cost that no plan can go below, and months that its multipliers point to; null for items they leave open. */
export interface PlanBound {
  readonly bound: number;
  readonly hints: readonly (number | null)[];
  /** Price of each item at the bound. */
  readonly paid: Float64Array;
  /** The visits that its multipliers made worth it on the way, each once: good plans are made of such. */
  readonly sets: readonly VisitSet[];
}

/**
 * A cost that no plan can go below: Lagrangian relaxation of "every item once" (Held and Karp 1971), each month priced
 * exactly, its multipliers moved by subgradients with Polyak's step. -Infinity where pricing did not come to an end.
 */
export function planBound(question: PlanQuestion, { cost, until }: BoundOptions): PlanBound {
  mustFit(question);
  const { items, months } = question;
  const reduced = reduce(question);
  const pricing = new Pricing(question, reduced);
  const free = items.map(({ pin, deadline }) => pin === null && deadline === null);
  const paid = Float64Array.from(items, (item, i) => {
    const least = Math.min(...item.byMonth.map((of) => of + question.labourPerMinute * reduced.own[i]!));
    return free[i] ? Math.min(item.later, least + 1) : least + question.visitCost;
  });
  const sets = new Map<string, VisitSet>();
  let best = -Infinity;
  let hints: (number | null)[] = items.map(() => null);
  let paidAtBest = Float64Array.from(paid);
  let step = 1.2;
  let stale = 0;
  for (let round = 0; !until(round); round += 1) {
    const nodes = { left: PRICING_NODES };
    const times = new Int32Array(items.length);
    const placed: (number | null)[] = items.map(() => null);
    let value = paid.reduce((sum, of) => sum + of, 0);
    for (let month = 0; month < months; month += 1) {
      const { value: least, set } = pricing.least(month, paid, nodes);
      value += least;
      if (set.length > 0) sets.set(`${month}: ${[...set].sort((a, b) => a - b).join(' ')}`, { month, items: set });
      for (const item of set) {
        times[item]! += 1;
        placed[item] ??= month;
      }
    }
    if (nodes.left <= 0) break;
    // An item that is paid what leaving it would cost, more it never is, is left: then it is done once, later.
    items.forEach(({ later }, i) => {
      if (!free[i] || paid[i]! < later) return;
      times[i]! += 1;
      placed[i] ??= months;
    });
    if (value > best + 1e-7) {
      best = value;
      hints = placed;
      paidAtBest = Float64Array.from(paid);
      stale = 0;
    } else {
      stale += 1;
      if (stale >= 8) {
        step *= 0.6;
        stale = 0;
      }
    }
    const wrong = times.reduce((sum, of) => sum + (1 - of) ** 2, 0);
    if (wrong === 0 || best >= cost - 1e-6 || step < 1e-3) break;
    const length = (step * Math.max(cost - value, 1e-3)) / wrong;
    items.forEach((_, i) => {
      paid[i]! += length * (1 - times[i]!);
      if (free[i]) paid[i] = Math.min(paid[i]!, items[i]!.later);
    });
  }
  return { bound: best, hints, paid: paidAtBest, sets: [...sets.values()] };
}
