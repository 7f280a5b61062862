import { coveredUntil } from './cover.ts';
import { usagePath } from './path.ts';

// 10,000 km on day 0, 20,000 on day 1000: ten a day, and on from there.
const path = {
  ...usagePath(
    [
      { day: 0, km: 10_000 },
      { day: 1000, km: 20_000 },
    ],
    -1000,
    10,
  ),
  rateKmPerDay: 10,
};

test.each([
  [{ days: 3000, km: null, lastDay: null }, -1000, 2000],
  [{ days: null, km: 30_000, lastDay: null }, -1000, 2000],
  [{ days: 4000, km: 25_000, lastDay: null }, -1000, 1500],
  [{ days: 4000, km: 25_000, lastDay: 1200 }, -1000, 1200],
  [{ days: null, km: 15_000, lastDay: null }, null, 500],
  [{ days: 3000, km: null, lastDay: null }, null, null],
  [{ days: 3000, km: 30_000, lastDay: null }, null, 2000],
])('limits %j, registered on day %j: until day %j', (limits, registered, until) =>
  expect(coveredUntil(limits, path, registered)).toBe(until),
);

test('a vehicle that stands never comes to a limit in km', () =>
  expect(coveredUntil({ days: null, km: 30_000, lastDay: null }, { ...path, rateKmPerDay: 0 }, null)).toBeNull());
