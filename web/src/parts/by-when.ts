import { DAYS_PER_YEAR, type DistanceUnit, type Verdict } from '@crosspeen/core';
import { dayText, distanceText } from '../ui/units.ts';

/** A length of time as people say it: 12 days, 8 months, 2 years 3 months. */
export function lengthText(days: number): string {
  const of = (count: number, one: string): string => `${count} ${one}${count === 1 ? '' : 's'}`;
  const months = Math.round(days / (DAYS_PER_YEAR / 12));
  if (days < 45) return of(Math.round(days), 'day');
  if (months < 24) return of(months, 'month');
  return months % 12 === 0
    ? of(months / 12, 'year')
    : `${of(Math.floor(months / 12), 'year')} ${of(months % 12, 'month')}`;
}

/** By when something is to be done, in one form for card, row, list and file. Days are day numbers. */
export function byWhenText(
  due: { readonly verdict: Verdict; readonly day: number; readonly km: number | null },
  today: number,
  unit: DistanceUnit,
): string {
  if (due.verdict === 'hold') return 'before the vehicle is driven';
  const day = Math.floor(due.day);
  if (day < today) return `overdue since ${dayText(day)} (${lengthText(today - day)})`;
  const reading = due.km === null ? '' : ` or at ${distanceText(due.km, unit, 100)}`;
  return day === today ? 'today' : `by ${dayText(day)}${reading}`;
}
