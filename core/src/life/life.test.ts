import fc from 'fast-check';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { lifeFromWindow, SHARE_BY_WORD, scaleForShare } from './elicit.ts';
import { cumulativeHazard, hazardIncrement, limitedFailure, susceptibleGivenAlive } from './hazard.ts';
import { asTold, conditionalRisk, hazardBetween, hazardSinceInstall, type ClockLife, type Inspection } from './risk.ts';

const close = (actual: number, wanted: number, rel = 1e-12): void =>
  expect(Math.abs(actual - wanted)).toBeLessThanOrEqual(rel * Math.abs(wanted) + 1e-300);

describe('elicitation', () => {
  test('a window is met at both ends: 10 and 90 per cent', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 100, max: 1e6, noNaN: true }),
        fc.double({ min: 1.3, max: 50, noNaN: true }),
        (from, ratio) => {
          const life = lifeFromWindow(from, from * ratio);
          fc.pre(!life.clipped);
          close(-Math.expm1(-cumulativeHazard(life, from)), 0.1, 1e-9);
          close(-Math.expm1(-cumulativeHazard(life, from * ratio)), 0.9, 1e-9);
        },
      ),
    );
  });

  test('windows the wrong way round, empty or not finite are refused', () => {
    for (const [from, to] of [
      [2, 1],
      [1, 1],
      [0, 5],
      [-1, 5],
      [1, Infinity],
      [NaN, 2],
    ] as const)
      expect(() => lifeFromWindow(from, to)).toThrow(RangeError);
    expect(() => scaleForShare(1, 2, 0)).toThrow(/share/);
  });

  test('the words for how common are in order', () => {
    const shares = Object.values(SHARE_BY_WORD);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
  });
});

describe('numerical traps', () => {
  test('a tiny hazard keeps its digits: 1e-12 of a life with shape 2 has hazard 1e-24, not 0', () => {
    const { risk } = limitedFailure([{ shape: 2, scale: 1e12 }], [0], [1], 1);
    close(risk, 1e-24, 1e-9);
  });

  test('a short step late in life does not cancel: (1e6+1)^2 - (1e6)^2 = 2000001', () => {
    close(hazardIncrement({ shape: 2, scale: 1 }, 1e6, 1), 2_000_001, 1e-14);
  });

  test('an overflowing hazard leaves nobody susceptible, and a share of 1 everybody', () => {
    expect(susceptibleGivenAlive(0.5, 1e308)).toBe(0);
    expect(susceptibleGivenAlive(1, 1e308)).toBe(1);
    expect(susceptibleGivenAlive(0, 0)).toBe(0);
  });

  test('surviving is not one minus failed: it keeps 3.7e-44 = e^-100', () => {
    close(limitedFailure([{ shape: 1, scale: 1 }], [100], [0], 1).surviving, Math.exp(-100), 1e-12);
  });

  test('a shape below 1 has a finite risk at age 0: 1 - exp(-sqrt(0.01))', () => {
    close(limitedFailure([{ shape: 0.5, scale: 100 }], [0], [1], 1).risk, -Math.expm1(-0.1), 1e-12);
  });

  test('arrays of different length and shares that are none are refused', () => {
    expect(() => limitedFailure([{ shape: 1, scale: 1 }], [1, 2], [1], 1)).toThrow(/each clock/);
    expect(() => limitedFailure([{ shape: 1, scale: 1 }], [1], [1], 1.5)).toThrow(/share/);
  });
});

const path = { knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 };
const distance = distanceClock(path);
const life = (shape: number, scale: number, duty = 1): ClockLife => ({ shape, scale, duty, clock: distance });
const clean = (day: number, length = 20_000, detection = 0.8): Inspection => ({
  day,
  detection,
  falseAlarm: 0.02,
  worn: false,
  warning: [{ clock: distance, length }],
});
const ask = (
  lives: readonly ClockLife[],
  share: number,
  inspections: readonly Inspection[],
  { nowDay = 3000, stepDays = 365 }: { readonly nowDay?: number; readonly stepDays?: number } = {},
) => conditionalRisk({ life: asTold(lives), share, installDay: 0, nowDay, stepDays, inspections }).risk;

