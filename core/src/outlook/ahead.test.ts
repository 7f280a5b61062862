import { asTold, hazardBetween, type ClockLife } from '../life/risk.ts';
import { ageClock } from '../usage/clock.ts';
import { aheadOf, runningChance, runningOn } from './ahead.ts';
import { layGrid } from './grid.ts';
import { NONE_FAILED, type PartMixture } from './mixture.ts';

const NOW = 20_000;
const grid = layGrid(NOW, NOW - 1600, 365);
const certain = (life: { shape: number; scale: number }, installDay: number): PartMixture => ({
  clocks: [{ clock: ageClock, duty: 1, ...life }],
  lives: [{ power: 1, factor: 1, share: 1 }],
  apart: true,
  ...NONE_FAILED,
  installDays: Float64Array.of(installDay),
  susceptible: Float64Array.of(1),
  immune: Float64Array.of(0),
});

test('a constant hazard: e^-t/scale, and the same chance over an interval from every day on', () => {
  const running = runningOn(certain({ shape: 1, scale: 4000 }, NOW - 500), [], grid, 1);
  Array.from(grid.aheadDays).forEach((ahead, i) =>
    expect(runningChance(running, i)).toBeCloseTo(Math.exp(-ahead / 4000), 9),
  );
  const { chance, failed } = aheadOf(grid, running);
  chance.forEach((over) => expect(over).toBeCloseTo(-Math.expm1(-365 / 4000), 9));
  failed.forEach((by, i) => expect(by).toBeCloseTo(-Math.expm1(-grid.aheadDays[i]! / 4000), 9));
});

test('where nothing to speak of still runs, the last hazard that can be told goes on', () => {
  const life = { shape: 2, scale: 150 };
  const [log] = runningOn(certain(life, NOW), [], grid, 1).lives.map((one) => Array.from(one.log));
  const own: ClockLife[] = [{ clock: ageClock, duty: 1, ...life }];
  const told = grid.aheadDays.findIndex((ahead) => hazardBetween(asTold(own), NOW, NOW, NOW + ahead) > Math.log(1e9));
  expect(told).toBeGreaterThan(3);
  for (let i = 0; i < told; i += 1) expect(log![i]).toBeCloseTo(-((grid.aheadDays[i]! / 150) ** 2), 4);
  const step = log![told - 1]! - log![told - 2]!;
  for (let i = told; i < log!.length; i += 1) expect(log![i]! - log![i - 1]!).toBeCloseTo(step, 9);
});

test('one that is worn out within the first bin keeps its digits on the first two days', () => {
  const [log] = runningOn(certain({ shape: 3, scale: 10 }, NOW - 20), [], grid, 1).lives.map((one) =>
    Array.from(one.log),
  );
  expect(log![0]).toBeCloseTo(0, 12);
  expect(log![1]).toBeCloseTo(Math.log(1e-9), 6);
  expect(log![2]).toBeCloseTo(2 * Math.log(1e-9), 6);
});

test('one that may not apply never runs out', () => {
  const running = runningOn(certain({ shape: 3, scale: 10 }, NOW - 20), [], grid, 0.25);
  expect(runningChance(running, 5)).toBeCloseTo(0.75, 9);
  expect(aheadOf(grid, running).chance.at(-1)).toBeCloseTo(0, 9);
});

test('an interval that ends with the grid is answered to its last day', () => {
  const step = (8 * 365.25) / 32;
  const whole = layGrid(NOW, NOW - 1600, 4 * step);
  const running = runningOn(certain({ shape: 1, scale: 4000 }, NOW - 500), [], whole, 1);
  expect(aheadOf(whole, running).chance.at(-1)).toBeCloseTo(-Math.expm1((-4 * step) / 4000), 9);
});

test('the grid: sixteen bins back, thirty-two ahead, and beyond them by one interval at least', () => {
  expect(Array.from(grid.pastDays)).toEqual(Array.from({ length: 16 }, (_, i) => NOW - 1600 + 100 * i));
  const step = (8 * 365.25) / 32;
  expect(grid.edges).toEqual([...grid.pastDays, ...Array.from({ length: 33 }, (_, i) => NOW + step * i)]);
  expect(grid.aheadDays).toHaveLength(32 + 4 + 1);
  expect(grid.aheadDays.at(-1)!).toBeCloseTo(36 * step, 9);
});
