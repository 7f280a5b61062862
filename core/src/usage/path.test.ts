import fc from 'fast-check';
import { hoursFromDistance } from './clock.ts';
import { dayAtDistance, distanceAtDay, forecastSpread, lifetimePrior, usagePath } from './path.ts';

const readings = fc.array(
  fc.record({ day: fc.integer({ min: 100, max: 5000 }), km: fc.integer({ min: 0, max: 300_000 }) }),
  { minLength: 1, maxLength: 12 },
);

test('the path never runs backwards, whatever the readings', () => {
  fc.assert(
    fc.property(
      readings,
      fc.option(fc.integer({ min: 0, max: 90 })),
      fc.integer({ min: 0, max: 9000 }),
      fc.integer({ min: 0, max: 500 }),
      (list, start, day, more) => {
        const path = usagePath(list, start, 40);
        expect(distanceAtDay(path, day + more)).toBeGreaterThanOrEqual(distanceAtDay(path, day) - 1e-9);
      },
    ),
  );
});

test('readings kept and rejected together are all readings, and the kept ones lie on the path', () => {
  fc.assert(
    fc.property(readings, (list) => {
      const path = usagePath(list, 0, 40);
      const kept = list.filter((_, index) => !path.rejected.includes(index));
      for (const { day, km } of kept) expect(path.knots).toContainEqual({ day, km });
      expect(kept.length + path.rejected.length).toBe(list.length);
    }),
  );
});

test('a date asked from a distance leads back to the distance', () => {
  const path = usagePath(
    [
      { day: 1000, km: 40_000 },
      { day: 2000, km: 90_000 },
    ],
    0,
    40,
  );
  for (const km of [10, 40_000, 75_500, 90_000, 140_000])
    expect(distanceAtDay(path, dayAtDistance(path, km))).toBeCloseTo(km, 6);
});

test('one reading that runs backwards is left out, not the three that agree', () => {
  const path = usagePath(
    [
      { day: 100, km: 10_000 },
      { day: 200, km: 20_000 },
      { day: 250, km: 12_000 },
      { day: 300, km: 30_000 },
    ],
    null,
    40,
  );
  expect(path.rejected).toEqual([2]);
});

test('a vehicle registered and read on the same day stands at the reading', () => {
  expect(distanceAtDay(usagePath([{ day: 100, km: 5000 }], 100, 40), 100)).toBe(5000);
});

test('without reading and start there is no path, and not with a value that is none', () => {
  expect(() => usagePath([], null, 40)).toThrow(/in-service/);
  expect(() => usagePath([{ day: NaN, km: 1 }], 0, 40)).toThrow(/finite/);
});

test('hours follow the distance at the average speed, both ways', () => {
  const path = usagePath([{ day: 100, km: 6000 }], 0, 60);
  const hours = hoursFromDistance(path, 30);
  expect(hours.kind).toBe('hours');
  expect(hours.at(100)).toBe(200);
  expect(hours.dayOf(100)).toBeCloseTo(50, 9);
  expect(() => hoursFromDistance(path, 0)).toThrow(/speed/);
});

test('a forecast is off by a third on the prior alone, by less the more days of use the readings cover', () => {
  const over = (days: number): number =>
    forecastSpread({
      knots: [
        { day: -4000, km: 0 },
        { day: 0, km: 500 },
        { day: days, km: 1000 },
      ],
    });
  expect(forecastSpread({ knots: [{ day: 5, km: 100 }] })).toBe(0.35);
  // One reading: what it did on the average since it was new says little of next year.
  expect(forecastSpread(usagePath([{ day: 9000, km: 65_000 }], 0, lifetimePrior(41)))).toBe(0.35);
  expect(forecastSpread(usagePath([], 0, 41))).toBe(0.35);
  // 180 days of prior beside 540 of readings: half of it.
  expect(over(540)).toBeCloseTo(0.175, 12);
  expect(over(1461)).toBeCloseTo(0.35 * Math.sqrt(180 / 1641), 12);
  expect(over(9000)).toBe(over(1461));
});

describe('what is expected of a vehicle before its readings are weighed', () => {
  const YEAR = 365.25;
  const rate = (readings: { day: number; km: number }[], start: number | null): number =>
    usagePath(readings, start, lifetimePrior(15_000 / YEAR)).rateKmPerDay * YEAR;

  test('65,000 km in 26 years: 2,500 a year, whatever others do', () =>
    expect(rate([{ day: 26 * YEAR, km: 65_000 }], 0)).toBeCloseTo(2500, 9));

  test('the shop’s usual use where the year is not known, or nothing was read', () => {
    expect(rate([{ day: 9000, km: 65_000 }], null)).toBeCloseTo(15_000, 9);
    expect(rate([], 0)).toBeCloseTo(15_000, 9);
  });

  test('a young one is taken for its own gradually: one that stood for a quarter, for half', () => {
    const weight = 2 ** (-45 / 365);
    expect(rate([{ day: 90, km: 0 }], 0)).toBeCloseTo((7500 * 180) / (180 + 90 * weight), 9);
  });

  test('what it does of late counts more than its life', () => {
    const late = rate(
      [
        { day: 25 * YEAR, km: 62_500 },
        { day: 26 * YEAR, km: 72_500 },
      ],
      0,
    );
    expect(late).toBeGreaterThan(5000);
    expect(late).toBeLessThan(10_000);
  });
});

