import { dayAtDistance, type UsagePath } from './path.ts';

/** The limits of a coverage, whichever first; null where it has none of a kind. */
export interface CoverLimits {
  /** Days since first registration. */
  readonly days: number | null;
  /** Kilometres since new. */
  readonly km: number | null;
  /** Day number on which it ends for all. */
  readonly lastDay: number | null;
}

/**
 * Last day (day number) on which a coverage pays for a vehicle: the nearest of its limits, the one in km where the path
 * reaches it. Null where none can be told: an age limit needs the day of registration, a distance limit a vehicle that
 * runs.
 */
export function coveredUntil(
  { days, km, lastDay }: CoverLimits,
  path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>,
  registeredDay: number | null,
): number | null {
  const ends = Math.min(
    lastDay ?? Infinity,
    days === null || registeredDay === null ? Infinity : registeredDay + days,
    km === null ? Infinity : dayAtDistance(path, km),
  );
  return ends === Infinity ? null : Math.floor(ends);
}
