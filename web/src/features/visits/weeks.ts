import { dayFromIso, firstDayOfWeek } from '@crosspeen/core';

/** Visits by the first day of their week, in the order they come. */
export function byWeek<Visit extends { readonly day: string }>(
  visits: readonly Visit[],
  firstWeekday: number,
): Map<number, Visit[]> {
  const weeks = new Map<number, Visit[]>();
  for (const visit of visits) {
    const week = firstDayOfWeek(dayFromIso(visit.day)!, firstWeekday);
    weeks.set(week, [...(weeks.get(week) ?? []), visit]);
  }
  return weeks;
}
