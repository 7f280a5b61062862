import type { Clock, ClockKind } from '../usage/clock.ts';

/** Interval of a recurring task on one clock; km, days or hours. */
export interface UpkeepInterval {
  readonly clock: ClockKind;
  readonly at: number;
}

/** Days on which a task was done, and what they count from. Day numbers. */
export interface UpkeepHistory {
  /**
   * Interval, whichever clock comes first; a clock without a figure for the vehicle does not count.
   */
  readonly interval: readonly UpkeepInterval[];
  readonly done: readonly number[];
  /** First registration, where the history is known from new; null: nothing before the first record counts. */
  readonly knownFrom: number | null;
  readonly nowDay: number;
  /** Part of the interval that is let pass before neglect counts. */
  readonly grace: number;
}

/** A stretch of days, from its first to its last. */
export type Stretch = readonly [from: number, to: number];

export interface UpkeepState {
  /** Day on which it next falls due; null where nothing is known to count from, Infinity where it never comes. */
  readonly dueDay: number | null;
  /** Stretches in which it was overdue beyond its grace, in order. */
  readonly overdue: readonly Stretch[];
}

type ClocksByKind = Partial<Record<ClockKind, Clock>>;

/** Day on which `part` of the interval has passed since `fromDay`, on the clock that comes to it first. */
function dayAfter(interval: readonly UpkeepInterval[], clocks: ClocksByKind, fromDay: number, part: number): number {
  return interval.reduce((first, { clock: kind, at }) => {
    const clock = clocks[kind];
    return clock ? Math.min(first, clock.dayOf(clock.at(fromDay) + part * at)) : first;
  }, Infinity);
}

/**
 * Due date of a recurring task, and the stretches in which it was overdue. It falls due like a
 * limit, counted from each time it was done, and from new if the history is known from there. With
 * an unknown history, the time before the first record does not count as neglect. Throws RangeError
 * on an interval or a grace below 0.
 */
export function upkeepState(
  { interval, done, knownFrom, nowDay, grace }: UpkeepHistory,
  clocks: ClocksByKind,
): UpkeepState {
  if (!(grace >= 0)) throw new RangeError(`grace must not lie below 0, got ${grace}`);
  for (const { clock, at } of interval)
    if (!(at > 0)) throw new RangeError(`an interval on ${clock} must lie above 0, got ${at}`);
  const anchors = [...(knownFrom === null ? [] : [knownFrom]), ...done.filter((day) => day <= nowDay)].sort(
    (a, b) => a - b,
  );
  const overdue = anchors.flatMap((from, i): Stretch[] => {
    const to = anchors[i + 1] ?? nowDay;
    const late = dayAfter(interval, clocks, from, 1 + grace);
    return late < to ? [[late, to]] : [];
  });
  const last = anchors.at(-1);
  return { dueDay: last === undefined ? null : dayAfter(interval, clocks, last, 1), overdue };
}
