import type { VehiclePlanning } from '@crosspeen/contract';
import { keepOrLetGo, type Keeping, type YearCost } from '@crosspeen/core';
import type { YearsAhead } from './use-planner.ts';

/** What another vehicle is taken to cost a year where nobody says, minor units. A view, to be overwritten. */
export const OTHER_PER_YEAR = 240_000;

/** What keeping a vehicle comes to, with all that is planned; null where nothing is said of its worth. */
export const keepingOf = (
  years: readonly YearCost[],
  { worthMinor, lossPerYear, otherPerYearMinor }: VehiclePlanning,
): Keeping =>
  keepOrLetGo(years, { now: worthMinor ?? 0, lossPerYear, otherPerYear: otherPerYearMinor ?? OTHER_PER_YEAR });

/** What all years together cost with everything done, and without one thing; null where there is no plan without it. */
export function withAndWithout(ahead: YearsAhead): readonly { key: string; with: number; without: number | null }[] {
  const sum = (years: readonly YearCost[]): number => years.reduce((all, { total }) => all + total, 0);
  if (ahead.years === null) return [];
  const whole = sum(ahead.years);
  return ahead.without.map(({ key, years }) => ({ key, with: whole, without: years && sum(years) }));
}