test('what was read before its first day, or below nothing, is left out', () => {
  const path = usagePath(
    [
      { day: 50, km: 10 },
      { day: 200, km: -5 },
      { day: 300, km: 3000 },
    ],
    100,
    40,
  );
  expect(path.rejected).toEqual([0, 1]);
  expect(path.knots).toEqual([
    { day: 100, km: 0 },
    { day: 300, km: 3000 },
  ]);
  expect(path.startDay).toBe(100);
});

test('a reading of nothing on the first day is that day’s; one of more stands beside it', () => {
  expect(usagePath([{ day: 100, km: 0 }], 100, 40).knots).toEqual([{ day: 100, km: 0 }]);
  expect(usagePath([{ day: 100, km: 5000 }], 100, 40).knots).toEqual([
    { day: 100, km: 0 },
    { day: 100, km: 5000 },
  ]);
});

describe('where nobody knows its first day', () => {
  test('the way is gone back at the rate that is forecast', () => {
    // 40 km a day: 40,000 km before day 1500 were begun on day 500.
    const path = usagePath([{ day: 1500, km: 40_000 }], null, 40);
    expect(path.startDay).toBe(500);
    expect(path.knots).toEqual([
      { day: 500, km: 0 },
      { day: 1500, km: 40_000 },
    ]);
  });
  test('nothing run, or nothing expected, begins where it was read', () => {
    expect(usagePath([{ day: 1500, km: 0 }], null, 40)).toMatchObject({
      startDay: 1500,
      knots: [{ day: 1500, km: 0 }],
    });
    expect(usagePath([{ day: 1500, km: 40_000 }], null, 0)).toMatchObject({
      startDay: 1500,
      knots: [{ day: 1500, km: 40_000 }],
    });
  });
});

test('two readings of one day agree, in whatever order they were written', () => {
  const [less, more] = [
    { day: 100, km: 9990 },
    { day: 100, km: 10_000 },
  ];
  expect(usagePath([more, less], null, 40).rejected).toEqual([]);
  expect(usagePath([less, more], null, 40).rejected).toEqual([]);
});

test('of two that cannot both be, the later one stands', () =>
  expect(
    usagePath(
      [
        { day: 100, km: 10_000 },
        { day: 200, km: 5000 },
      ],
      null,
      40,
    ).rejected,
  ).toEqual([0]));

describe('when the meter shows a distance', () => {
  const parked = {
    knots: [
      { day: 10, km: 0 },
      { day: 100, km: 0 },
      { day: 1100, km: 40_000 },
      { day: 2000, km: 40_000 },
    ],
    rateKmPerDay: 20,
  };
  test.each([
    [-10, 10],
    [0, 10],
    [20_000, 600],
    [40_000, 1100],
    [41_000, 2050],
  ])('%d km: day %d', (km, day) => expect(dayAtDistance(parked, km)).toBe(day));
  test('one that stands never gets further', () =>
    expect(dayAtDistance({ ...parked, rateKmPerDay: 0 }, 40_001)).toBe(Infinity));
  test.each([
    [0, 0],
    [50, 0],
    [1100, 40_000],
    [1500, 40_000],
    [2010, 40_200],
  ])('on day %d: %d km', (day, km) => expect(distanceAtDay(parked, day)).toBe(km));
});

describe('what is to be expected of a vehicle', () => {
  const prior = lifetimePrior(40) as (knots: readonly { day: number; km: number }[], startDay: number | null) => number;
  const until = (day: number, km: number) => [
    { day: 100, km: 0 },
    { day, km },
  ];
  test('its own average, from half a year of age on', () => expect(prior(until(1100, 20_000), 100)).toBe(20));
  test('the usual stands in for what is missing to half a year', () =>
    // 80 days with 4,000 km, and 100 more at 40.
    expect(prior(until(180, 4000), 100)).toBeCloseTo(8000 / 180, 12));
  test('the usual, where its age is not known or nothing was read', () => {
    expect(prior(until(1100, 20_000), null)).toBe(40);
    expect(prior([], 100)).toBe(40);
  });
});
