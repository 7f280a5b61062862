import {
  asTold,
  conditionalRisk,
  hazardBetween,
  hazardSinceInstall,
  type ClockLife,
  type Inspection,
} from '../life/risk.ts';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { ageClock } from '../usage/clock.ts';
import { layGrid } from './grid.ts';
import { failedBy, NONE_FAILED, type PartMixture } from './mixture.ts';
import { ribbon } from './ribbon.ts';

const NOW = 20_000;
const SERVICE = 365;
const clocks: readonly ClockLife[] = [
  { clock: ageClock, duty: 1.1, shape: 3, scale: 5000 },
  { clock: ageClock, duty: 1, shape: 1.5, scale: 20_000 },
];
const lives = [
  { power: 1, factor: 1, share: 0.7 },
  { power: 1.6, factor: 0.5, share: 0.4 },
] as const;
const mixture = (changes: Partial<PartMixture> = {}): PartMixture => ({
  clocks,
  lives,
  apart: false,
  ...NONE_FAILED,
  installDays: Float64Array.of(NOW - 4000, NOW - 2000, NOW - 300),
  susceptible: Float64Array.of(0.2, 0.1, 0.15, 0.1, 0.1, 0.05),
  immune: Float64Array.of(0.05, 0.05, 0.02, 0.08, 0.03, 0.07),
  ...changes,
});
const grid = layGrid(NOW, NOW - 4800, SERVICE);
const nothing = { chance: new Array<number>(33).fill(0), failed: new Array<number>(33).fill(0) };

test('the past without looks: over the parts that could be in by then, each as alive then', () => {
  const given = mixture();
  const { chance } = ribbon(given, [], grid, nothing);
  Array.from(grid.pastDays).forEach((day, bin) => {
    let [weights, failing] = [0, 0];
    given.installDays.forEach((installDay, node) =>
      lives.forEach((branch, k) => {
        if (installDay > day) return;
        const life = { clocks, ...branch };
        const weight = given.susceptible[2 * node + k]! + given.immune[2 * node + k]!;
        const prone = susceptibleGivenAlive(branch.share, hazardSinceInstall(life, installDay, day));
        weights += weight;
        failing += weight * prone * -Math.expm1(-hazardBetween(life, installDay, day, day + SERVICE));
      }),
    );
    if (weights === 0) expect(chance[bin]).toBeNull();
    else expect(chance[bin]).toBeCloseTo(failing / weights, 10);
  });
  // Before the first part, on the day it went in, and after the second.
  expect(grid.pastDays[2]).toBe(NOW - 4200);
  expect(chance[2]).toBeNull();
  const fresh = ribbon(mixture({ installDays: Float64Array.of(NOW - 3900, NOW - 2000, NOW - 300) }), [], grid, nothing);
  expect(grid.pastDays[3]).toBe(NOW - 3900);
  expect(fresh.chance[3]).not.toBeNull();
});

test('the past with looks: those made by then, at the part that was in', () => {
  const one = mixture({
    lives: [lives[0]],
    installDays: Float64Array.of(NOW - 4000, NOW - 700),
    susceptible: Float64Array.of(0.5, 0.1),
    immune: Float64Array.of(0.3, 0.1),
  });
  const looks: readonly Inspection[] = [NOW - 2700, NOW - 2000].map((day, i) => ({
    day,
    detection: 0.7,
    falseAlarm: 0.05,
    worn: i === 1,
    warning: [{ clock: ageClock, length: 900 }],
  }));
  const { chance } = ribbon(one, looks, grid, nothing);
  Array.from(grid.pastDays).forEach((day, bin) => {
    if (day < NOW - 4000 || day >= NOW - 700) return;
    const { risk } = conditionalRisk({
      life: asTold(clocks),
      share: 0.7,
      installDay: NOW - 4000,
      nowDay: day,
      stepDays: SERVICE,
      inspections: looks.filter((look) => look.day <= day),
    });
    expect(chance[bin]).toBeCloseTo(risk, 9);
  });
  // A look on the first day of a bin counts in it.
  expect(grid.pastDays[7]).toBe(NOW - 2700);
});

test('the past with looks over several parts and lives: each as alive then, weighed as it was given', () => {
  const given = mixture();
  const look: Inspection = {
    day: NOW - 1900,
    detection: 0.7,
    falseAlarm: 0.05,
    worn: false,
    warning: [{ clock: ageClock, length: 1200 }],
  };
  const { chance } = ribbon(given, [look], grid, nothing);
  const bin = Array.from(grid.pastDays).findIndex((day) => day > NOW - 1900);
  // On the day on which the last part went in it is one of those that could be in.
  const youngest = mixture({ installDays: Float64Array.of(NOW - 4000, NOW - 2000, grid.pastDays[bin]!) });
  const sooner = mixture({ installDays: Float64Array.of(NOW - 4000, NOW - 2000, grid.pastDays[bin]! - 1e-6) });
  expect(ribbon(youngest, [look], grid, nothing).chance[bin]).toBeCloseTo(
    ribbon(sooner, [look], grid, nothing).chance[bin]!,
    9,
  );
  const day = grid.pastDays[bin]!;
  const prone: number[] = [];
  const other: number[] = [];
  [0, 1].forEach((node) =>
    lives.forEach((branch, k) => {
      const weight = given.susceptible[2 * node + k]! + given.immune[2 * node + k]!;
      const hazard = hazardSinceInstall({ clocks, ...branch }, given.installDays[node]!, day);
      prone.push(weight * susceptibleGivenAlive(branch.share, hazard));
      other.push(weight * (1 - susceptibleGivenAlive(branch.share, hazard)));
    }),
  );
  const then: PartMixture = {
    ...given,
    installDays: given.installDays.slice(0, 2),
    susceptible: Float64Array.from(prone),
    immune: Float64Array.from(other),
  };
  expect(chance[bin]).toBeCloseTo(failedBy(then, [look], day, [day + SERVICE]).by[0]!, 12);
});

test('a look from before every part that is known leaves the past open', () => {
  const look = { day: NOW - 4700, detection: 0.7, falseAlarm: 0.05, worn: false, warning: [] };
  const { chance } = ribbon(mixture(), [look], grid, nothing);
  expect(chance.slice(0, 3)).toEqual([null, null, null]);
  expect(chance[3]).not.toBeNull();
});

test('ahead: the chance from the beginning of each bin, and what fails in it', () => {
  const failed = Array.from({ length: 33 }, (_, i) => i / 64);
  const chance = Array.from({ length: 33 }, (_, i) => i / 100);
  const drawn = ribbon(mixture(), [], grid, { chance, failed });
  expect(drawn.chance).toHaveLength(48);
  expect(drawn.chance.slice(16)).toEqual(chance.slice(0, 32));
  expect(drawn.mass).toEqual([...new Array<number>(16).fill(0), ...new Array<number>(32).fill(1 / 64)]);
  expect(grid.edges).toHaveLength(49);
  expect(grid.edges[16]).toBe(NOW);
  expect(grid.edges[48]).toBeCloseTo(NOW + 8 * 365.25, 9);
  expect(grid.aheadDays.at(-1)!).toBeGreaterThanOrEqual(8 * 365.25 + SERVICE);
});
