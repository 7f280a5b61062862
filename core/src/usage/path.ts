import { DAYS_PER_YEAR } from '../units/day.ts';

/** One odometer reading: day number (days since 1970-01-01, may be fractional) and kilometres since new. */
export interface Reading {
  readonly day: number;
  readonly km: number;
}

/** Default weights of the forecast. */
const FORECAST_DEFAULTS = {
  /** Days of use that the prior rate counts for. */
  priorWeightDays: 180,
  /** A stretch of road counts half after so many days. */
  halfLifeDays: 365,
} as const;

export interface ForecastOptions {
  readonly priorWeightDays: number;
  readonly halfLifeDays: number;
}

/** A vehicle's distance as a non-decreasing function of the date, with a forecast after the last knot. */
export interface UsagePath {
  readonly knots: readonly Reading[];
  /** Day on which the vehicle stood at 0 km: as told, or extrapolated back at the forecast rate. */
  readonly startDay: number;
  /** Forecast rate after the last knot, km a day. */
  readonly rateKmPerDay: number;
  /** Indices into the readings given that do not fit a forward-running meter. */
  readonly rejected: readonly number[];
}

/**
 * Longest chain of readings that never runs backwards. Ties between equally long chains: the chain that ends latest,
 * and within it the earliest possible predecessor.
 */
function longestForwardChain(readings: readonly Reading[]): number[] {
  const order = readings
    .map((_, index) => index)
    .sort((a, b) => readings[a]!.day - readings[b]!.day || readings[a]!.km - readings[b]!.km);
  const length = new Array<number>(order.length).fill(1);
  const previous = new Array<number>(order.length).fill(-1);
  let end = -1;
  for (let i = 0; i < order.length; i += 1) {
    for (let j = 0; j < i; j += 1) {
      if (readings[order[j]!]!.km <= readings[order[i]!]!.km && length[j]! + 1 > length[i]!) {
        length[i] = length[j]! + 1;
        previous[i] = j;
      }
    }
    if (end < 0 || length[i]! >= length[end]!) end = i;
  }
  const chain: number[] = [];
  for (let i = end; i >= 0; i = previous[i]!) chain.unshift(order[i]!);
  return chain;
}

/**
 * Expected use of a vehicle before its readings count: a rate in km a day, or the knots of the
 * meter from which it follows and the day of 0 km (null if unknown).
 */
export type PriorRate = number | ((knots: readonly Reading[], startDay: number | null) => number);

/**
 * A vehicle's own lifetime average, km a day, as what is to be expected of it; `usual` (the shop's usual use, km a day)
 * stands in for the days that are missing to half a year of age, and for all where its age is not known. A vehicle of
 * 26 years with 65,000 km does not do 15,000 next year.
 */
export const lifetimePrior =
  (usual: number): PriorRate =>
  (knots, startDay) => {
    const last = knots.at(-1);
    if (startDay === null || last === undefined) return usual;
    const age = last.day - startDay;
    const missing = Math.max(0, FORECAST_DEFAULTS.priorWeightDays - age);
    return (last.km + usual * missing) / (age + missing);
  };

/**
 * Builds the monotone usage path of one meter from its readings in any order.
 * Forecast rate = (prior * kappa + sum w dkm) / (kappa + sum w ddays), w = 2^-((last - middle of the stretch) /
 * half-life). `startDay` is the in-service day (0 km) or null when unknown: the start is then extrapolated back at the
 * forecast rate. Units: days and km. Throws RangeError without any reading and without a start, or on a value that is
 * not finite. Readings that would make the meter run backwards are left out and listed in `rejected`, so that a screen
 * can show them.
 */
