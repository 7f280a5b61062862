import { dayFromInstant, dayFromIso, isoFromDay } from '@crosspeen/core';

export interface ShopClock {
  now(): Date;
  /** Today as a day number. */
  today(): number;
  /** Today as an ISO date. */
  todayIso(): string;
}

/**
 * The real clock, or one that stands at a fixed instant (`CROSSPEEN_NOW`, an ISO date or instant) for tests. Throws on
 * a fixed value that is none.
 */
export function shopClock(fixed?: string): ShopClock {
  const base =
    fixed === undefined || fixed === '' ? null : new Date(dayFromIso(fixed) === null ? fixed : `${fixed}T12:00:00Z`);
  if (base !== null && Number.isNaN(base.getTime()))
    throw new Error(`CROSSPEEN_NOW must be an ISO date or instant, got ${fixed}`);
  const now = (): Date => base ?? new Date();
  return { now, today: () => dayFromInstant(now()), todayIso: () => isoFromDay(dayFromInstant(now())) };
}
