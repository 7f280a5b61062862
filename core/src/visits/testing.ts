import type { Forecast, ItemForecast } from '../forecast/forecast.ts';

export const NOW = 20_000;
/** Every thirty days for sixteen years. */
export const ahead: readonly number[] = Array.from({ length: 196 }, (_, i) => i * 30);

/** A part of a Weibull life in days, so many days old, and its successors. */
export function wears(
  weakPointId: string,
  { scale, shape, age }: { scale: number; shape: number; age: number },
): ItemForecast {
  const hazard = (days: number): number => (days / scale) ** shape;
  const failed = ahead.map((days) => -Math.expm1(hazard(age) - hazard(age + days)));
  return { weakPointId, failed, renewed: ahead.map((days) => -Math.expm1(-hazard(days))), chance: failed };
}

export const forecastOf = (...items: ItemForecast[]): Forecast => ({ nowDay: NOW, serviceDays: 365, ahead, items });

/** Time that runs down from 1 to 0 in so many asks. */
export const left = (most: number): (() => number) => {
  let asked = 0;
  return () => {
    asked += 1;
    return 1 - asked / most;
  };
};
