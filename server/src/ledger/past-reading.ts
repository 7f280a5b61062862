import { FAULTS } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { ShopClock } from '../platform/clock.ts';
import { badField } from '../platform/problem.ts';

/** What was read off a meter, which is never ahead of today. Throws bad_input for a day that has not come. */
export function pastReading<T extends { readonly day: string }>(clock: ShopClock, reading: T): T {
  if (dayFromIso(reading.day)! > clock.today()) throw badField('day', FAULTS.readingToCome);
  return reading;
}
