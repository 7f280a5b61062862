import type { Forbiddable } from '../look/needs.ts';
import type { Condition } from '../look/words.ts';
import type { School } from '../schools/schools.ts';

export const CERTAINTIES = ['done', 'believed', 'unknown', 'not_done'] as const;
export type Certainty = (typeof CERTAINTIES)[number];

export const GRADES = ['original', 'equivalent', 'cheap', 'used', 'rebuilt'] as const;
export type Grade = (typeof GRADES)[number];

/** Sources of a record. */
export const SOURCES = ['own', 'invoice', 'stamp', 'owner', 'seller'] as const;
export type Source = (typeof SOURCES)[number];

/** One service record of a component, newest information last. */
export interface ServiceFact {
  readonly componentKey: string;
  readonly certainty: Certainty;
  /** Day of the work; null when the record only says that nobody knows. */
  readonly day: number | null;
  readonly grade: Grade;
  readonly revision: string | null;
  readonly source: Source | null;
  /** The part that came out. */
  readonly cameOut: Condition | null;
}

export interface FindingFact {
  readonly weakPointId: string;
  readonly day: number;
  readonly result: Condition;
  /** The vehicle came to this workshop because of it. */
  readonly broughtIn: boolean;
  /** Last day on which it is known to have been running before a failure; null when the day of the failure is known. */
  readonly sinceDay: number | null;
}

/** An open complaint about the vehicle. */
export interface ReportFact {
  readonly words: string;
  readonly day: number;
  /** Danger of driving on, and what to do at once; null if it may be driven. */
  readonly stop: string | null;
  /** How far it may be driven with it; null where nobody says. */
  readonly drive: string | null;
  /** What it forbids until its cause is found. */
  readonly forbids: readonly Forbiddable[];
}

/** A school chosen for one vehicle, or for one weak point of it, with the reason. */
export interface SchoolChoice {
  /** Null: the whole vehicle. */
  readonly weakPointId: string | null;
  readonly school: School;
  readonly reason: string;
}
