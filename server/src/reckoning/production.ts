import { dayFromIso } from '@crosspeen/core';

/**
 * A vehicle is made before it is first registered, by half a year at most: the one rule by which production dates are
 * held against a registration. Days.
 */
export const MADE_BEFORE_REGISTERED = 183;

/**
 * Whether a vehicle registered on `registeredDay` (day number; null: not known) may have been made from `from` to `to`
 * (ISO dates; null: open). What is not known speaks against nothing.
 */
export const mayBeMade = (registeredDay: number | null, from: string | null, to: string | null): boolean =>
  registeredDay === null ||
  ((from === null || registeredDay >= dayFromIso(from)!) &&
    (to === null || registeredDay - MADE_BEFORE_REGISTERED <= dayFromIso(to)!));

/** The same as a condition of SQL over a column and two expressions of type date. */
export const mayBeMadeSql = (registered: string, from: string, to: string): string =>
  `((${from}) is null or ${registered} is null or ${registered} >= (${from}))
      and ((${to}) is null or ${registered} is null or ${registered} - ${MADE_BEFORE_REGISTERED} <= (${to}))`;
