import fc from 'fast-check';
import { incompleteGamma, logGamma } from '../numeric/gamma.ts';
import { bestAge, costRate, meanLife, timeLived } from './ageReplacement.ts';
import { asTold } from '../life/risk.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { cheapestAgeDays, conditionPlan } from './schools.ts';
import { caughtByPeriod, caughtByPeriodExponential, caughtBySchedule, longestPeriod } from './cadence.ts';

describe('gamma functions against published values', () => {
  test.each([
    [0.5, 0.5723649429247001],
    [1, 0],
    [5, Math.log(24)],
    [10.5, 13.940625219403763],
    [100, 359.1342053695754],
  ])('ln Gamma(%d)', (x, wanted) => expect(logGamma(x)).toBeCloseTo(wanted, 10));
  test.each([
    [1, 1, 0.6321205588285577],
    [0.5, 1, 0.8427007929497149],
    [3, 2, 0.3233235838169366],
    [10, 20, 0.9950045876916924],
    [2, 0, 0],
  ])('P(%d, %d)', (a, x, wanted) => expect(incompleteGamma(a, x)).toBeCloseTo(wanted, 12));
  test('outside their domain they say so', () => {
    expect(() => logGamma(0)).toThrow(RangeError);
    expect(() => incompleteGamma(1, -1)).toThrow(RangeError);
  });
});

const shapes = fc.double({ min: 1.2, max: 8, noNaN: true });
const shares = fc.double({ min: 0.02, max: 1, noNaN: true });

describe('age replacement', () => {
  test('a constant hazard is never renewed by age: nothing wears', () => {
    expect(bestAge({ shape: 1, scale: 100_000 }, 1, { planned: 200, failure: 5000 }).age).toBe(Infinity);
  });

  test('the time lived by a great age is the mean life', () => {
    for (const shape of [0.7, 1, 2, 3.5])
      expect(timeLived({ shape, scale: 1000 }, 1e7) / meanLife({ shape, scale: 1000 })).toBeCloseTo(1, 9);
    expect(meanLife({ shape: 2, scale: 1000 })).toBeCloseTo((1000 * Math.sqrt(Math.PI)) / 2, 6);
  });

  test('no age near the best costs less, and never more than running to failure', () => {
    fc.assert(
      fc.property(shapes, shares, fc.double({ min: 2, max: 40, noNaN: true }), (shape, share, ratio) => {
        const life = { shape, scale: 120_000 };
        const costs = { planned: 300, failure: 300 * ratio };
        const best = bestAge(life, share, costs);
        expect(best.rate).toBeLessThanOrEqual(best.runToFailureRate * (1 + 1e-12));
        fc.pre(best.age < Infinity);
        for (const factor of [0.9, 0.99, 1.01, 1.1])
          expect(costRate(life, share, costs, best.age * factor)).toBeGreaterThanOrEqual(best.rate * (1 - 1e-9));
      }),
    );
  });

  test('a dearer failure is renewed against earlier', () => {
    const age = (failure: number): number => bestAge({ shape: 3, scale: 120_000 }, 1, { planned: 300, failure }).age;
    expect(age(6000)).toBeLessThan(age(3000));
  });

  test('currency changes nothing but the rate', () => {
    const life = { shape: 3, scale: 120_000 };
    const [one, ten] = [
      bestAge(life, 0.6, { planned: 300, failure: 4000 }),
      bestAge(life, 0.6, { planned: 3000, failure: 40_000 }),
    ];
    expect(ten.age).toBeCloseTo(one.age, 3);
    expect(ten.rate).toBeCloseTo(10 * one.rate, 9);
  });

  test('costs and shares that are none are refused', () => {
    const of = (share: number, planned: number, failure: number) => () =>
      bestAge({ shape: 2, scale: 1 }, share, { planned, failure });
    expect(of(1, 0, 1)).toThrow(/positive/);
    expect(of(1, 1, 0)).toThrow(/positive/);
    expect(of(-0.1, 1, 2)).toThrow(/share must lie in \[0, 1\], got -0.1/);
    expect(of(1.1, 1, 2)).toThrow(/share must lie/);
  });
  test('what nobody has is never renewed', () =>
    expect(bestAge({ shape: 2, scale: 1 }, 0, { planned: 1, failure: 2 }).age).toBe(Infinity));
});

describe('least cost along the road', () => {
  const clock = distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 });
  test('on one clock it is the closed form, within a tenth of the step of its search', () => {
    for (const [shape, share, failure] of [
      [3, 1, 4000],
      [4.8, 0.6, 6000],
      [2.2, 0.9, 9000],
      [6, 1, 2000],
      [3, 1, 1500],
      [2, 1, 800],
      [8, 0.3, 20_000],
    ] as const) {
      const exact = bestAge({ shape, scale: 120_000 }, share, { planned: 400, failure }).age / 40;
      const found = cheapestAgeDays(
        asTold([{ shape, scale: 120_000, duty: 1, clock }]),
        share,
        { planned: 400, failure },
        0,
      );
      expect(Math.abs(found - exact)).toBeLessThan(15);
    }
  });
  test('a second clock that wears brings it forward', () => {
    const one = [{ shape: 3, scale: 120_000, duty: 1, clock }];
    const costs = { planned: 400, failure: 5000 };
    expect(
      cheapestAgeDays(asTold([...one, { shape: 3, scale: 3000, duty: 1, clock: ageClock }]), 1, costs, 0),
    ).toBeLessThan(cheapestAgeDays(asTold(one), 1, costs, 0));
  });
  test('what does not wear is run to failure', () =>
    expect(
      cheapestAgeDays(asTold([{ shape: 1, scale: 120_000, duty: 1, clock }]), 1, { planned: 400, failure: 5000 }, 0),
    ).toBe(Infinity));
});

