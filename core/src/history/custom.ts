import type { StatementFact } from '../schools/statements.ts';
import type { ClockKind } from '../usage/clock.ts';

/** Customary life of a part on one clock before it is renewed; km, days or hours. */
export interface CustomarySpan {
  readonly clock: ClockKind;
  readonly at: number;
}

type Says = Pick<StatementFact, 'asks' | 'doubted' | 'interval'>;

/** Statements are told once and asked for by every vehicle: what they come to is remembered with them. */
const KNOWN = new WeakMap<readonly Says[], readonly CustomarySpan[]>();

const middle = (sorted: readonly number[]): number => {
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
};

/**
 * The customary interval, whichever clock first: on every clock the median of what those publish who are not doubted
 * and who ask for a renewal; vehicles are kept to the trade's practice, not to the shortest figure that anybody gives.
 * Empty where nobody renews it by interval.
 */
export function customOf(statements: readonly Says[]): readonly CustomarySpan[] {
  const known = KNOWN.get(statements);
  if (known !== undefined) return known;
  const byClock = new Map<ClockKind, number[]>();
  for (const { asks, doubted, interval } of statements) {
    if (asks !== 'renew' || doubted === true) continue;
    for (const { clock, from } of interval) byClock.set(clock, [...(byClock.get(clock) ?? []), from]);
  }
  const custom = [...byClock].map(([clock, figures]) => ({ clock, at: middle(figures.sort((a, b) => a - b)) }));
  KNOWN.set(statements, custom);
  return custom;
}
