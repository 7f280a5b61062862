import { chanceShown } from '@crosspeen/core';
import { DAYS_PER_YEAR, fromKm, type DistanceUnit, type Span } from '@crosspeen/core';
import type { Settings } from '@crosspeen/contract';
import { amountText, formats, oneDigitText, wholeAmountText, wholeText } from './formats.ts';

const DAY_MS = 86_400_000;
/** A day number as a date: 5 Mar 2027. */
export const dayText = (day: number): string => formats().day.format(day * DAY_MS);
export const monthText = (day: number): string => formats().month.format(day * DAY_MS);
export const isoText = (iso: string): string => formats().day.format(new Date(`${iso}T00:00:00Z`));
export const instantText = (iso: string): string => formats().instant.format(new Date(iso));
export const todayDistance = (days: number): string => {
  const count = Math.round(days);
  if (count === 0) return 'today';
  return count > 0
    ? `in ${wholeText(count)} ${count === 1 ? 'day' : 'days'}`
    : `${wholeText(-count)} ${count === -1 ? 'day' : 'days'} ago`;
};

/** A distance in the vehicle's own unit, rounded to what it is worth knowing; figure and unit stay on one line. */
export function distanceText(km: number, unit: DistanceUnit, step = 1): string {
  // Hours are fewer than kilometres: they are rounded less.
  const round = unit === 'h' ? Math.max(1, step / 10) : step;
  return `${wholeText(Math.round(fromKm(km, unit) / round) * round)}\u00a0${unit}`;
}

/** A chance as a short figure: `< 0.1 %`, `0.3 %`, `12 %`, `> 99 %`. */
export function percentText(chance: number): string {
  const { percent, beyond } = chanceShown(chance);
  const figure = percent < 10 ? oneDigitText(percent) : wholeText(percent);
  return `${beyond === null ? '' : beyond === 'under' ? '< ' : '> '}${figure} %`;
}

export const moneyText = (minor: number, { currency }: Pick<Settings, 'currency'>): string =>
  amountText(minor, currency);

/** Money that is expected or estimated, from minor units, without cents. */
export const aboutMoneyText = (minor: number, { currency }: Pick<Settings, 'currency'>): string =>
  wholeAmountText(minor, currency);

function spanText({ clock, from, to, open }: Span, meter: DistanceUnit): string {
  // A window told in km stays one on a machine that counts hours.
  const unit = meter === 'h' ? 'km' : meter;
  const figure = (value: number): string => {
    switch (clock) {
      case 'distance':
        return wholeText(Math.round(fromKm(value, unit) / 1000) * 1000);
      case 'age':
        return oneDigitText(value / DAYS_PER_YEAR);
      case 'hours':
        return wholeText(value);
    }
  };
  const one = from === to && clock === 'age' && oneDigitText(to / DAYS_PER_YEAR) === '1';
  const name = one ? 'year' : { distance: unit, age: 'years', hours: 'engine hours' }[clock];
  if (clock === 'age' && to < DAYS_PER_YEAR) return `${wholeText(to / (DAYS_PER_YEAR / 12))} months`;
  if (open) return `from ${figure(from)} ${name} on`;
  return from === to ? `${figure(from)} ${name}` : `${figure(from)} to ${figure(to)} ${name}`;
}

/** Spans as people say them: 90,000 to 130,000 km or 8 to 12 years. */
export const spansText = (spans: readonly Span[], unit: DistanceUnit, joint = ' or '): string =>
  spans.map((span) => spanText(span, unit)).join(joint);
