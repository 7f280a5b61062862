import { DAYS_PER_YEAR, fromKm, type DistanceUnit, type Span } from '@crosspeen/core';
import type { Settings } from '@crosspeen/contract';

const DAY_MS = 86_400_000;
const dayFormat = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  timeZone: 'UTC',
});
const monthFormat = new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' });
const instantFormat = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});
const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const oneDigit = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 1 });

/** A day number as a date: 5 Mar 2027. */
export const dayText = (day: number): string => dayFormat.format(day * DAY_MS);
export const monthText = (day: number): string => monthFormat.format(day * DAY_MS);
export const isoText = (iso: string): string => dayFormat.format(new Date(`${iso}T00:00:00Z`));
export const instantText = (iso: string): string => instantFormat.format(new Date(iso));
export const todayDistance = (days: number): string => {
  const count = Math.round(days);
  if (count === 0) return 'today';
  return count > 0
    ? `in ${whole.format(count)} ${count === 1 ? 'day' : 'days'}`
    : `${whole.format(-count)} ${count === -1 ? 'day' : 'days'} ago`;
};

/** A distance in the vehicle's own unit, rounded to what it is worth knowing; figure and unit stay on one line. */
export function distanceText(km: number, unit: DistanceUnit, step = 1): string {
  // Hours are fewer than kilometres: they are rounded less.
  const round = unit === 'h' ? Math.max(1, step / 10) : step;
  return `${whole.format(Math.round(fromKm(km, unit) / round) * round)}\u00a0${unit}`;
}

/** A chance as a percentage that never reads 0 or 100 when it is neither. */
export function percentText(chance: number): string {
  if (chance < 0.001) return '< 0.1 %';
  if (chance < 0.0995) return `${oneDigit.format(chance * 100)} %`;
  return chance > 0.995 ? '> 99 %' : `${whole.format(chance * 100)} %`;
}

/** Minutes of labour as hours: 3 h 10. */
export const minutesText = (minutes: number): string =>
  minutes < 60
    ? `${minutes} min`
    : `${Math.floor(minutes / 60)} h${minutes % 60 === 0 ? '' : ` ${String(minutes % 60).padStart(2, '0')}`}`;

export const moneyText = (minor: number, { currency }: Pick<Settings, 'currency'>): string =>
  new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(minor / 100);

function spanText({ clock, from, to, open }: Span, meter: DistanceUnit): string {
  // A window told in km stays one on a machine that counts hours.
  const unit = meter === 'h' ? 'km' : meter;
  const figure = (value: number): string => {
    switch (clock) {
      case 'distance':
        return whole.format(Math.round(fromKm(value, unit) / 1000) * 1000);
      case 'age':
        return oneDigit.format(value / DAYS_PER_YEAR);
      case 'hours':
        return whole.format(value);
    }
  };
  const one = from === to && clock === 'age' && oneDigit.format(to / DAYS_PER_YEAR) === '1';
  const name = one ? 'year' : { distance: unit, age: 'years', hours: 'engine hours' }[clock];
  if (clock === 'age' && to < DAYS_PER_YEAR) return `${whole.format(to / (DAYS_PER_YEAR / 12))} months`;
  if (open) return `from ${figure(from)} ${name} on`;
  return from === to ? `${figure(from)} ${name}` : `${figure(from)} to ${figure(to)} ${name}`;
}

/** Spans as people say them: 90,000 to 130,000 km or 8 to 12 years. */
export const spansText = (spans: readonly Span[], unit: DistanceUnit, joint = ' or '): string =>
  spans.map((span) => spanText(span, unit)).join(joint);