export function usagePath(
  readings: readonly Reading[],
  startDay: number | null,
  prior: PriorRate,
  options: ForecastOptions = FORECAST_DEFAULTS,
): UsagePath {
  for (const { day, km } of readings) {
    if (!Number.isFinite(day) || !Number.isFinite(km))
      throw new RangeError('every reading needs a finite day and distance');
  }
  if (readings.length === 0 && startDay === null)
    throw new RangeError('a usage path needs a reading or an in-service day');
  const usable = readings
    .map((_, index) => index)
    .filter((index) => startDay === null || (readings[index]!.day >= startDay && readings[index]!.km >= 0));
  const chain = longestForwardChain(usable.map((index) => readings[index]!)).map((position) => usable[position]!);
  const kept = new Set(chain);
  const rejected = readings.map((_, index) => index).filter((index) => !kept.has(index));
  const knots: Reading[] = chain.map((index) => ({ day: readings[index]!.day, km: readings[index]!.km }));
  if (startDay !== null && !(knots[0]?.day === startDay && knots[0].km === 0)) knots.unshift({ day: startDay, km: 0 });

  const lastDay = knots[knots.length - 1]!.day;
  const priorRate = typeof prior === 'number' ? prior : prior(knots, startDay);
  let distance = priorRate * options.priorWeightDays;
  let days = options.priorWeightDays;
  for (let i = 1; i < knots.length; i += 1) {
    const a = knots[i - 1]!;
    const b = knots[i]!;
    const weight = 2 ** (-(lastDay - (a.day + b.day) / 2) / options.halfLifeDays);
    distance += weight * (b.km - a.km);
    days += weight * (b.day - a.day);
  }
  const rateKmPerDay = distance / days;
  let start = startDay ?? knots[0]!.day;
  const first = knots[0]!;
  if (startDay === null && first.km > 0 && rateKmPerDay > 0) {
    start = first.day - first.km / rateKmPerDay;
    knots.unshift({ day: start, km: 0 });
  }
  return { knots, startDay: start, rateKmPerDay, rejected };
}

/** Relative spread of a forecast that rests on the prior rate alone. */
const PRIOR_SPREAD = 0.35;
/** Readings further apart than this say no more of the rate to come. */
const MOST_COVERED_DAYS = 4 * DAYS_PER_YEAR;

/**
 * Relative sd of the forecast rate: that of the prior, narrowed by the days of use that lie between the first and the
 * last reading against the days that the prior counts for. The day it stood at 0 km is none of them: what it did on the
 * average since then may be long ago.
 */
export function forecastSpread(
  { knots }: Pick<UsagePath, 'knots'>,
  { priorWeightDays }: Pick<ForecastOptions, 'priorWeightDays'> = FORECAST_DEFAULTS,
): number {
  const first = knots.find(({ km }) => km > 0) ?? knots[0]!;
  const covered = Math.min(MOST_COVERED_DAYS, knots[knots.length - 1]!.day - first.day);
  return PRIOR_SPREAD * Math.sqrt(priorWeightDays / (priorWeightDays + covered));
}

/** Distance in km on `day`: 0 before the start, linear between knots, at the forecast rate after the last. */
export function distanceAtDay(path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>, day: number): number {
  const { knots } = path;
  const first = knots[0]!;
  const last = knots[knots.length - 1]!;
  if (day >= last.day) return last.km + (day - last.day) * path.rateKmPerDay;
  if (day <= first.day) return first.km;
  let low = 0;
  let high = knots.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (knots[middle]!.day <= day) low = middle;
    else high = middle;
  }
  const a = knots[low]!;
  const b = knots[high]!;
  return a.km + ((day - a.day) / (b.day - a.day)) * (b.km - a.km);
}

/**
 * Earliest day on which the meter shows `km`; the first knot's day for less than that, Infinity when it will never be
 * reached.
 */
export function dayAtDistance(path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>, km: number): number {
  const { knots } = path;
  const first = knots[0]!;
  if (km <= first.km) return first.day;
  for (let i = 1; i < knots.length; i += 1) {
    const a = knots[i - 1]!;
    const b = knots[i]!;
    if (km <= b.km) return a.day + ((km - a.km) / (b.km - a.km)) * (b.day - a.day);
  }
  const last = knots[knots.length - 1]!;
  return last.day + (km - last.km) / path.rateKmPerDay;
}
