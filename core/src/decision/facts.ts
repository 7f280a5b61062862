import type { Nature } from '../life/nature.ts';
import type { Consequence } from './kinds.ts';

/** Reasons for which something goes along: the job names it as new, it is the same part, or it costs less so. */
export const RIDE_REASONS = ['named', 'same_part', 'cheaper'] as const;

/** A job that something goes along with. */
export interface RideFact {
  readonly weakPointId: string;
  /** Name of the part that the job is about; of the same part, what else is wrong with it. */
  readonly title: string;
  /** Minutes that it adds to the job, and those it takes by itself. */
  readonly minutes: number;
  readonly alone: number;
  /** Price of its part; null where nobody tells it. */
  readonly partPrice: number | null;
  /** Money saved against its own best time by itself, in expectation; null where it goes along whatever it saves. */
  readonly saves: number | null;
  readonly because: (typeof RIDE_REASONS)[number];
}

/** What an open notice asks for, and which one it is. */
export interface NoticeAsking {
  readonly asks: 'look' | 'renew';
  readonly by: string;
}

/** The look that is told for a weak point, on this vehicle. */
export interface LookStanding {
  readonly detection: number;
  /** Nothing has to come off for it that takes longer than the renewal's own access. */
  readonly isReachable: boolean;
  /** The last look was good and its own interval is not over. */
  readonly isOnFile: boolean;
  /** Somebody trusted asks for one before the next service. */
  readonly isDue: boolean;
  /** After a good look today the chance stays under the limit of its class until the next one. */
  readonly settles: () => boolean;
  /** The same if it is the first one. */
  readonly settlesFirst: () => boolean;
}

/** What one decision rests on. Chances lie in [0, 1]; those that cost time are asked for where they decide. */
export interface DecisionFacts {
  readonly consequence: Consequence;
  readonly safety: boolean;
  /** Nature of the weak point; wear is never called faded, however far it has come. */
  readonly nature: Nature;
  /** A timing belt: a look that misses many of them clears none. */
  readonly isBelt: boolean;
  /** The revised part that ends the weak point is fitted. */
  readonly revisedFitted: boolean;
  /** Nobody renews it before it fails: the driver keeps an eye on it. */
  readonly watched: boolean;
  /** It has failed and has not been renewed since. */
  readonly hasFailed: boolean;
  /** The last look found it worn and it has not been renewed since. */
  readonly foundWorn: boolean;
  /** Chance that it has failed already or does so before the next service. */
  readonly chance: number;
  /** What a bulletin or coverage in force still asks for. */
  readonly notice: NoticeAsking | null;
  /** The same before the vehicle can be brought in. */
  readonly soon: () => number;
  /** The workshop's limit for its consequence, or the safety limit if that is stricter. */
  readonly classLimit: number;
  /** The same where Early is followed; Infinity where another school works through its dates. */
  readonly limit: number;
  /** No record says what is in there. */
  readonly isOpen: boolean;
  /** Nobody can show that it was ever renewed, where the workshop wants proof. */
  readonly noProof: boolean;
  /** Chance of failing before the next service if it is the first one; the chance itself where that is no question. */
  readonly chanceIfFirst: number;
  /** How likely it is the first one. */
  readonly firstChance: number;
  /** The customary interval has passed since the last renewal on file, or since new. */
  readonly customPassed: boolean;
  /** Somebody trusted renews it by an interval. */
  readonly hasCustom: boolean;
  /** How likely it is the cause of what is reported; 0 where nothing is. */
  readonly suspicion: number;
  /** Neighbours that have failed and may take it along. */
  readonly harmedBy: readonly string[];
  /** Those who ask for it by now. */
  readonly customBy: () => readonly string[];
  /** Half of such parts have failed by this distance and age, counted from new. */
  readonly middlePassed: boolean;
  readonly look: LookStanding | null;
  /** With good looks on file the limit is crossed before the vehicle can be brought in. */
  readonly crossesAtOnce: () => boolean;
  /** A part put in new today is at most half as likely to fail before the next service. */
  readonly helps: () => boolean;
  /** Renewing it costs no more than leaving it until it fails. */
  readonly pays: () => boolean;
  /** P(susceptible | alive) over the susceptible share: 1 when new, towards 0 for a defect that would have shown. */
  readonly shareLeft: number;
  /** Condition is followed: looks take the place of intervals. */
  readonly byCondition: boolean;
  /**
   * Action that the followed school asks for before the next service; null for Early, which works
   * through the limit.
   */
  readonly schoolAsks: 'renew' | 'look' | null;
  /** The job that it goes along with. */
  readonly ridesWith: RideFact | null;
}
