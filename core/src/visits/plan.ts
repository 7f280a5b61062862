import { planBound } from './bound.ts';
import { planProof } from './proof.ts';
import type { Plan, PlanQuestion, VisitSet } from './question.ts';
import { searchPlan, type SearchOptions } from './search.ts';

/** A plan with how good it is known to be. */
export interface KnownPlan extends Plan {
  /** No plan costs less than this. */
  readonly bound: number;
  /** It is the best there is. */
  readonly proven: boolean;
  /** Visits that are worth it by what the bound knows; another search of much the same question may begin with them. */
  readonly sets: readonly VisitSet[];
}

export interface PlanningOptions extends Pick<SearchOptions, 'from' | 'sets' | 'seed'> {
  /** Part of the time or the rounds that are left, from 1 down to 0; asked between two rounds. */
  readonly left: () => number;
}

/**
 * Ends of the first search, the bound and the second search, as shares of the time; the rest is
 * proof.
 */
const SHARE = { search: 0.2, bound: 0.4, again: 0.5 } as const;
/** A search that has found nothing better for so many rounds gives way to the bound, and to the proof. */
const STALE_ROUNDS = 2500;
/** A plan so near to its bound is taken for the best: the rounding of money. */
const SAME = 1e-6;

/**
 * The best plan that can be found in the time there is, and how far from the best it can be at most: a search, a
 * bound, another search from where the bound's multipliers point, and a proof. Null where something fits nowhere.
 * Throws RangeError naming what is wrong in the question.
 */
export function planVisits(question: PlanQuestion, { left, ...near }: PlanningOptions): KnownPlan | null {
  const first = searchPlan(question, {
    ...near,
    until: (_round, stale) => left() < 1 - SHARE.search || stale > STALE_ROUNDS,
  });
  if (first === null) return null;
  const { bound, hints, paid, sets } = planBound(question, { cost: first.cost, until: () => left() < 1 - SHARE.bound });
  const known = (plan: Plan, proven = false): KnownPlan => {
    const isBest = proven || plan.cost - bound <= SAME;
    return { ...plan, bound: isBest ? plan.cost : Math.min(bound, plan.cost), proven: isBest, sets };
  };
  if (known(first).proven) return known(first);
  const months = hints.map((month, i) => month ?? first.months[i]!);
  const second = searchPlan(question, {
    until: (_round, stale) => left() < 1 - SHARE.again || stale > STALE_ROUNDS,
    from: months,
    sets,
    seed: 2,
  });
  const best = second !== null && second.cost < first.cost ? second : first;
  if (bound === -Infinity) return known(best);
  const proof = planProof(question, { paid, cost: best.cost }, () => left() <= 0);
  return proof === null ? known(best) : known(proof.better ?? best, true);
}
