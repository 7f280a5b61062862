import { dayFromDate, isoFromDay } from '../units/day.ts';

const TWO_DIGIT_PIVOT = 70;
const fullYear = (text: string): number =>
  text.length === 4 ? Number(text) : Number(text) + (Number(text) < TWO_DIGIT_PIVOT ? 2000 : 1900);

/** Adds whole months to a day, staying inside the month that is reached. */
function addMonths(day: number, months: number): number {
  const [year, month, date] = isoFromDay(day).split('-').map(Number) as [number, number, number];
  const index = year * 12 + month - 1 + months;
  const [toYear, toMonth] = [Math.floor(index / 12), (index % 12) + 1];
  for (let last = date; last > 27; last -= 1) {
    const found = dayFromDate(toYear, toMonth, last);
    if (found !== null) return found;
  }
  return dayFromDate(toYear, toMonth, date)!;
}

/**
 * A day as people type it, as a day number, or null: `2016-05-14`, `14.5.2016`, `14/05/2016` (day before month),
 * `05/2016` (the 1st), `2016-05`, `2016` (1 July, the middle of the year), `today`, `+14d`, `-3w`, `+2m`, `+1y` counted
 * from `today`.
 */
export function parseDay(text: string, today: number): number | null {
  const typed = text.trim().toLowerCase();
  if (typed === 'today') return today;
  const offset = /^([+-])\s*(\d{1,4})\s*([dwmy])$/.exec(typed);
  if (offset) {
    const count = Number(offset[2]) * (offset[1] === '-' ? -1 : 1);
    switch (offset[3] as 'd' | 'w' | 'm' | 'y') {
      case 'd':
        return today + count;
      case 'w':
        return today + 7 * count;
      case 'm':
        return addMonths(today, count);
      case 'y':
        return addMonths(today, 12 * count);
    }
  }
  const iso = /^(\d{4})-(\d{1,2})(?:-(\d{1,2}))?$/.exec(typed);
  if (iso) return dayFromDate(Number(iso[1]), Number(iso[2]), Number(iso[3] ?? 1));
  const dated = /^(\d{1,2})[./](\d{1,2})[./](\d{4}|\d{2})$/.exec(typed);
  if (dated) return dayFromDate(fullYear(dated[3]!), Number(dated[2]), Number(dated[1]));
  const monthly = /^(\d{1,2})[./](\d{4})$/.exec(typed);
  if (monthly) return dayFromDate(Number(monthly[2]), Number(monthly[1]), 1);
  return /^(19|20)\d{2}$/.test(typed) ? dayFromDate(Number(typed), 7, 1) : null;
}
