/** Day numbers: whole days since 1970-01-01 in UTC. Dates are dates; no time zone ever shifts them. */
const MS_PER_DAY = 86_400_000;
export const DAYS_PER_YEAR = 365.25;

/** Day number of a calendar date, or null when there is no such date (31 February). Month is 1 to 12. */
export function dayFromDate(year: number, month: number, date: number): number | null {
  const time = Date.UTC(year, month - 1, date);
  const back = new Date(time);
  // A date that overflows lies in another month.
  return back.getUTCFullYear() === year && back.getUTCMonth() === month - 1 ? time / MS_PER_DAY : null;
}

/** Day number of an ISO date (YYYY-MM-DD), or null when it is none. Example: 2000-01-01 is day 10957. */
export function dayFromIso(iso: string): number | null {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(iso);
  return match ? dayFromDate(Number(match[1]), Number(match[2]), Number(match[3])) : null;
}

/** ISO date (YYYY-MM-DD) of a day number; fractions of a day fall on the day they began. */
export function isoFromDay(day: number): string {
  return new Date(Math.floor(day) * MS_PER_DAY).toISOString().slice(0, 10);
}

/** Calendar year of a day number. */
export const yearOfDay = (day: number): number => new Date(Math.floor(day) * MS_PER_DAY).getUTCFullYear();

/** Day number of an instant. */
export const dayFromInstant = (instant: Date): number => Math.floor(instant.getTime() / MS_PER_DAY);

/** First day of the week that a day number lies in, with the week starting on `firstWeekday` (0 Sunday, 1 Monday). */
export const firstDayOfWeek = (day: number, firstWeekday: number): number =>
  day - ((((day + 4) % 7) - firstWeekday + 7) % 7);
