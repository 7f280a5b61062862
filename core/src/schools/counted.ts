import type { StatementAsks } from './statements.ts';

/** Starting points of an interval: what is known, a renewal that is only believed, or new where nobody knows of one. */
export const COUNTED_FROM = ['known', 'believed', 'new'] as const;
export type CountedFrom = (typeof COUNTED_FROM)[number];

/**
 * What an interval is counted from, by how far the renewal of the part is known; one that asks for a look counts from
 * the last look, where there is one.
 */
export function countedFrom(asks: StatementAsks, certainty: string, wasLookedAt: boolean): CountedFrom {
  if (certainty === 'done' || certainty === 'not_done' || (asks === 'look' && wasLookedAt)) return 'known';
  return certainty === 'believed' ? 'believed' : 'new';
}
