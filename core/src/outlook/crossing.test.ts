import { ageClock } from '../usage/clock.ts';
import { crossing, dayReached, type CrossingQuestion } from './crossing.ts';
import { failedBy, NONE_FAILED, type PartMixture } from './mixture.ts';

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
    ...NONE_FAILED,
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

test('where all that apply have failed by then, what comes after is certain', () => {
  const steady: PartMixture = {
    ...part(NOW - 100),
    clocks: [{ clock: ageClock, duty: 1, shape: 1, scale: 36.5 }],
    susceptible: Float64Array.of(1),
    immune: Float64Array.of(0),
  };
  // Of lives that stand apart one may be gone: it fails for certain, the others as they do.
  const hardly: PartMixture = {
    ...part(NOW - 2000),
    lives: [
      { power: 1, factor: 1, share: 1 },
      { power: 1, factor: 1e5, share: 1 },
    ],
    susceptible: Float64Array.of(0.5, 0.5),
    immune: Float64Array.of(0, 0),
  };
  const both = { applies: 1, limit: 0.55, susceptible: 1, years: 8 };
  expect(crossing(hardly, [], { nowDay: NOW, serviceDays: 365 }, both)).toBeCloseTo(
    wanted(NOW - 2000, 365, { applies: 1, limit: 0.1 }),
    0,
  );
  // Ten times its life in every interval: the chance stays where it is until not one in 10^17 still runs.
  const asked = { applies: 1, limit: 1 - 1e-7, susceptible: 1, years: 8 };
  expect(crossing(steady, [], { nowDay: NOW, serviceDays: 365 }, asked)).toBeGreaterThan(2 * 365);
});

describe('the day by which the chance of having failed comes to a limit', () => {
  const by = (ahead: number): number => -Math.expm1((2000 / LIFE.scale) ** 3 - ((2000 + ahead) / LIFE.scale) ** 3);
  const reached = (limit: number, days = 3000, applies = 1): number | null =>
    dayReached(part(NOW - 2000), [], NOW, { applies, limit, days });

  test('is that of the closed form, to a day, never before it', () => {
    for (const day of [0.5, 1, 17, 150, 151.5, 1234.5, 2850.2, 2999.9]) {
      expect(reached(by(day))! - day).toBeGreaterThan(-1e-6);
      expect(reached(by(day))! - day).toBeLessThanOrEqual(1);
    }
    expect(reached(0.6 * by(700), 3000, 0.6)! - 700).toBeLessThanOrEqual(1);
    expect(reached(by(40), 41)).toBeGreaterThan(39.99);
  });

  test('a day that just reaches it is the day, and of twenty days each is told apart', () => {
    const [tenth, last] = failedBy(part(NOW - 2000), [], NOW, [NOW + 10, NOW + 20]).by;
    expect(reached(tenth!, 20)).toBe(10);
    expect(reached(last!, 20)).toBe(20);
    expect(reached(by(7.5), 20)).toBe(8);
  });

  test('is none where it is not reached within the days', () => {
    expect(reached(by(3001))).toBeNull();
    expect(reached(by(2999))).not.toBeNull();
    expect(reached(by(100), 3000, 0.01)).not.toBe(100);
    expect(reached(1)).toBeNull();
  });
});

test('where nobody could ever reach the limit nothing is looked for; where everybody has failed by then it is reached', () => {
  expect(ask(NOW - 2000, 365, { susceptible: 0.5, applies: 0.5, limit: 0.26 })).toBeNull();
  expect(ask(NOW - 2000, 365, { limit: 1 - 1e-9, years: 100 })).not.toBeNull();
});