describe('how often to look', () => {
  const warnings = fc.double({ min: 1000, max: 60_000, noNaN: true });
  const detections = fc.double({ min: 0.05, max: 0.98, noNaN: true });

  test('the longest period catches just what was wanted', () => {
    fc.assert(
      fc.property(
        warnings,
        detections,
        fc.double({ min: 0.05, max: 0.99, noNaN: true }),
        (warning, detection, target) => {
          const period = longestPeriod(warning, detection, target);
          expect(caughtByPeriod(period, warning, detection)).toBeCloseTo(target, 9);
          expect(caughtByPeriod(period * 1.01, warning, detection)).toBeLessThan(target);
        },
      ),
    );
  });

  test('a perfect look every warning catches all, at twice the warning half', () => {
    expect(caughtByPeriod(10_000, 10_000, 1)).toBe(1);
    expect(caughtByPeriod(20_000, 10_000, 1)).toBe(0.5);
    expect(longestPeriod(10_000, 1, 0.5)).toBe(20_000);
  });

  test('more frequent looks never catch less, an uncertain warning never more than a sure one of its mean', () => {
    fc.assert(
      fc.property(
        warnings,
        detections,
        fc.double({ min: 500, max: 90_000, noNaN: true }),
        (warning, detection, period) => {
          expect(caughtByPeriod(period / 2, warning, detection)).toBeGreaterThanOrEqual(
            caughtByPeriod(period, warning, detection) - 1e-12,
          );
          expect(caughtByPeriodExponential(period, warning, detection)).toBeLessThanOrEqual(
            caughtByPeriod(period, warning, detection) + 1e-12,
          );
        },
      ),
    );
  });

  test('looks at no reading catch nothing; one look with an endless warning catches what it sees of all that follows', () => {
    const life = { shape: 1, scale: 1000 };
    expect(caughtBySchedule(life, [], 500, 0.8)).toBe(0);
    expect(caughtBySchedule(life, [1000], 1e9, 0.8)).toBeCloseTo(0.8 * Math.exp(-1), 9);
  });

  test('lengths that are none are refused', () => expect(() => longestPeriod(0, 0.5, 0.5)).toThrow(/warning/));
});

describe('what does not go by the formula', () => {
  test('nothing wanted is never looked for; all is caught by no look that can miss', () => {
    expect(longestPeriod(1000, 0.5, 0)).toBe(Infinity);
    expect(longestPeriod(1000, 0.5, -0.1)).toBe(Infinity);
    expect(longestPeriod(1000, 0.5, 1)).toBe(0);
    expect(longestPeriod(1000, 1, 1)).toBe(1000);
    expect(longestPeriod(1000, 1, 2)).toBe(1000);
  });
  test('periods and warnings that are none are refused by name', () => {
    for (const caught of [caughtByPeriod, caughtByPeriodExponential]) {
      expect(() => caught(0, 10, 0.5)).toThrow('period must be positive, got 0');
      expect(() => caught(10, -1, 0.5)).toThrow('warning must be positive, got -1');
    }
  });
});

describe('looks by condition', () => {
  const life = (scale: number, shape: number) => asTold([{ shape, scale, duty: 1, clock: ageClock }]);
  const plan = (warningDays: number, serviceDays = 180, scale = 4000) =>
    conditionPlan(life(scale, 3), { installDay: 500, serviceDays }, { warningDays, detection: 0.8 }, 'leak');

  test('begin where a fiftieth is to be expected: (d / scale) ^ shape = 0.02', () =>
    expect(Math.abs(plan(300).startDay - (500 + 4000 * 0.02 ** (1 / 3)))).toBeLessThan(1));
  test('never, for what does not fail within sixty years', () => {
    // 60 years are 21,915 days: (21,915 / scale) ^ 3 is 0.02 at a scale of 80,736.
    expect(plan(300, 180, 80_800).startDay).toBe(Infinity);
    expect(plan(300, 180, 80_700).startDay).toBeLessThan(500 + 21_915);
  });
  test('come as often as catches what is wanted of the consequence', () => {
    // Seven tenths of the leaks with looks that see eight of ten: f = 0.7 / 0.8 of a warning.
    expect(plan(300).everyDays).toBeCloseTo(300 / 0.875, 9);
    expect(plan(300).possible).toBe(true);
  });
  test('are too seldom where the services lie further apart, and possible where they lie just so', () => {
    const { everyDays } = plan(300);
    expect(plan(300, everyDays! + 1).possible).toBe(false);
    expect(plan(300, everyDays!).possible).toBe(true);
  });
  test.each([0, NaN, Infinity])('are none where it shows %d days before', (warningDays) =>
    expect(plan(warningDays)).toEqual({ startDay: plan(300).startDay, everyDays: null, possible: false }),
  );
});
