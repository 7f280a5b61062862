/** Forecast of one weak point on the days of its grid. Chances in [0, 1]. */
export interface ItemForecast {
  readonly weakPointId: string;
  /** Chance of failing within one service interval from each day, given that it runs on that day. */
  readonly chance: readonly number[];
  /** Chance, seen from now, of having failed by each day while nothing is renewed. */
  readonly failed: readonly number[];
  /** Chance that a part put in new has failed once it is as old as each day lies ahead, at the use that is forecast. */
  readonly renewed: readonly number[];
}

/**
 * The chances of all weak points of one vehicle over the days ahead, with and without a renewal: plain numbers, so that
 * it goes through a wire, a file or a worker as it is. Whoever plans, quotes or draws reads the same one.
 */
export interface Forecast {
  /** Day number that everything is seen from. */
  readonly nowDay: number;
  /** Days of one service interval, which `chance` is over. */
  readonly serviceDays: number;
  /** Days ahead of now, ascending from 0. */
  readonly ahead: readonly number[];
  readonly items: readonly ItemForecast[];
}

/** A chance of having failed between two days of the forecast: what still runs goes on at a constant hazard. */
function failedAt(ahead: readonly number[], failed: readonly number[], days: number): number {
  if (days <= 0) return 0;
  const next = ahead.findIndex((day) => day >= days);
  if (next < 0) return failed[failed.length - 1]!;
  if (next === 0 || ahead[next] === days) return failed[next]!;
  const part = (days - ahead[next - 1]!) / (ahead[next]! - ahead[next - 1]!);
  const [before, after] = [failed[next - 1]!, failed[next]!];
  return after >= 1
    ? before + part * (1 - before)
    : -Math.expm1((1 - part) * Math.log1p(-before) + part * Math.log1p(-after));
}

/**
 * Chance, seen from now, that a weak point left as it is has failed by a day number; 0 before now, and no more than by
 * the last day of the forecast after that.
 */
export const failedByDay = (
  { nowDay, ahead }: Pick<Forecast, 'nowDay' | 'ahead'>,
  { failed }: Pick<ItemForecast, 'failed'>,
  day: number,
): number => failedAt(ahead, failed, day - nowDay);

/** Chance that a part put in new on `renewedDay` has failed by `day`, both day numbers. */
export const failedAfterRenewal = (
  { ahead }: Pick<Forecast, 'ahead'>,
  { renewed }: Pick<ItemForecast, 'renewed'>,
  renewedDay: number,
  day: number,
): number => failedAt(ahead, renewed, day - renewedDay);

/**
 * Chance that at least one of some weak points has failed by a day, each failing of its own: 1 less the product of the
 * chances that they have not. Weak points that the forecast does not hold add nothing.
 */
export function anyFailedByDay(forecast: Forecast, weakPointIds: readonly string[], day: number): number {
  return weakPointIds.reduce((failed, id) => {
    const item = forecast.items.find(({ weakPointId }) => weakPointId === id);
    return item === undefined ? failed : failed + (1 - failed) * failedByDay(forecast, item, day);
  }, 0);
}
