/** A reading that is out of proportion is this many times the expected one, or this part of it. */
const OUT_OF_PROPORTION = 5;
/** Km below an earlier reading that a meter may be read wrong by; less is not asked about. */
const SLACK_KM = 50;

/** A reading that somebody types, and facts of the meter on that day. Km as the dash shows them, day numbers. */
export interface ReadingTyped {
  readonly day: number;
  readonly km: number;
  /** Expected on that day; null without any reading to go by. */
  readonly expectedKm: number | null;
  /** Highest reading on an earlier day, since the last change of the cluster; null if there is none. */
  readonly earlierKm: number | null;
  /** Lowest reading on a later day, before the next change of the cluster; null if there is none. */
  readonly laterKm: number | null;
  /** First registration, if its day is known. */
  readonly registeredDay: number | null;
}

/** Reasons to ask about a reading before it is kept. */
export const READING_DOUBTS = [
  'before_registration',
  'many_times',
  'small_part',
  'below_earlier',
  'above_later',
] as const;
export type ReadingDoubt = (typeof READING_DOUBTS)[number];

/**
 * Tells whether a reading is worth a question before it is kept: it was read before the first registration, is at least
 * five times or at most a fifth of the expected one, lies below an earlier reading or above a later one. Null for a
 * plain reading. Example: 1,480,000 km where 148,000 km are expected is `many_times`.
 */
export function readingDoubt(typed: ReadingTyped): ReadingDoubt | null {
  const { day, km, expectedKm, earlierKm, laterKm, registeredDay } = typed;
  if (registeredDay !== null && day < registeredDay) return 'before_registration';
  if (expectedKm !== null && expectedKm > 1000) {
    if (km >= OUT_OF_PROPORTION * expectedKm) return 'many_times';
    if (km <= expectedKm / OUT_OF_PROPORTION) return 'small_part';
  }
  if (earlierKm !== null && km < earlierKm - SLACK_KM) return 'below_earlier';
  if (laterKm !== null && km > laterKm + SLACK_KM) return 'above_later';
  return null;
}
