import { ageClock } from '../usage/clock.ts';
import { openInstalls } from './installs.ts';

const CLOCKS = [{ clock: ageClock, duty: 1, shape: 3, scale: 4000 }];
const BRANCHES = [{ power: 1, factor: 1, share: 1, weight: 1 }];
const daysOf = (startDay: number, nowDay: number): readonly number[] => {
  const { days } = openInstalls(CLOCKS, BRANCHES, { customs: 0, lagYears: 0 }, { startDay, nowDay, market: null });
  return [...days];
};

test('possible installations are the original and the middles of ten equal parts of its time, whatever was asked before', () => {
  const middles = (startDay: number, nowDay: number): number[] =>
    Array.from({ length: 10 }, (_, bin) => startDay + ((bin + 0.5) / 10) * (nowDay - startDay));
  for (const [startDay, nowDay] of [
    [10_000, 14_000],
    [10_000, 15_000],
    [11_000, 15_000],
    [10_000, 14_000],
  ] as const) {
    const [original, ...later] = daysOf(startDay, nowDay);
    expect(original).toBe(startDay);
    later.forEach((day, i) => expect(day).toBeCloseTo(middles(startDay, nowDay)[i]!, 9));
    expect(later).toHaveLength(10);
  }
});
