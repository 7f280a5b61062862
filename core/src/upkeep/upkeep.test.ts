import fc from 'fast-check';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { neglectedRun } from './hastened.ts';
import { upkeepState, type Stretch, type UpkeepHistory } from './upkeep.ts';

/** 40 km a day, from day 0. */
const clocks = { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 }), age: ageClock };
const oil: UpkeepHistory = {
  interval: [
    { clock: 'distance', at: 10_000 },
    { clock: 'age', at: 365 },
  ],
  done: [],
  knownFrom: 0,
  nowDay: 1000,
  grace: 0.1,
};

describe('when a task falls due', () => {
  test('by distance or by age, whichever first, from the last time it was done', () => {
    expect(upkeepState({ ...oil, done: [900] }, clocks).dueDay).toBe(900 + 250);
    expect(upkeepState({ ...oil, done: [900], interval: [oil.interval[1]!] }, clocks).dueDay).toBe(900 + 365);
    expect(upkeepState({ ...oil, done: [900] }, { age: ageClock }).dueDay).toBe(900 + 365);
    expect(upkeepState({ ...oil, done: [900, 100], nowDay: 950 }, clocks).dueDay).toBe(1150);
  });
  test('from new where that is known; nothing to count from where it is not', () => {
    expect(upkeepState(oil, clocks).dueDay).toBe(250);
    expect(upkeepState({ ...oil, knownFrom: null }, clocks)).toEqual({ dueDay: null, overdue: [] });
  });
  test('what was done today counts, what is to be done after today does not yet', () => {
    expect(upkeepState({ ...oil, done: [1000] }, clocks).dueDay).toBe(1250);
    expect(upkeepState({ ...oil, done: [1001] }, clocks).dueDay).toBe(250);
  });
  test('a machine that stands never comes to its distance', () => {
    const parked = { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 0 }) };
    expect(upkeepState(oil, parked)).toEqual({ dueDay: Infinity, overdue: [] });
  });
});

describe('when it was overdue', () => {
  test('beyond a tenth of its interval, until it was done', () => {
    expect(upkeepState({ ...oil, done: [400, 700], nowDay: 800 }, clocks).overdue).toEqual([
      [275, 400],
      [675, 700],
    ]);
    expect(upkeepState({ ...oil, done: [275, 550], nowDay: 825 }, clocks).overdue).toEqual([]);
  });
  test('nothing before the first record is held against a history that is not known from new', () =>
    expect(upkeepState({ ...oil, knownFrom: null, done: [900] }, clocks).overdue).toEqual([]));
});

describe('what neglect does', () => {
  const late = (...overdue: Stretch[]) => [{ overdue, factor: 1.5 }];
  test('the clock runs faster while it is overdue, in the life of the part that is in there', () => {
    expect(neglectedRun(clocks.distance, 0, 1000, late([200, 300]))).toBe(40_000 + 0.5 * 4000);
    expect(neglectedRun(ageClock, 250, 1000, late([200, 300]))).toBe(750 + 25);
    expect(neglectedRun(ageClock, 300, 1000, late([200, 300]))).toBe(700);
    expect(neglectedRun(ageClock, 0, 250, late([200, 300]))).toBe(275);
  });
  test('several tasks multiply where they overlap, and only there', () => {
    const both = [...late([100, 300]), { overdue: [[200, 400]] as const, factor: 2 }];
    expect(neglectedRun(ageClock, 0, 500, both)).toBe(100 + 1.5 * 100 + 3 * 100 + 2 * 100 + 100);
  });
  test('late once makes a little older; late always the more so; never younger', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 200, max: 500 }), { minLength: 2, maxLength: 8 }),
        fc.double({ min: 1, max: 2.5, noNaN: true }),
        (gaps, factor) => {
          const done = gaps.map((_, i) => gaps.slice(0, i + 1).reduce((sum, gap) => sum + gap, 0));
          const nowDay = done.at(-1)! + 100;
          const run = (days: readonly number[]): number =>
            neglectedRun(ageClock, 0, nowDay, [
              { factor, overdue: upkeepState({ ...oil, done: days, nowDay }, clocks).overdue },
            ]);
          const onTime = Array.from({ length: Math.floor(nowDay / 240) }, (_, i) => 240 * (i + 1));
          expect(run(onTime)).toBeCloseTo(nowDay, 9);
          expect(run(done)).toBeGreaterThanOrEqual(nowDay - 1e-9);
          expect(run([])).toBeGreaterThanOrEqual(run(done) - 1e-9);
          expect(run([])).toBeLessThanOrEqual(nowDay * factor + 1e-9);
        },
      ),
      { numRuns: 200 },
    );
  });
});

test('intervals and a grace that are none are refused', () => {
  const bad = (changes: Partial<UpkeepHistory>) => () => upkeepState({ ...oil, ...changes }, clocks);
  expect(bad({ grace: -0.1 })).toThrow('grace must not lie below 0, got -0.1');
  expect(bad({ interval: [{ clock: 'age', at: 0 }] })).toThrow('an interval on age must lie above 0, got 0');
});
