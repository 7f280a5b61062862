import type { StatementFact } from '../schools/statements.ts';
import type { ClockKind } from '../usage/clock.ts';

/** Part of its custom before which what was renewed stays where it is, whatever is done beside it. */
export const YOUNG_PART = 0.25;

/** Customary life of a part on one clock before it is renewed; km, days or hours. */
export interface CustomarySpan {
  readonly clock: ClockKind;
  readonly at: number;
}

type Says = Pick<StatementFact, 'asks' | 'doubted' | 'interval' | 'strength' | 'region'>;

/** Statements are told once and asked for by every vehicle: what they come to is remembered with them. */
const KNOWN = new WeakMap<readonly Says[], Map<string | null, readonly CustomarySpan[]>>();

/**
 * Tells whether an interval is gone by on a vehicle of `market` (null: unknown): its authority is not doubted, says
 * more than hearsay, and speaks of this region or of all. Nobody is held to an edition for another part of the world.
 */
export const isTrusted = (
  { doubted, strength, region }: Pick<StatementFact, 'doubted' | 'strength' | 'region'>,
  market: string | null,
): boolean => doubted !== true && strength !== 'hearsay' && (region === null || region === market);

const middle = (sorted: readonly number[]): number => {
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
};

/**
 * The customary interval, whichever clock first: on every clock the median of what those publish who are trusted
 * and who ask for a renewal; vehicles are kept to the trade's practice, not to the shortest figure that anybody gives.
 * Empty where nobody renews it by interval.
 */
export function customOf(statements: readonly Says[], market: string | null): readonly CustomarySpan[] {
  const byMarket = KNOWN.get(statements) ?? new Map<string | null, readonly CustomarySpan[]>();
  KNOWN.set(statements, byMarket);
  const known = byMarket.get(market);
  if (known !== undefined) return known;
  const byClock = new Map<ClockKind, number[]>();
  for (const statement of statements) {
    if (statement.asks !== 'renew' || !isTrusted(statement, market)) continue;
    for (const { clock, from } of statement.interval) byClock.set(clock, [...(byClock.get(clock) ?? []), from]);
  }
  const custom = [...byClock].map(([clock, figures]) => ({ clock, at: middle(figures.sort((a, b) => a - b)) }));
  byMarket.set(market, custom);
  return custom;
}
