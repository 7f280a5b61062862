import { dayFromDate, yearOfDay } from '../units/day.ts';

/** Seasons as workshops of the northern half of the world say them. */
export const SEASONS = ['spring', 'summer', 'autumn', 'winter'] as const;
export type Season = (typeof SEASONS)[number];

/** First month of a season; each has three. */
const FIRST_MONTH: Readonly<Record<Season, number>> = { spring: 3, summer: 6, autumn: 9, winter: 12 };

/** First day of the season that begins in `year`, and the first day after it. */
function seasonIn(year: number, season: Season): { readonly from: number; readonly to: number } {
  const month = FIRST_MONTH[season];
  const last = month + 3;
  return {
    from: dayFromDate(year, month, 1)!,
    to: dayFromDate(last > 12 ? year + 1 : year, last > 12 ? last - 12 : last, 1)!,
  };
}

/**
 * The day on which something told for a season falls due that by its interval would be due on `day`: that day where it
 * lies in the season; else the last day of the season before, unless that lies before `notBefore`; else the first of
 * the next. Day numbers.
 */
export function dayInSeason(day: number, season: Season, notBefore: number): number {
  const year = yearOfDay(day);
  const near = [year - 1, year, year + 1].map((of) => seasonIn(of, season));
  if (near.some(({ from, to }) => from <= day && day < to)) return day;
  const before = near.findLast(({ to }) => to <= day);
  if (before !== undefined && before.to - 1 >= notBefore) return before.to - 1;
  return near.find(({ from }) => from > day)!.from;
}
