import { FAULTS } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { ShopClock } from './clock.ts';
import { badField } from './problem.ts';

/** Days for which a device may keep something before it is sent. A clock that is further behind is wrong. */
const LONGEST_KEPT = 400;

/**
 * Day on which a device made something, in the workshop's time zone, as an ISO date. An instant in the future counts as
 * today: the device's clock runs ahead. Throws bad_input if it is more than 400 days ago.
 */
export function dayMade(clock: ShopClock, madeAt: string): string {
  const today = clock.today();
  const made = dayFromIso(clock.onTheWall(new Date(madeAt)).date)!;
  if (made < today - LONGEST_KEPT) throw badField('madeAt', FAULTS.deviceClock);
  return made > today ? clock.todayIso() : clock.onTheWall(new Date(madeAt)).date;
}
