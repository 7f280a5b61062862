import type { AuthorityMark, StatementFact, WhenFact } from '../outlook/types.ts';
import type { Clock, ClockKind } from '../usage/clock.ts';

export type ClocksByKind = Partial<Record<ClockKind, Clock>>;

/**
 * When each authority would act next, counted from the last renewal: the earliest of its clocks ("whichever first").
 * A clock this vehicle has no figure for does not count; `due` is null when nothing is left. Days are day numbers.
 */
export function authorityMarks(statements: readonly StatementFact[], clocks: ClocksByKind, installDay: number, kmAtDay: (day: number) => number): AuthorityMark[] {
  return statements.map((statement) => {
    let day = Infinity;
    for (const span of statement.interval) {
      const clock = clocks[span.clock];
      if (clock) day = Math.min(day, clock.dayOf(clock.at(installDay) + span.from));
    }
    return { statement, due: Number.isFinite(day) ? { day, km: kmAtDay(day) } : null };
  });
}

/** Book: the strictest published interval that applies, whoever published it; null when none gives one. */
export function strictest(marks: readonly AuthorityMark[]): (AuthorityMark & { readonly due: WhenFact }) | null {
  let best: (AuthorityMark & { readonly due: WhenFact }) | null = null;
  for (const mark of marks) {
    if (mark.due !== null && (best === null || mark.due.day < best.due.day)) best = { ...mark, due: mark.due };
  }
  return best;
}
