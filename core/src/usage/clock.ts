import { dayAtDistance, distanceAtDay, type UsagePath } from './path.ts';

/** Clocks on which wear is counted: distance in km, age in days, hours in engine hours. */
export const CLOCK_KINDS = ['distance', 'age', 'hours'] as const;
export type ClockKind = (typeof CLOCK_KINDS)[number];

/** One clock of a vehicle as a non-decreasing function of the date. */
export interface Clock {
  readonly kind: ClockKind;
  /** Clock reading on a day, in the clock's own unit. */
  at(day: number): number;
  /** Earliest day on which the clock shows `value`; Infinity when it never will. */
  dayOf(value: number): number;
}

/** The clocks that a part wears on, by their kind. */
export type ClocksByKind = Partial<Record<ClockKind, Clock>>;

/** The distance clock of a usage path, km. */
export const distanceClock = (path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>): Clock => ({
  kind: 'distance',
  at: (day) => distanceAtDay(path, day),
  dayOf: (km) => dayAtDistance(path, km),
});

/** Age in days since the epoch of the day numbers; only differences matter. */
export const ageClock: Clock = { kind: 'age', at: (day) => day, dayOf: (value) => value };

/** Engine hours from distance at an average speed in km/h. Throws RangeError unless the speed is positive. */
export function hoursFromDistance(path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>, averageSpeedKmh: number): Clock {
  if (!(averageSpeedKmh > 0)) throw new RangeError(`the average speed must be positive, got ${averageSpeedKmh}`);
  return {
    kind: 'hours',
    at: (day) => distanceAtDay(path, day) / averageSpeedKmh,
    dayOf: (hours) => dayAtDistance(path, hours * averageSpeedKmh),
  };
}
