import {
  DAYS_PER_YEAR,
  dayAtDistance,
  distanceAtDay,
  fromKm,
  toKm,
  yearOfDay,
  dayFromDate,
  type DistanceUnit,
} from '@crosspeen/core';

export interface DayRange {
  readonly from: number;
  readonly to: number;
}

/** How many years ahead the strip can show. */
export type SpanYears = 2 | 4 | 8;

/** Of the strip's width, so much shows the past at most. */
const PAST_PART = 0.4;

/** The days a strip shows: `years` ahead of now, and of the past as much as there is, up to its part of the width. */
export function rangeOf(nowDay: number, startDay: number, years: SpanYears): DayRange {
  const ahead = years * DAYS_PER_YEAR;
  const past = Math.min(nowDay - startDay, (ahead * PAST_PART) / (1 - PAST_PART));
  return { from: nowDay - Math.max(past, ahead * 0.04), to: nowDay + ahead };
}

export const xOfDay = (range: DayRange, width: number, day: number): number =>
  ((day - range.from) / (range.to - range.from)) * width;

export const dayOfX = (range: DayRange, width: number, x: number): number =>
  range.from + (x / width) * (range.to - range.from);

export interface AxisTick {
  readonly x: number;
  readonly label: string;
}

const NICE = [1, 2, 5];

/** Smallest of 1, 2, 5 times a power of ten that is at least `least`. */
export function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return (NICE.find((factor) => factor * power >= least) ?? 10) * power;
}

type Path = Parameters<typeof distanceAtDay>[0];

/** Pixels that two distance ticks keep between them. */
const DISTANCE_GAP = 84;

/** Distance ticks, laid on the calendar through the usage path; `figure` writes their numbers. */
export function distanceTicks(
  path: Path,
  range: DayRange,
  width: number,
  { unit, figure }: { readonly unit: DistanceUnit; readonly figure: (value: number) => string },
): AxisTick[] {
  const first = fromKm(distanceAtDay(path, range.from), unit);
  const last = fromKm(distanceAtDay(path, range.to), unit);
  if (!(last > first)) return [];
  const step = niceStep(((last - first) * DISTANCE_GAP) / width);
  const ticks: AxisTick[] = [];
  for (let value = Math.ceil(first / step) * step; value <= last; value += step) {
    const x = xOfDay(range, width, dayAtDistance(path, toKm(value, unit)));
    const before = ticks.at(-1);
    // A path that was steep in the past crowds its ticks: the crowded ones are left out, not drawn over each other.
    if (x >= 26 && x <= width - 26 && (before === undefined || x - before.x >= DISTANCE_GAP * 0.7))
      ticks.push({ x, label: figure(value) });
  }
  return ticks;
}

/** First of January of every year (or every second, fourth) in range. */
export function yearTicks(range: DayRange, width: number, gap = 56): AxisTick[] {
  const years = yearOfDay(range.to) - yearOfDay(range.from) + 1;
  const step = Math.max(1, Math.ceil((years * gap) / width));
  const ticks: AxisTick[] = [];
  for (let year = yearOfDay(range.from); year <= yearOfDay(range.to); year += 1) {
    const x = xOfDay(range, width, dayFromDate(year, 1, 1)!);
    if (year % step === 0 && x >= 16 && x <= width - 16) ticks.push({ x, label: String(year) });
  }
  return ticks;
}
