import type { YearCost } from './ahead.ts';

/** Worth of a vehicle, and cost of another. Any one money. */
export interface Worth {
  readonly now: number;
  /** Part of its worth that it loses in a year. */
  readonly lossPerYear: number;
  /** Cost of another vehicle a year: loss of worth and work together. */
  readonly otherPerYear: number;
}

/** One year of keeping it. */
export interface KeptYear extends YearCost {
  readonly worthAtEnd: number;
  readonly worthLost: number;
  /** This year alone: worth lost and what is spent; in nine cases of ten between these. */
  readonly own: number;
  readonly ownLow: number;
  readonly ownHigh: number;
  /** A year, on average, of keeping it until its end. */
  readonly average: number;
}

export interface Keeping {
  readonly years: readonly KeptYear[];
  /** The first year, from 0, that costs more than another vehicle would; null where none does: keep it. */
  readonly letGo: number | null;
}

/**
 * Tells whether to keep a vehicle. A year costs its loss of worth and its work, (worth before -
 * worth after + plan + failures); the vehicle goes before the first year that costs more than
 * another vehicle would. Throws RangeError on a loss outside of [0, 1).
 */
export function keepOrLetGo(costs: readonly YearCost[], { now, lossPerYear, otherPerYear }: Worth): Keeping {
  if (!(lossPerYear >= 0 && lossPerYear < 1)) throw new RangeError('lossPerYear must be at least 0 and below 1');
  let sum = 0;
  const years = costs.map((cost, year): KeptYear => {
    const worthAtEnd = now * (1 - lossPerYear) ** (year + 1);
    const worthLost = now * (1 - lossPerYear) ** year - worthAtEnd;
    const yearCost = worthLost + cost.total;
    const certain = worthLost + cost.visits;
    sum += yearCost;
    return {
      ...cost,
      worthAtEnd,
      worthLost,
      own: yearCost,
      ownLow: certain + cost.failuresLow,
      ownHigh: certain + cost.failuresHigh,
      average: sum / (year + 1),
    };
  });
  const letGo = years.findIndex(({ own }) => own > otherPerYear);
  return { years, letGo: letGo < 0 ? null : letGo };
}
