import type { Condition } from './words.ts';

/** What is measured when something is looked at, and against what. */
export interface MeasureFact {
  readonly what: string;
  readonly unit: string;
  /** At or beyond it, the part is worn. */
  readonly limit: number;
  /** As new; null where nobody says. */
  readonly fresh?: number;
  /** Which way it goes as the part wears. */
  readonly worse: 'higher' | 'lower';
  /** Outside of this no gauge reads: most likely a slip of the hand. */
  readonly sense: readonly [least: number, most: number];
}

/** A grade in words, and what it comes to. */
export interface GradeWords {
  readonly words: string;
  readonly means: Condition;
}

/** What a measurement says: worn at or beyond the limit, sound before it. */
export const measuredAs = ({ limit, worse }: Pick<MeasureFact, 'limit' | 'worse'>, value: number): Condition =>
  (worse === 'higher' ? value >= limit : value <= limit) ? 'worn' : 'sound';

/** Whether a figure may have been read off a gauge at all. */
export const makesSense = ({ sense: [least, most] }: Pick<MeasureFact, 'sense'>, value: number): boolean =>
  value >= least && value <= most;

/**
 * How much of the way from new to the limit is used: 0 as new, 1 at the limit; null where nobody says what new is.
 */
export function usedUp({ limit, fresh }: Pick<MeasureFact, 'limit' | 'fresh'>, value: number): number | null {
  if (fresh === undefined || fresh === limit) return null;
  return Math.max(0, (value - fresh) / (limit - fresh));
}
