import { dayFromIso } from '@crosspeen/core';

/** First day of the week that a day lies in, with the week starting on `firstWeekday` (0 Sunday, 1 Monday). */
const weekOf = (day: number, firstWeekday: number): number => day - ((((day + 4) % 7) - firstWeekday + 7) % 7);

/** Visits by the first day of their week, in the order they come. */
export function byWeek<Visit extends { readonly day: string }>(
  visits: readonly Visit[],
  firstWeekday: number,
): Map<number, Visit[]> {
  const weeks = new Map<number, Visit[]>();
  for (const visit of visits) {
    const week = weekOf(dayFromIso(visit.day)!, firstWeekday);
    weeks.set(week, [...(weeks.get(week) ?? []), visit]);
  }
  return weeks;
}
