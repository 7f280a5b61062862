import { dayFromIso } from '@crosspeen/core';

export interface ShopClock {
  now(): Date;
  /** Today as a day number, where the workshop is. */
  today(): number;
  /** Today as an ISO date, where the workshop is. */
  todayIso(): string;
  /** An instant as the workshop's clock on the wall shows it: date and time of day. */
  onTheWall(instant: Date): { readonly date: string; readonly time: string };
  /** Says where the workshop is, by the name of its time zone. */
  setZone(name: string): void;
}

/**
 * The real clock, or one that stands at a fixed instant (`CROSSPEEN_NOW`, an ISO date or instant) for tests. It stands
 * in UTC until it is told where the workshop is. Throws on a fixed value that is none.
 */
export function shopClock(fixed?: string): ShopClock {
  const base =
    fixed === undefined || fixed === '' ? null : new Date(dayFromIso(fixed) === null ? fixed : `${fixed}T12:00:00Z`);
  if (base !== null && Number.isNaN(base.getTime()))
    throw new Error(`CROSSPEEN_NOW must be an ISO date or instant, got ${fixed}`);
  const now = (): Date => base ?? new Date();
  let zone = '';
  let wall: Intl.DateTimeFormat;
  const setZone = (name: string): void => {
    if (name === zone) return;
    // This one writes dates and times as ISO 8601 does, but for a comma between them.
    wall = new Intl.DateTimeFormat('sv-SE', { timeZone: name, dateStyle: 'short', timeStyle: 'short' });
    zone = name;
  };
  setZone('UTC');
  const onTheWall = (instant: Date): { date: string; time: string } => {
    const [date, time] = wall.format(instant).split(/[ ,]+/);
    return { date: date!, time: time! };
  };
  const todayIso = (): string => onTheWall(now()).date;
  return { now, today: () => dayFromIso(todayIso())!, todayIso, onTheWall, setZone };
}
