import type { Inspection } from '../life/risk.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import type { Grid } from './grid.ts';
import { failedBy, failedByLife, type PartMixture } from './mixture.ts';

/** Service intervals shorter than this are not walked one by one: a year at a time is close enough. */
const SHORT_INTERVAL = 180;
/**
 * Parts that the step with the crossing is then divided into; between two of them the chance is as good as straight.
 */
const CROSSING_PARTS = 4;

export interface CrossingQuestion {
  /** Weight of its applying to this vehicle. */
  readonly applies: number;
  readonly limit: number;
  /** P(susceptible | running): a chance never rises above it, so that many need no looking for. */
  readonly susceptible: number;
  /** Length of the search, years ahead. */
  readonly years: number;
}

/**
 * Tells whether the chance stays under the limit on all the days up to `lastDay`: over one interval it is at most the
 * chance of having failed by the end of the last one, since (after - before) / (1 - before) <= after.
 */
function staysUnder(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  { nowDay, lastDay }: { readonly nowDay: number; readonly lastDay: number },
  { applies, limit }: Pick<CrossingQuestion, 'applies' | 'limit'>,
): boolean {
  const { by, now } = failedBy(thinned, inspections, nowDay, [lastDay]);
  return applies * (now + by[0]!) < limit;
}

/**
 * Days ahead at which the chance over one service interval first reaches `limit`, to about a day; 0 when it has, null
 * when it does not within `years`.
 */
export function crossing(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  { nowDay, serviceDays }: Pick<Grid, 'nowDay' | 'serviceDays'>,
  { applies, limit, susceptible, years }: CrossingQuestion,
): number | null {
  if (applies * susceptible < limit) return null;
  const step = serviceDays < SHORT_INTERVAL ? DAYS_PER_YEAR : serviceDays;
  const steps = Math.floor((years * DAYS_PER_YEAR) / step);
  const lastDay = nowDay + steps * step + serviceDays;
  if (staysUnder(thinned, inspections, { nowDay, lastDay }, { applies, limit })) return null;
  /**
   * Chances from `count` days on, `step` apart. Where the step is the interval itself, the end of one is the beginning
   * of the next.
   */
  const chances = (start: number, step: number, count: number): number[] => {
    const chained = step === serviceDays;
    const days: number[] = [];
    for (let i = 0; i < count; i += 1) {
      days.push(nowDay + start + i * step);
      if (!chained || i === count - 1) days.push(nowDay + start + i * step + serviceDays);
    }
    const lives = failedByLife(thinned, inspections, nowDay, days);
    return Array.from({ length: count }, (_, i) =>
      lives.reduce((sum, { weight, by, now }) => {
        const [before, after] = chained ? [by[i]!, by[i + 1]!] : [by[2 * i]!, by[2 * i + 1]!];
        const running = 1 - applies * before;
        const failing = running <= 0 ? 1 : (applies * (after - before)) / running;
        // What may have failed already counts towards it on every day.
        const already = applies * now;
        return sum + weight * (already + (1 - already) * failing);
      }, 0),
    );
  };
  const coarse = chances(0, step, steps + 1);
  const first = coarse.findIndex((chance) => chance >= limit);
  if (first <= 0) return first === 0 ? 0 : null;
  const part = step / CROSSING_PARTS;
  const start = (first - 1) * step;
  const fine = [coarse[first - 1]!, ...chances(start + part, part, CROSSING_PARTS - 1), coarse[first]!];
  const next = fine.findIndex((chance) => chance >= limit);
  const [low, high] = [fine[next - 1]!, fine[next]!];
  return start + part * (next - 1 + (limit - low) / (high - low));
}

/** Step of the final search in days, and the number of days tried at once. */
const NEAR_DAYS = 1;
const PARTS_AT_ONCE = 20;

/**
 * Days from now within `days` until the chance of having failed by then comes to `limit`, to about a day; null when it
 * does not.
 */
export function dayReached(
  mixture: PartMixture,
  inspections: readonly Inspection[],
  nowDay: number,
  { applies, limit, days }: { readonly applies: number; readonly limit: number; readonly days: number },
): number | null {
  const failed = (ahead: readonly number[]): readonly number[] =>
    failedBy(
      mixture,
      inspections,
      nowDay,
      ahead.map((day) => nowDay + day),
    ).by.map((by) => applies * by);
  let [low, high] = [0, days];
  if (failed([high])[0]! < limit) return null;
  while (high - low > NEAR_DAYS) {
    const step = (high - low) / PARTS_AT_ONCE;
    const between = Array.from({ length: PARTS_AT_ONCE }, (_, i) => high - step * i);
    // That the first of them reaches it is known, whatever the last digit of another sum says.
    const last = Math.max(
      0,
      failed(between).findLastIndex((by) => by >= limit),
    );
    [low, high] = [between[last]! - step, between[last]!];
  }
  return high;
}
