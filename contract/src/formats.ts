import { z } from 'zod';

/** Locales for numbers, through `Intl`; the example shows 12,345.6. */
export const NUMBER_FORMATS = {
  'en-GB': '12,345.6',
  'de-DE': '12.345,6',
  'fr-FR': '12 345,6',
  'de-CH': '12’345.6',
  'en-IN': '12,345.6 and 1,23,456',
} as const;
export type NumberFormat = keyof typeof NUMBER_FORMATS;

/** Locales for dates, through `Intl`; the names of the months stay English. */
export const DATE_FORMATS = { 'en-GB': '5 Mar 2027', 'en-US': 'Mar 5, 2027', 'sv-SE': '2027-03-05' } as const;
export type DateFormat = keyof typeof DATE_FORMATS;

const keys = <T extends string>(table: Record<T, unknown>): [T, ...T[]] => Object.keys(table) as [T, ...T[]];
export const numberFormat = z.enum(keys(NUMBER_FORMATS));
export const dateFormat = z.enum(keys(DATE_FORMATS));

/** Tells whether `Intl` knows a time zone by this name. */
export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** A time zone by its name in the time zone database, such as Europe/Lisbon. */
export const timeZone = z
  .string()
  .max(60)
  .refine(isTimeZone, { message: 'must be the name of a time zone, such as Europe/Lisbon or UTC' });

/** A time of the day on 24 hours. */
export const timeOfDay = z
  .string()
  .regex(/^([01][0-9]|2[0-3]):[0-5][0-9]$/, { message: 'must be a time of the day, such as 02:30' });
