import fc from 'fast-check';
import { enginePath, meterOffset, readingsSinceNew } from './meter.ts';
import { distanceAtDay, usagePath } from './path.ts';

describe('a cluster that was replaced', () => {
  const change = { day: 1000, oldKm: 120_000, newKm: 0 };
  test('readings after it go on from what the old one showed', () => {
    expect(
      readingsSinceNew(
        [
          { day: 500, km: 60_000 },
          { day: 1500, km: 30_000 },
        ],
        [change],
      ).map(({ km }) => km),
    ).toEqual([60_000, 150_000]);
    expect(meterOffset([change])).toBe(120_000);
  });
  test('on the very day a reading belongs to the cluster it is nearer to', () => {
    expect(
      readingsSinceNew(
        [
          { day: 1000, km: 119_980 },
          { day: 1000, km: 3 },
        ],
        [change],
      ).map(({ km }) => km),
    ).toEqual([119_980, 120_003]);
  });
  test('a young reading, near what the new one shows first, is still the old one’s', () =>
    expect(readingsSinceNew([{ day: 5, km: 40 }], [change])).toEqual([{ day: 5, km: 40 }]));
  test('the new one need not begin at nothing', () => {
    const used = { day: 1000, oldKm: 80_000, newKm: 10_000 };
    expect(meterOffset([used])).toBe(70_000);
    const on = (km: number): number => readingsSinceNew([{ day: 1000, km }], [used])[0]!.km;
    expect([on(44_000), on(46_000)]).toEqual([114_000, 46_000]);
    // As near to one as to the other: the old one's.
    expect(on(45_000)).toBe(45_000);
  });
  test('two changes add up, in whatever order they were recorded', () => {
    const second = { day: 2000, oldKm: 80_000, newKm: 10_000 };
    const shown = [{ day: 2500, km: 25_000 }];
    expect(readingsSinceNew(shown, [change, second])).toEqual(readingsSinceNew(shown, [second, change]));
    expect(readingsSinceNew(shown, [change, second])[0]!.km).toBe(25_000 + 120_000 + 70_000);
  });
  test('without it the meter would run backwards; with it nothing is rejected', () => {
    const shown = [
      { day: 500, km: 60_000 },
      { day: 900, km: 110_000 },
      { day: 1400, km: 20_000 },
    ];
    expect(usagePath(shown, 0, 40).rejected).toEqual([2]);
    expect(usagePath(readingsSinceNew(shown, [change]), 0, 40).rejected).toEqual([]);
  });
});

describe('an engine that was swapped', () => {
  const vehicle = usagePath(
    [
      { day: 3000, km: 150_000 },
      { day: 4000, km: 200_000 },
    ],
    0,
    40,
  );
  test('none: engine and vehicle share one path', () => expect(enginePath(vehicle, [])).toBeNull());
  test('a new engine starts at nothing and runs as the vehicle does', () => {
    const engine = enginePath(vehicle, [{ day: 3500, engineKm: 0 }])!;
    expect(engine.assumed).toBe(false);
    expect(engine.path).toMatchObject({ startDay: 3500, rejected: [] });
    expect(engine.path.knots).toEqual([
      { day: 3500, km: 0 },
      { day: 4000, km: 25_000 },
    ]);
    expect(distanceAtDay(engine.path, 4000)).toBeCloseTo(25_000, 6);
    expect(distanceAtDay(engine.path, 4400) - distanceAtDay(engine.path, 4000)).toBeCloseTo(
      distanceAtDay(vehicle, 4400) - distanceAtDay(vehicle, 4000),
      6,
    );
  });
  test('a used one brings its own distance, and an age to go with it', () => {
    const engine = enginePath(vehicle, [{ day: 3500, engineKm: 90_000 }])!;
    expect(distanceAtDay(engine.path, 3500)).toBeCloseTo(90_000, 6);
    expect(engine.path.startDay).toBeCloseTo(3500 - 90_000 / vehicle.rateKmPerDay, 6);
    expect(distanceAtDay(engine.path, (engine.path.startDay + 3500) / 2)).toBeCloseTo(45_000, 6);
  });
  test('one of which nobody knows is taken to be as old as the vehicle, and says so', () => {
    const engine = enginePath(vehicle, [{ day: 3500, engineKm: null }])!;
    expect(engine.assumed).toBe(true);
    expect(distanceAtDay(engine.path, 3500)).toBeCloseTo(distanceAtDay(vehicle, 3500), 6);
  });
  test('the last swap counts', () =>
    expect(
      enginePath(vehicle, [
        { day: 3800, engineKm: 0 },
        { day: 3200, engineKm: 50_000 },
      ])!.fittedDay,
    ).toBe(3800));
  test('an engine’s path never runs backwards', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3999 }), fc.integer({ min: 0, max: 300_000 }), (day, engineKm) => {
        const { path } = enginePath(vehicle, [{ day, engineKm }])!;
        for (let at = path.startDay; at < 5000; at += 250)
          expect(distanceAtDay(path, at + 250)).toBeGreaterThanOrEqual(distanceAtDay(path, at) - 1e-6);
      }),
    );
  });
});
