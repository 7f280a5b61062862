import { anyFailedByDay, failedAfterRenewal, failedByDay, type Forecast } from './forecast.ts';

const forecast: Forecast = {
  nowDay: 1000,
  serviceDays: 365,
  ahead: [0, 100, 200, 400],
  items: [
    { weakPointId: 'a', chance: [], failed: [0, 0.2, 0.5, 1], renewed: [0, 0.1, 0.3, 0.6] },
    { weakPointId: 'b', chance: [], failed: [0.01, 0.1, 0.1, 0.4], renewed: [0, 0, 0, 0] },
  ],
};
const [a, b] = forecast.items as [Forecast['items'][number], Forecast['items'][number]];
const by = (day: number, item = a): number => failedByDay(forecast, item, day);

test('on its own days it is what stands there, before now nothing, and after the last no more', () => {
  expect([900, 1000, 1100, 1200, 1400, 1401, 9999].map((day) => by(day))).toEqual([0, 0, 0.2, 0.5, 1, 1, 1]);
  // What may have failed already is so from the first day on, not before it.
  expect([by(999, b), by(1000, b)]).toEqual([0, 0]);
  expect(by(1000.0001, b)).toBeCloseTo(0.01, 6);
});

test('between two days what still runs goes on at a constant hazard', () => {
  for (const part of [0.1, 0.5, 0.9]) {
    expect(by(1100 + 100 * part)).toBeCloseTo(1 - 0.8 ** (1 - part) * 0.5 ** part, 14);
    expect(by(1000 + 100 * part)).toBeCloseTo(1 - 0.8 ** part, 14);
  }
  expect(by(1150, b)).toBeCloseTo(0.1, 14);
});

test('where all have failed by the later day, they do so evenly until then', () => {
  for (const part of [0.25, 0.5, 0.75]) expect(by(1200 + 200 * part)).toBeCloseTo(0.5 + 0.5 * part, 14);
});

test('a part that goes in new runs on its own days', () => {
  expect(failedAfterRenewal(forecast, a, 5000, 5200)).toBe(0.3);
  expect(failedAfterRenewal(forecast, a, 5000, 5000)).toBe(0);
  expect(failedAfterRenewal(forecast, a, 5000, 4000)).toBe(0);
  expect(failedAfterRenewal(forecast, a, 5000, 6000)).toBe(0.6);
});

test('any of some: one less than that none has; what the forecast does not hold adds nothing', () => {
  expect(anyFailedByDay(forecast, ['a', 'b'], 1100)).toBeCloseTo(1 - 0.8 * 0.9, 14);
  expect(anyFailedByDay(forecast, ['b', 'gone'], 1100)).toBeCloseTo(0.1, 14);
  expect(anyFailedByDay(forecast, [], 1100)).toBe(0);
});
