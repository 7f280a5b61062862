import type { Span } from '../shorthand/window.ts';

export const AUTHORITY_KINDS = ['book', 'regional_book', 'bulletin', 'parts_maker', 'specialist', 'bench'] as const;
export type AuthorityKind = (typeof AUTHORITY_KINDS)[number];

/**
 * What a statement rests on, strongest first: cases that were counted, the practice of the trade, or what was passed
 * on.
 */
export const STATEMENT_STRENGTHS = ['counted', 'practice', 'hearsay'] as const;
export type StatementStrength = (typeof STATEMENT_STRENGTHS)[number];

/** What an interval asks for: a new part, or a look at the one that is in there, which a look answers. */
export const STATEMENT_ASKS = ['renew', 'look'] as const;
export type StatementAsks = (typeof STATEMENT_ASKS)[number];

/** What one authority says about one weak point. */
export interface StatementFact {
  readonly authority: string;
  readonly kind: AuthorityKind;
  readonly edition: string | null;
  readonly region: string | null;
  readonly words: string;
  /** Published interval; empty when it gives none. */
  readonly interval: readonly Span[];
  /** What its interval asks for. */
  readonly asks: StatementAsks;
  /** Those who repair these engines do not go by it; shown, and still counted as published. */
  readonly doubted?: boolean;
  /** Null where nothing is said of it. */
  readonly strength?: StatementStrength | null;
}

/** A point in time on this vehicle, by date and by distance. */
export interface WhenFact {
  readonly day: number;
  readonly km: number;
}

/** Why a statement does not speak for a vehicle: told for another region, or one beside it speaks instead. */
export const SET_ASIDE = ['other_region', 'later_edition', 'regional_edition'] as const;

/** How far a statement speaks for this vehicle. */
export type StatementStanding =
  | { readonly counts: true }
  | { readonly counts: false; readonly because: (typeof SET_ASIDE)[number]; readonly by: string | null };

export interface AuthorityMark {
  readonly statement: StatementFact;
  readonly standing: StatementStanding;
  /**
   * When this authority would act next, counted from the last renewal, or for a look from the last look since; null
   * when it gives no interval.
   */
  readonly due: WhenFact | null;
}
