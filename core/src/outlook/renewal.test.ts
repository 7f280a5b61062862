import { asTold, hazardSinceInstall } from '../life/risk.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { BELT, FAULT, input, TODAY } from './belt.ts';
import { NONE_FAILED, type PartMixture } from './mixture.ts';
import { livesOf } from './part.ts';
import { failedOnceRenewed } from './renewal.ts';

const clocks = { distance: distanceClock(input().path), age: ageClock };
const duty = { distance: 1, age: 1 };
const days = [TODAY, TODAY + 400, TODAY + 2000];
const own = livesOf(FAULT, clocks, duty, 'original');
const mixture: PartMixture = {
  clocks: own,
  lives: [
    { power: 1, factor: 1, share: 0.5 },
    { power: 1, factor: 3, share: 0.5 },
  ],
  apart: true,
  ...NONE_FAILED,
  installDays: Float64Array.of(TODAY - 2000, TODAY - 500),
  susceptible: Float64Array.of(0.1, 0.2, 0.05, 0.05),
  immune: Float64Array.of(0.2, 0.1, 0.2, 0.1),
};
const fresh = (factor: number, day: number): number =>
  -Math.expm1(-factor * hazardSinceInstall(asTold(own), TODAY, day));

test('a new part in the same vehicle: what of the fault has faded stays faded, life by life', () => {
  const point = { ...FAULT, retiredByRevision: null };
  // 0.15 and 0.25 of 0.55 and 0.45 have it; the looks leave half of all that.
  const by = failedOnceRenewed(point, { mixture, susceptible: 0.2 }, { clocks, duty }, { nowDay: TODAY, days });
  days.forEach((day, i) => {
    const wanted = (0.15 / 2) * fresh(1, day) + (0.25 / 2) * fresh(3, day);
    expect(by[i]).toBeCloseTo(wanted, 9);
  });
});

test('where nobody can have it, nobody will; a revision that ends it ends it', () => {
  const none = { ...mixture, susceptible: new Float64Array(4), immune: new Float64Array(4).fill(0.25) };
  const now = { nowDay: TODAY, days };
  const point = { ...FAULT, retiredByRevision: null };
  expect(failedOnceRenewed(point, { mixture: none, susceptible: 0 }, { clocks, duty }, now)).toEqual([0, 0, 0]);
  expect(failedOnceRenewed(BELT, { mixture, susceptible: 0.4 }, { clocks, duty }, now)).toEqual([0, 0, 0]);
});
