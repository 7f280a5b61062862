import { DAYS_PER_YEAR } from '../units/day.ts';

export const RIBBON = { horizonYears: 8, pastYears: 8, futureBins: 32, pastBins: 16 } as const;

const HORIZON = RIBBON.horizonYears * DAYS_PER_YEAR;

/** The days that everything ahead and every lane is reckoned on, taken once for all weak points of a vehicle. */
export interface Grid {
  readonly nowDay: number;
  readonly serviceDays: number;
  /**
   * Days ahead of now, ascending from 0 in equal steps: to the horizon, and beyond it by one service interval at least.
   */
  readonly aheadDays: Float64Array;
  /** First days of the past bins. */
  readonly pastDays: Float64Array;
  /** Edges of all bins, past and future; one more than there are bins. */
  readonly edges: readonly number[];
}

/** Lays the grid: `pastFromDay` is the first day shown. Days are day numbers. */
export function layGrid(nowDay: number, pastFromDay: number, serviceDays: number): Grid {
  const step = HORIZON / RIBBON.futureBins;
  const steps = RIBBON.futureBins + Math.ceil(serviceDays / step);
  const pastWidth = (nowDay - pastFromDay) / RIBBON.pastBins;
  const pastDays = Float64Array.from({ length: RIBBON.pastBins }, (_, i) => pastFromDay + i * pastWidth);
  return {
    nowDay,
    serviceDays,
    pastDays,
    aheadDays: Float64Array.from({ length: steps + 1 }, (_, i) => step * i),
    edges: [...pastDays, ...Array.from({ length: RIBBON.futureBins + 1 }, (_, i) => nowDay + step * i)],
  };
}

/** A list of vehicles looks for due dates so far ahead; one vehicle's own page looks to the end of its strip. */
export const FLEET_YEARS = 3;
