import type { Condition } from './words.ts';

/** Measurement of a look: its quantity, its unit and its limit. */
export interface MeasureFact {
  readonly what: string;
  readonly unit: string;
  /** Limit in `unit`; at or beyond it, the part is worn. */
  readonly limit: number;
  /** Value of a new part; null if unknown. */
  readonly fresh?: number;
  /** Direction in which the value moves as the part wears. */
  readonly worse: 'higher' | 'lower';
  /** Outside of this no gauge reads: most likely a slip of the hand. */
  readonly sense: readonly [least: number, most: number];
}

/** A grade in words, and what it comes to. */
export interface GradeWords {
  readonly words: string;
  readonly means: Condition;
}

/** Result of a measurement: worn at or beyond the limit, sound before it. */
export const measuredAs = ({ limit, worse }: Pick<MeasureFact, 'limit' | 'worse'>, value: number): Condition =>
  (worse === 'higher' ? value >= limit : value <= limit) ? 'worn' : 'sound';

/** Tells whether a gauge can have shown this value at all. */
export const makesSense = ({ sense: [least, most] }: Pick<MeasureFact, 'sense'>, value: number): boolean =>
  value >= least && value <= most;

/**
 * Share of the way from new to the limit: 0 as new, 1 at the limit; null if the value of a new part
 * is unknown.
 */
export function usedUp({ limit, fresh }: Pick<MeasureFact, 'limit' | 'fresh'>, value: number): number | null {
  if (fresh === undefined || fresh === limit) return null;
  return Math.max(0, (value - fresh) / (limit - fresh));
}
