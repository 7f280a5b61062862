import fc from 'fast-check';
import { ageClock, distanceClock } from '../usage/clock.ts';
import {
  lifeFromMedian,
  lifeFromStart,
  lifeFromWindow,
  scaleForShare,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  UNSAID_SHARE,
  UNSAID_WINDOW,
  wearFromMedian,
  wearFromStart,
  type ComponentClass,
} from './elicit.ts';
import { toldLife, typicalLife } from './nature.ts';
import { parseSpans, type Span } from '../shorthand/window.ts';
import { cumulativeHazard, hazardIncrement, limitedFailure, susceptibleGivenAlive } from './hazard.ts';
import {
  asTold,
  bentHazard,
  conditionalRisk,
  hazardBetween,
  hazardSinceInstall,
  windowEnd,
  type ClockLife,
  type Inspection,
} from './risk.ts';

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
  });

  test('what is refused is named, with what it was', () => {
    expect(() => lifeFromWindow(0, 5)).toThrow('from must be a positive number, got 0');
    expect(() => lifeFromWindow(1, NaN)).toThrow('to must be a positive number, got NaN');
    expect(() => lifeFromWindow(5, 5)).toThrow('the window must start before it ends, got 5 to 5');
    for (const make of [lifeFromMedian, (median: number, shape: number) => wearFromMedian(median, shape, 0.5)]) {
      expect(() => make(0, 3)).toThrow('median must be a positive number, got 0');
      expect(() => make(5, -1)).toThrow('shape must be a positive number, got -1');
    }
    expect(() => scaleForShare(0, 2, 0.5)).toThrow('scale must be a positive number, got 0');
    expect(() => scaleForShare(1, 0, 0.5)).toThrow('shape must be a positive number, got 0');
    for (const share of [0, 1.5])
      expect(() => scaleForShare(1, 2, share)).toThrow(`share must lie in (0, 1], got ${share}`);
    expect(scaleForShare(7, 2, 1)).toBe(7);
    for (const make of [lifeFromStart, (from: number, shape: number) => wearFromStart(from, shape, 0.5)]) {
      expect(() => make(0, 3)).toThrow('from must be a positive number, got 0');
      expect(() => make(5, -1)).toThrow('shape must be a positive number, got -1');
    }
  });

  test('a window that asks for a shape nobody believes is held at the edge, between the scales of its two ends', () => {
    const [tenth, nine] = [-Math.log(0.9), Math.LN10];
    for (const [from, to, shape] of [
      [100_000, 101_000, 12],
      [10, 1_000_000, 0.3],
    ] as const) {
      const { scale, ...held } = lifeFromWindow(from, to);
      expect(held).toEqual({ shape, clipped: true });
      close(scale, Math.sqrt(from * tenth ** (-1 / shape) * (to * nine ** (-1 / shape))), 1e-12);
    }
    expect(wearFromMedian(5734, 3, 0.03).clipped).toBe(false);
  });

  test('the typical life of a window: half of those that fail have failed by then', () => {
    const at = (span: Omit<Span, 'clock'>, componentClass: ComponentClass, share: number): number =>
      typicalLife(
        { clock: 'distance', ...span },
        { nature: componentClass === 'early' ? 'defect' : 'wear', componentClass, share },
      );
    close(at({ from: 80_000, to: 80_000 }, 'early', 0.2), 80_000);
    close(at({ from: 80_000, to: 80_000 }, 'rubber', 1), 80_000);
    // F(from) = 0.1 and F(to) = 0.9: ln 2 between the two hazards on a line in the logarithms.
    const shape = Math.log(Math.LN10 / -Math.log(0.9)) / Math.log(2);
    close(at({ from: 60_000, to: 120_000 }, 'early', 0.2), 60_000 * (Math.LN2 / -Math.log(0.9)) ** (1 / shape), 1e-9);
  });

  test('the same window told of another component or of more of them is another life', () => {
    const span: Span = { clock: 'distance', from: 60_000, to: 120_000 };
    const [fault, wear, more] = [
      toldLife(span, { nature: 'defect', componentClass: 'early', share: 0.2 }),
      toldLife(span, { nature: 'wear', componentClass: 'rubber', share: 0.2 }),
      toldLife(span, { nature: 'wear', componentClass: 'rubber', share: 0.9 }),
    ];
    close(-Math.expm1(-cumulativeHazard(fault, 120_000)), 0.9, 1e-9);
    close(-Math.expm1(-cumulativeHazard(wear, 120_000)), 0.18, 1e-9);
    close(-Math.expm1(-cumulativeHazard(more, 120_000)), 0.81, 1e-9);
  });

  test('what is told is read once; by the nature alone, or the component alone, it is read anew', () => {
    const span: Span = { clock: 'distance', from: 60_000, to: 120_000 };
    const wear = { nature: 'wear', componentClass: 'rubber', share: 0.2 } as const;
    const life = toldLife(span, wear);
    expect(toldLife(span, { ...wear })).toBe(life);
    close(-Math.expm1(-cumulativeHazard(toldLife(span, { ...wear, nature: 'defect' }), 120_000)), 0.9, 1e-9);
    close(-Math.expm1(-cumulativeHazard(toldLife(span, wear), 120_000)), 0.18, 1e-9);
    const one: Span = { clock: 'distance', from: 60_000, to: 60_000 };
    expect(toldLife(one, wear).shape).toBe(3.5);
    expect(toldLife(one, { ...wear, componentClass: 'bearing' }).shape).toBe(2.5);
  });

  test('the words for how common are in order', () => {
    const shares = Object.values(SHARE_BY_WORD);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
    expect(SHARE_BY_WORD[UNSAID_SHARE]).toBe(0.5);
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

  test('before a part went in nothing has been lived, and a clock that runs back adds nothing', () => {
    expect(cumulativeHazard({ shape: 2, scale: 1 }, -3)).toBe(0);
    expect(hazardIncrement({ shape: 2, scale: 1 }, 5, -1)).toBe(0);
    close(hazardIncrement({ shape: 2, scale: 1 }, -3, 2), 4);
  });

  test('where a factor of the increment overflows the difference is taken: H(1) - H(1e-300) = 1', () => {
    close(hazardIncrement({ shape: 10, scale: 1 }, 1e-300, 1), 1);
    close(hazardIncrement({ shape: 10, scale: 1 }, 2e-40, 1), 1);
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
    const one = [{ shape: 1, scale: 1 }];
    expect(() => limitedFailure(one, [1, 2], [1], 1)).toThrow(/each clock/);
    expect(() => limitedFailure(one, [1, 2], [1, 2], 1)).toThrow(/each clock/);
    expect(() => limitedFailure(one, [1], [1, 2], 1)).toThrow(/each clock/);
    for (const share of [-0.1, 1.5]) expect(() => limitedFailure(one, [1], [1], share)).toThrow(/share/);
    expect(limitedFailure(one, [1], [1], 0)).toMatchObject({ failed: 0, surviving: 1, susceptible: 0 });
    close(limitedFailure(one, [1], [1], 0.5).failed, 0.5 * -Math.expm1(-1));
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
    expect(ask([{ ...life(3, 160_000), clock: parked }], 0.5, [look(byDistance)])).toBeCloseTo(0, 12);
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

  test('a life that is not bent keeps every digit', () => {
    for (let day = 1000; day < 4000; day += 37) {
      const clock = life(3, 150_000);
      const hazard = cumulativeHazard(clock, 40 * day);
      expect(bentHazard({ power: 1, factor: 0.5 }, hazard)).toBe(0.5 * hazard);
      expect(hazardBetween(asTold([clock]), 0, day, day + 100)).toBe(hazardIncrement(clock, 40 * day, 4000));
    }
  });

  test('no step, no chance; a share that is none is refused', () => {
    expect(ask([life(2, 1e5)], 0.5, [], { stepDays: 0 })).toBeCloseTo(0, 15);
    expect(ask([life(2, 1e5)], 0, [])).toBeCloseTo(0, 15);
    for (const share of [-0.1, 1.1])
      expect(() => ask([life(2, 1e5)], share, [])).toThrow(`share must lie in [0, 1], got ${share}`);
  });

  test('a look counts from the day the part went in; one before was at another part', () => {
    const since = (inspections: readonly Inspection[]): number =>
      conditionalRisk({
        life: asTold([life(3, 160_000)]),
        share: 0.5,
        installDay: 1000,
        nowDay: 1200,
        stepDays: 365,
        inspections,
      }).risk;
    close(since([clean(999)]), since([]));
    expect(since([clean(1000)])).toBeLessThan(since([]));
  });

  test('a warning runs on its own clock, as hard as that clock is run', () => {
    const clocks = [life(3, 160_000, 2), { ...life(3, 4000, 3), clock: ageClock }];
    const end = (multiplier?: number): number =>
      windowEnd({ day: 3000, warning: [{ clock: ageClock, length: 30 }] }, clocks, multiplier);
    expect(end()).toBe(3010);
    expect(end(2)).toBe(3020);
    expect(windowEnd({ day: 3000, warning: [{ clock: distance, length: 800 }] }, clocks)).toBe(3010);
    expect(windowEnd({ day: 3000, warning: [] }, clocks)).toBe(Infinity);
  });

  test('a negative step is refused', () => {
    expect(() => ask([life(2, 1e5)], 0.5, [], { nowDay: 100, stepDays: -1 })).toThrow(/step/);
  });
});

describe('a window of which only the beginning is told', () => {
  test('a tenth have failed where it begins, at the class’s own shape', () => {
    const wear = wearFromStart(100_000, 3, 0.5);
    expect(1 - Math.exp(-((100_000 / wear.scale) ** wear.shape))).toBeCloseTo(0.05, 12);
    expect(wear.scale).toBeCloseTo(269_140.963, 2);
    const fault = lifeFromStart(20_000, 0.8);
    expect(1 - Math.exp(-((20_000 / fault.scale) ** 0.8))).toBeCloseTo(0.1, 12);
    expect(fault.scale).toBeCloseTo(333_182.848, 2);
  });
  test('what wears never gets safer with use', () => expect(wearFromStart(50_000, 0.8, 0.75).shape).toBe(1));
  test('a figure that is none is refused', () => {
    expect(() => wearFromStart(0, 3, 0.5)).toThrow(RangeError);
    expect(() => wearFromStart(1, 3, 0)).toThrow(RangeError);
    expect(() => lifeFromStart(1, 0)).toThrow(RangeError);
    expect(() => lifeFromStart(NaN, 1)).toThrow(RangeError);
  });
  test('is read from the span by the nature of the weak point', () => {
    const span = { clock: 'distance', from: 100_000, to: 100_000, open: true } as const;
    expect(toldLife(span, { nature: 'wear', share: 0.5, componentClass: 'gasket' })).toEqual(
      wearFromStart(100_000, 3, 0.5),
    );
    expect(toldLife(span, { nature: 'defect', share: 0.5, componentClass: 'early' })).toEqual(
      lifeFromStart(100_000, 0.8),
    );
  });
  test('what stands in for a window nobody tells can be read, for every class', () => {
    for (const [componentClass, window] of Object.entries(UNSAID_WINDOW)) {
      expect([componentClass, parseSpans(window).ok]).toEqual([componentClass, true]);
    }
    expect(Object.keys(UNSAID_WINDOW)).toEqual(Object.keys(SHAPE_BY_CLASS));
  });
});
