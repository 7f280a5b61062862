import type { AuthorityMark, StatementFact, StatementStanding, WhenFact } from './statements.ts';
import type { ClocksByKind } from '../usage/clock.ts';

/** The year an edition names ("2013", "letter 12/2013"); null when it names none. */
export const editionYear = (edition: string | null): number | null => {
  const years = [...(edition ?? '').matchAll(/(?:19|20)\d{2}/g)].map(([year]) => Number(year));
  return years.length === 0 ? null : Math.max(...years);
};

/**
 * Standing of each statement for a vehicle of `market` (null: unknown). A statement for a region
 * counts there alone; where it counts, a regional edition of the book precedes the general one; the
 * latest edition of one authority counts. Statements that are set aside stay on the page.
 */
export function standings(statements: readonly StatementFact[], market: string | null): readonly StatementStanding[] {
  const byMarket = STANDINGS.get(statements) ?? new Map<string | null, readonly StatementStanding[]>();
  STANDINGS.set(statements, byMarket);
  const known = byMarket.get(market) ?? weighed(statements, market);
  byMarket.set(market, known);
  return known;
}

/**
 * Standings of the statements of a library row, cached: every vehicle of the family asks for the
 * same.
 */
const STANDINGS = new WeakMap<readonly StatementFact[], Map<string | null, readonly StatementStanding[]>>();

function weighed(statements: readonly StatementFact[], market: string | null): StatementStanding[] {
  const inRegion = (statement: StatementFact): boolean =>
    statement.region === null || market === null || statement.region === market;
  const regional =
    market === null
      ? undefined
      : statements.find(
          (statement) =>
            statement.kind === 'regional_book' && statement.region === market && statement.interval.length > 0,
        );
  return statements.map((statement) => {
    if (!inRegion(statement)) return { counts: false, because: 'other_region', by: statement.region };
    const year = editionYear(statement.edition);
    const later =
      year === null
        ? undefined
        : statements.find(
            (other) =>
              other.authority === statement.authority && inRegion(other) && (editionYear(other.edition) ?? 0) > year,
          );
    if (later) return { counts: false, because: 'later_edition', by: later.edition };
    if (regional && statement.kind === 'book')
      return { counts: false, because: 'regional_edition', by: regional.authority };
    return { counts: true };
  });
}

/**
 * Next date of each authority: the earliest of its clocks ("whichever first"), counted from the
 * last renewal, and for a look from the last look at the present part. A clock without a figure for
 * this vehicle does not count; `due` is null if none is left. Days are day numbers.
 */
export function authorityMarks(
  statements: readonly StatementFact[],
  clocks: ClocksByKind,
  {
    installDay,
    lookDay,
    kmAtDay,
    market,
  }: {
    readonly installDay: number;
    readonly lookDay: number | null;
    readonly kmAtDay: (day: number) => number;
    readonly market: string | null;
  },
): AuthorityMark[] {
  const standing = standings(statements, market);
  return statements.map((statement, i) => {
    let day = Infinity;
    const fromDay = statement.asks === 'look' ? Math.max(installDay, lookDay ?? installDay) : installDay;
    for (const span of statement.interval) {
      const clock = clocks[span.clock];
      if (clock) day = Math.min(day, clock.dayOf(clock.at(fromDay) + span.from));
    }
    return { statement, standing: standing[i]!, due: Number.isFinite(day) ? { day, km: kmAtDay(day) } : null };
  });
}

/**
 * Book: the strictest published interval that speaks for this vehicle, whoever published it; null when none gives one.
 */
export function strictest<Mark extends Pick<AuthorityMark, 'due' | 'standing'>>(
  marks: readonly Mark[],
): (Mark & { readonly due: WhenFact }) | null {
  let best: (Mark & { readonly due: WhenFact }) | null = null;
  for (const mark of marks) {
    if (mark.due !== null && mark.standing.counts && (best === null || mark.due.day < best.due.day))
      best = { ...mark, due: mark.due };
  }
  return best;
}
