import { ageClock } from '../usage/clock.ts';
import { crossing, type CrossingQuestion } from './crossing.ts';
import type { PartMixture } from './mixture.ts';

const NOW = 20_000;
const LIFE = { shape: 3, scale: 6000 };

/** One part of known age that wears by age alone. */
const part = (installDay: number, share = 1): PartMixture => {
  const hazard = ((NOW - installDay) / LIFE.scale) ** LIFE.shape;
  const susceptible = (share * Math.exp(-hazard)) / (1 - share + share * Math.exp(-hazard));
  return {
    clocks: [{ clock: ageClock, duty: 1, ...LIFE }],
    lives: [{ power: 1, factor: 1, share }],
    apart: true,
    installDays: Float64Array.of(installDay),
    susceptible: Float64Array.of(susceptible),
    immune: Float64Array.of(1 - susceptible),
  };
};

/** The day on which the chance over one interval is the limit, by closed form and bisection. */
function wanted(
  installDay: number,
  serviceDays: number,
  { applies, limit }: Pick<CrossingQuestion, 'applies' | 'limit'>,
): number {
  const by = (ahead: number): number =>
    -Math.expm1(((NOW - installDay) / LIFE.scale) ** 3 - ((NOW - installDay + ahead) / LIFE.scale) ** 3);
  const chance = (ahead: number): number =>
    (applies * (by(ahead + serviceDays) - by(ahead))) / (1 - applies * by(ahead));
  let [low, high] = [0, 10 * 365];
  while (high - low > 1e-6) {
    const middle = (low + high) / 2;
    if (chance(middle) < limit) low = middle;
    else high = middle;
  }
  return low;
}

const ask = (installDay: number, serviceDays: number, changes: Partial<CrossingQuestion> = {}): number | null =>
  crossing(
    part(installDay),
    [],
    { nowDay: NOW, serviceDays },
    { applies: 1, limit: 0.08, susceptible: 1, years: 8, ...changes },
  );

test.each([
  ['a year at a time', 365, 0.08, 1],
  ['longer than a year', 500, 0.1, 1],
  ['half a year, still walked one by one', 180, 0.03, 1],
  ['a month: a year at a time is close enough', 30, 0.007, 1],
  ['one that may not apply', 365, 0.04, 0.6],
])('%s: the day is that of the closed form', (_, serviceDays, limit, applies) => {
  const installDay = NOW - 2000;
  const day = wanted(installDay, serviceDays, { applies, limit });
  expect(day).toBeGreaterThan(serviceDays);
  expect(day).toBeLessThan(8 * 365);
  expect(Math.abs(ask(installDay, serviceDays, { applies, limit })! - day)).toBeLessThan(2);
});

test('over the limit already it is today; not within the years that are looked at it is no day', () => {
  const installDay = NOW - 2000;
  const day = wanted(installDay, 365, { applies: 1, limit: 0.08 });
  expect(ask(NOW - 6000, 365)).toBe(0);
  expect(ask(installDay, 365, { years: Math.ceil(day / 365) + 1 })).not.toBeNull();
  expect(ask(installDay, 365, { years: Math.floor(day / 365) - 1 })).toBeNull();
  expect(ask(installDay, 365, { limit: 0.999 })).toBeNull();
});

test('where nobody could ever reach the limit nothing is looked for; where everybody has failed by then it is reached', () => {
  expect(ask(NOW - 2000, 365, { susceptible: 0.5, applies: 0.5, limit: 0.26 })).toBeNull();
  expect(ask(NOW - 2000, 365, { limit: 1 - 1e-9, years: 100 })).not.toBeNull();
});
