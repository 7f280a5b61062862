import type { Span } from '../shorthand/window.ts';

export const AUTHORITY_KINDS = ['book', 'regional_book', 'bulletin', 'parts_maker', 'specialist', 'bench'] as const;
export type AuthorityKind = (typeof AUTHORITY_KINDS)[number];

/**
 * Evidence of a statement, strongest first: counted cases, the practice of the trade, or hearsay.
 */
export const STATEMENT_STRENGTHS = ['counted', 'practice', 'hearsay'] as const;
export type StatementStrength = (typeof STATEMENT_STRENGTHS)[number];

/** Action that an interval asks for: a new part, or a look at the present one. */
export const STATEMENT_ASKS = ['renew', 'look'] as const;
export type StatementAsks = (typeof STATEMENT_ASKS)[number];

/** Statement of one authority about one weak point. */
export interface StatementFact {
  readonly authority: string;
  readonly kind: AuthorityKind;
  readonly edition: string | null;
  readonly region: string | null;
  readonly words: string;
  /** Published interval; empty when it gives none. */
  readonly interval: readonly Span[];
  /** Action that its interval asks for. */
  readonly asks: StatementAsks;
  /** Those who repair these engines do not go by it; shown, and still counted as published. */
  readonly doubted?: boolean;
  /** It allows no exception. */
  readonly always?: boolean;
  /** Null where nothing is said of it. */
  readonly strength?: StatementStrength | null;
}

/** A point in time on this vehicle, by date and by distance. */
export interface WhenFact {
  readonly day: number;
  readonly km: number;
}

/**
 * Reason why a statement does not count for a vehicle: it is for another region, or another
 * statement takes its place.
 */
export const SET_ASIDE = ['other_region', 'later_edition', 'regional_edition'] as const;

/** Standing of a statement for this vehicle. */
export type StatementStanding =
  | { readonly counts: true }
  | { readonly counts: false; readonly because: (typeof SET_ASIDE)[number]; readonly by: string | null };

export interface AuthorityMark {
  readonly statement: StatementFact;
  readonly standing: StatementStanding;
  /**
   * Next date of this authority, counted from the last renewal, or for a look from the last look;
   * null without an interval.
   */
  readonly due: WhenFact | null;
}
