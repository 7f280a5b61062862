import type { ItemForecast } from '../forecast/forecast.ts';
import type { Inspection } from '../life/risk.ts';
import { RIBBON, type Grid } from './grid.ts';
import { failedByLife, type PartMixture } from './mixture.ts';

/**
 * Beyond this chance of having failed the digits left say nothing; what still runs then is taken to go on as it did
 * before.
 */
const MOST_FAILED = 1 - 1e-9;

/** ln(1 - failed) on each day; where nothing to speak of still runs, the last hazard goes on. */
function logRunning(failed: readonly number[], applies: number): Float64Array {
  const log = new Float64Array(failed.length);
  failed.forEach((chance, i) => {
    const known = i < 2 || applies * chance < MOST_FAILED;
    log[i] = known ? Math.log1p(-Math.min(MOST_FAILED, applies * chance)) : 2 * log[i - 1]! - log[i - 2]!;
  });
  return log;
}

/**
 * The chance of still running on each day ahead of the grid, seen from now, as a logarithm: by life where lives stand
 * apart, else for all of them at once.
 */
export interface Running {
  readonly lives: readonly {
    readonly weight: number;
    readonly log: Float64Array;
    /** Chance of having failed already. */
    readonly now: number;
  }[];
}

/**
 * Lays out the chance of still running on each day ahead of the grid; `applies` is the chance that the weak point is
 * there at all. Between grid days its logarithm is taken as linear, that is, the hazard as constant.
 */
export function runningOn(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  grid: Pick<Grid, 'nowDay' | 'aheadDays'>,
  applies: number,
): Running {
  const lives = failedByLife(
    thinned,
    inspections,
    grid.nowDay,
    Array.from(grid.aheadDays, (ahead) => grid.nowDay + ahead),
  );
  return { lives: lives.map(({ weight, by, now }) => ({ weight, log: logRunning(by, applies), now: applies * now })) };
}

/** Chance of still running on the grid's day `at`, seen from now. */
export const runningChance = ({ lives }: Running, at: number): number =>
  lives.reduce((sum, { weight, log }) => sum + weight * Math.exp(log[at]!), 0);

/** The logarithm of one life at any number of days ahead. */
function logAt({ aheadDays }: Pick<Grid, 'aheadDays'>, log: Float64Array, ahead: number): number {
  const last = aheadDays.length - 1;
  const position = (ahead / aheadDays[last]!) * last;
  const i = Math.min(last - 1, Math.floor(position));
  return log[i]! + (position - i) * (log[i + 1]! - log[i]!);
}

/** The bare chances ahead, what may have failed already counted in, on the days of the grid up to its horizon. */
export type Ahead = Pick<ItemForecast, 'chance' | 'failed'>;

/** Forecast of a part that is left as it is, on the days of the grid up to its horizon. */
export function aheadOf(grid: Grid, { lives }: Running): Ahead {
  const days = Array.from(grid.aheadDays.subarray(0, RIBBON.futureBins + 1));
  return {
    chance: days.map((ahead, i) =>
      lives.reduce((sum, { weight, log, now }) => {
        const failing = -Math.expm1(logAt(grid, log, ahead + grid.serviceDays) - log[i]!);
        return sum + weight * (now + (1 - now) * failing);
      }, 0),
    ),
    failed: days.map((_, i) => lives.reduce((sum, { weight, log }) => sum - weight * Math.expm1(log[i]!), 0)),
  };
}