describe('risk of the next step', () => {
  const shapes = fc.double({ min: 0.5, max: 6, noNaN: true });
  const scales = fc.double({ min: 30_000, max: 400_000, noNaN: true });
  const shares = fc.double({ min: 0.02, max: 1, noNaN: true });

  test('a longer step never lowers it, and it stays a probability', () => {
    fc.assert(
      fc.property(shapes, scales, shares, fc.integer({ min: 1, max: 2000 }), (shape, scale, share, step) => {
        const short = ask([life(shape, scale)], share, [], { stepDays: step });
        const long = ask([life(shape, scale)], share, [], { stepDays: step + 30 });
        expect(short).toBeGreaterThanOrEqual(0);
        expect(long).toBeLessThanOrEqual(1);
        expect(long).toBeGreaterThanOrEqual(short - 1e-15);
      }),
    );
  });

  test('a clean look today never raises it', () => {
    fc.assert(
      fc.property(
        shapes,
        scales,
        shares,
        fc.double({ min: 1000, max: 60_000, noNaN: true }),
        fc.double({ min: 0.05, max: 0.99, noNaN: true }),
        (shape, scale, share, length, detection) => {
          // A window that outlasts the step: the whole step is covered by the look.
          expect(ask([life(shape, scale)], share, [clean(3000, length + 365 * 40, detection)])).toBeLessThanOrEqual(
            ask([life(shape, scale)], share, []) + 1e-15,
          );
        },
      ),
    );
  });

  test('a worn finding raises it', () => {
    const worn = { ...clean(2990), worn: true };
    expect(ask([life(3, 160_000)], 0.5, [worn])).toBeGreaterThan(5 * ask([life(3, 160_000)], 0.5, []));
  });

  test('harder use is the same as a shorter life', () => {
    close(ask([life(3, 150_000, 1.3)], 0.4, []), ask([life(3, 150_000 / 1.3)], 0.4, []), 1e-12);
  });

  test('a constant hazard forgets its age: 1 - e^-(365*40/100000)', () => {
    close(ask([life(1, 100_000)], 1, []), -Math.expm1(-0.146), 1e-12);
  });

  test('a small share fades with survival towards nothing', () => {
    expect(ask([life(5, 40_000)], 0.1, [])).toBeLessThan(1e-9);
  });

  test('a parked vehicle leaves its window by age, whichever ends first', () => {
    const parked = distanceClock({
      knots: [
        { day: 0, km: 0 },
        { day: 100, km: 50_000 },
      ],
      rateKmPerDay: 0,
    });
    const aging: ClockLife = { shape: 3, scale: 4000, duty: 1, clock: ageClock };
    const look = (...warning: Inspection['warning']): Inspection => ({
      day: 2999,
      detection: 0.9,
      falseAlarm: 0,
      worn: false,
      warning,
    });
    const byDistance = { clock: parked, length: 10_000 };
    // In km alone the window never ends, so the look speaks against every later failure; by age it is over in a month.
    const endless = ask([aging], 0.5, [look(byDistance)]);
    const ended = ask([aging], 0.5, [look(byDistance, { clock: ageClock, length: 30 })]);
    expect(ended).toBeGreaterThan(3 * endless);
  });

  test('a life bent by experience is the one it stands for: on one clock, scale 1.2 times and shape 4 instead of 3', () => {
    const bent = { clocks: [life(3, 150_000)], power: 4 / 3, factor: 1.2 ** -4 };
    const straight = asTold([life(4, 180_000)]);
    close(hazardSinceInstall(bent, 0, 3000), hazardSinceInstall(straight, 0, 3000), 1e-12);
    close(hazardBetween(bent, 0, 3000, 3001), hazardBetween(straight, 0, 3000, 3001), 1e-9);
    close(hazardBetween(bent, 0, 0, 100), hazardBetween(straight, 0, 0, 100), 1e-12);
  });

  test('a negative step is refused', () => {
    expect(() => ask([life(2, 1e5)], 0.5, [], { nowDay: 100, stepDays: -1 })).toThrow(/step/);
  });
});
