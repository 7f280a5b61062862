import { dayFromIso, isoFromDay, monthOfPlan, PLAN_MONTH_DAYS, type Pins } from '@crosspeen/core';

/** Where something is put that is put off beyond what is planned. */
const LATER = 'later';

/** A day in the middle of a month of the planner. */
export const middleOf = (nowDay: number, month: number): number => nowDay + Math.round((month + 0.5) * PLAN_MONTH_DAYS);

/** What was put somewhere by hand, as the address keeps it; what has no sense, or has passed, is left out. */
export function readPins(text: string | null, nowDay: number, months: number): Pins {
  const pins = new Map<string, number>();
  for (const pin of (text ?? '').split(',')) {
    const at = pin.lastIndexOf('@');
    if (at < 1) continue;
    const where = pin.slice(at + 1);
    const day = where === LATER ? null : dayFromIso(where);
    if (where !== LATER && day === null) continue;
    const month = day === null ? months : monthOfPlan(nowDay, day);
    if (month >= 0 && month <= months) pins.set(pin.slice(0, at), month);
  }
  return pins;
}

/** The same the other way round: the days, so that an address means the same next week. */
export const writePins = (pins: Pins, nowDay: number, months: number): string =>
  [...pins].map(([key, month]) => `${key}@${month >= months ? LATER : isoFromDay(middleOf(nowDay, month))}`).join(',');
