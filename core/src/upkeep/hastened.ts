import { CLOCK_KINDS, type Clock, type ClocksByKind } from '../usage/clock.ts';
import type { Stretch } from './upkeep.ts';

/** How fast a protected clock runs while a task is overdue. */
export interface Neglect {
  readonly overdue: readonly Stretch[];
  readonly factor: number;
}

/** Piece of a hastened clock from a day on: its value there, and its speed until the next piece. */
interface Piece {
  readonly day: number;
  readonly shows: number;
  readonly factor: number;
}

/** The clock in pieces of one pace each; where several tasks are overdue at once their factors multiply. */
function piecesOf(clock: Clock, neglects: readonly Neglect[]): Piece[] {
  const days = [...new Set(neglects.flatMap(({ overdue }) => overdue.flat()))].sort((a, b) => a - b);
  const paceFrom = (day: number): number =>
    neglects.reduce(
      (pace, { overdue, factor }) => (overdue.some(([from, to]) => from <= day && day < to) ? pace * factor : pace),
      1,
    );
  const pieces: Piece[] = [];
  for (const day of days) {
    const before = pieces.at(-1);
    const shows =
      before === undefined ? clock.at(day) : before.shows + before.factor * (clock.at(day) - clock.at(before.day));
    pieces.push({ day, shows, factor: paceFrom(day) });
  }
  return pieces;
}

/**
 * A clock of a part as its neglect has carried it: it runs `factor` times as fast in every overdue stretch and at its
 * own pace outside, so that a vehicle serviced late once is not punished for ever. Same unit as the clock; only
 * differences mean something.
 */
export function hastenedClock(clock: Clock, neglects: readonly Neglect[]): Clock {
  const pieces = piecesOf(clock, neglects);
  const first = pieces[0];
  if (first === undefined) return clock;
  return {
    kind: clock.kind,
    at: (day) => {
      const piece = pieces.findLast((one) => one.day <= day);
      return piece === undefined ? clock.at(day) : piece.shows + piece.factor * (clock.at(day) - clock.at(piece.day));
    },
    dayOf: (value) => {
      const piece = pieces.findLast((one) => one.shows < value);
      return piece === undefined
        ? clock.dayOf(value)
        : clock.dayOf(clock.at(piece.day) + (value - piece.shows) / piece.factor);
    },
  };
}

/** All clocks of a vehicle as neglect has carried them. */
export const hastenedClocks = (clocks: ClocksByKind, neglects: readonly Neglect[]): ClocksByKind =>
  neglects.length === 0
    ? clocks
    : Object.fromEntries(
        CLOCK_KINDS.flatMap((kind) => {
          const clock = clocks[kind];
          return clock === undefined ? [] : [[kind, hastenedClock(clock, neglects)]];
        }),
      );

/**
 * Run of a part's clock between `fromDay` and `toDay`, hastened while the task that protects it was
 * overdue: x(to) - x(from) + sum over the overdue stretches of (factor - 1) times the run in them.
 */
export function neglectedRun(clock: Clock, fromDay: number, toDay: number, neglects: readonly Neglect[]): number {
  const hastened = hastenedClock(clock, neglects);
  return hastened.at(toDay) - hastened.at(fromDay);
}
