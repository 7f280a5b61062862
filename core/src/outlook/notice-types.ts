import type { StatementAsks } from '../schools/statements.ts';
import type { CoverLimits } from '../usage/cover.ts';

/** A bulletin, or a coverage, about a weak point. Days are day numbers, distances km. */
export interface NoticeFact {
  readonly id: string;
  readonly number: string;
  readonly title: string;
  readonly authority: string;
  readonly issuedDay: number;
  readonly asks: StatementAsks;
  readonly producedFromDay: number | null;
  readonly producedToDay: number | null;
  /** None named: all. */
  readonly models: readonly string[];
  /** What a coverage pays, a part in [0, 1], and for how long; null for a bulletin. */
  readonly cover: (CoverLimits & { readonly pays: number }) | null;
}

/** A notice that is in force for one vehicle. */
export interface NoticeInForce {
  readonly notice: NoticeFact;
  /** Last day on which it pays; null for a bulletin, and where none can be told. */
  readonly coveredUntil: number | null;
  /** It still pays; null for a bulletin. */
  readonly covered: boolean | null;
}
