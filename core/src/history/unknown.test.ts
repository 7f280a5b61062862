import fc from 'fast-check';
import { normalCdf } from '../numeric/normal.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import { randomFrom } from '../numeric/random.ts';
import { fastExp } from '../numeric/fast.ts';
import { fillUnknown, unknownInstall } from './unknown.ts';

test.each([
  [0, 0.5],
  [1.96, 0.9750021048517795],
  [-1, 0.15865525393145707],
  [-6, 9.865876450376946e-10],
  [5, 0.9999997133484281],
  [-8, 6.220960574271786e-16],
])('normal distribution at %d against published values', (z, wanted) => {
  expect(Math.abs(normalCdf(z) - wanted)).toBeLessThan(1e-13 + 1e-10 * Math.min(wanted, 1 - wanted));
});

const base = {
  lives: [{ shape: 3, scale: 150_000 }],
  clocksNow: [120_000],
  share: 0.5,
  custom: 90_000,
  customSpread: 0.2,
  followChance: 0.6,
  knownFailureChance: 0,
  binOverLag: Infinity,
  bins: 40,
};

test('with failures that may go unknown, all the weight is somewhere', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 1000, max: 400_000, noNaN: true }),
      (share, km) => {
        for (const binOverLag of [Infinity, 0.4, 0]) {
          const { running, failed } = unknownInstall({ ...base, share, binOverLag, clocksNow: [km] });
          const sum = running.reduce((total, node) => total + node.susceptible + node.immune, failed);
          expect(sum).toBeCloseTo(1, 9);
        }
      },
    ),
  );
});

test('what is never repaired stays failed: of those that were susceptible, all that have not lived', () => {
  const never = { ...base, custom: null, binOverLag: 0 };
  const { running, failed } = unknownInstall(never);
  const hazard = cumulativeHazard(base.lives[0]!, base.clocksNow[0]!);
  expect(failed).toBeCloseTo(0.5 * -Math.expm1(-hazard), 12);
  expect(running.slice(1).every(({ susceptible, immune }) => susceptible === 0 && immune === 0)).toBe(true);
  expect(unknownInstall({ ...never, knownFailureChance: 0.3 }).failed).toBeCloseTo(0.7 * failed, 12);
  expect(unknownInstall({ ...never, binOverLag: Infinity }).failed).toBe(0);
  expect(() => unknownInstall({ ...never, binOverLag: -1 })).toThrow(/binOverLag/);
});

test('nobody follows a custom and nothing fails: it is the original part', () => {
  const nodes = unknownInstall({ ...base, share: 0, followChance: 0 }).running;
  expect(nodes[0]!.immune).toBeCloseTo(1, 12);
});

test('kept strictly to the custom, half are renewed once the customary distance is reached', () => {
  const nodes = unknownInstall({ ...base, share: 0, followChance: 1, clocksNow: [90_000] }).running;
  expect(nodes[0]!.immune).toBeCloseTo(0.5, 6);
});

test('chances outside 0 to 1 and bins that are none are refused', () => {
  expect(() => unknownInstall({ ...base, followChance: 1.2 })).toThrow(/followChance/);
  expect(() => unknownInstall({ ...base, followChance: -0.1 })).toThrow(/followChance/);
  expect(() => unknownInstall({ ...base, knownFailureChance: 1.1 })).toThrow(/knownFailureChance/);
  for (const bins of [0, -1, -5, 2.5]) expect(() => unknownInstall({ ...base, bins })).toThrow(/bins/);
  for (const share of [-0.1, 1.1])
    expect(() => unknownInstall({ ...base, share })).toThrow(`share must lie in [0, 1], got ${share}`);
});

test('one bin: it is the original that lived, or one put in now in place of one that failed', () => {
  const hazard = cumulativeHazard(base.lives[0]!, base.clocksNow[0]!);
  const [original, fresh] = unknownInstall({ ...base, bins: 1, custom: null }).running;
  expect(original!.susceptible).toBeCloseTo(0.5 * Math.exp(-hazard), 12);
  expect(fresh!.susceptible).toBeCloseTo(0.5 * -Math.expm1(-hazard), 12);
  expect(original!.immune).toBeCloseTo(0.5, 12);
  expect(fresh!.immune).toBeCloseTo(0, 12);
});

test('a failure that would be known leaves fewer in which a part went in for it', () => {
  const hazard = cumulativeHazard(base.lives[0]!, base.clocksNow[0]!);
  const known = { ...base, bins: 1, custom: null, knownFailureChance: 0.3 };
  expect(unknownInstall(known).running[1]!.susceptible).toBeCloseTo(0.5 * 0.7 * -Math.expm1(-hazard), 12);
});

test('a life that is lived as it was told is weighed without a digit lost', () => {
  for (let km = 100_000; km < 140_000; km += 1000)
    expect(unknownInstall({ ...base, clocksNow: [km], share: 1, bins: 1, custom: null }).running[0]).toEqual({
      fraction: 0,
      susceptible: fastExp(-cumulativeHazard(base.lives[0]!, km)),
      immune: 0,
    });
});

test('where no custom is known nobody follows one', () =>
  expect(unknownInstall({ ...base, custom: null })).toEqual(unknownInstall({ ...base, followChance: 0 })));

describe('the process for several lives at once', () => {
  const { lives, share: _, ...ground } = base;
  const told = (bins: number): Float64Array =>
    Float64Array.from({ length: bins + 1 }, (_entry, i) => cumulativeHazard(lives[0]!, (120_000 * i) / bins));
  const fill = (
    place: 'end' | 'middle',
    bins: number,
    branches: readonly { power: number; factor: number; share: number }[],
    changes: Partial<typeof ground>,
  ) => {
    const size = (bins + 1) * branches.length;
    const weights = {
      susceptible: new Float64Array(size),
      immune: new Float64Array(size),
      failed: new Float64Array(size),
    };
    fillUnknown(
      { told: told(bins), lived: told(bins).reverse(), place },
      branches,
      { ...ground, bins, ...changes },
      weights,
    );
    return { susceptible: Array.from(weights.susceptible), immune: Array.from(weights.immune) };
  };

  test('each lives on with its own bend, from the same installations', () => {
    const bins = 4;
    const lived = told(bins).reverse();
    const { susceptible, immune } = fill(
      'end',
      bins,
      [
        { power: 1, factor: 1, share: 0.8 },
        { power: 2, factor: 0.5, share: 0.2 },
      ],
      { followChance: 0 },
    );
    lived.forEach((hazard, i) => {
      const standing = susceptible[2 * i]! / (0.8 * Math.exp(-hazard));
      expect(susceptible[2 * i + 1]).toBeCloseTo(0.2 * standing * Math.exp(-0.5 * hazard ** 2), 10);
    });
    // Where nothing fails and nobody keeps to a custom, it is the original, in the share that never fails.
    [0.2, 0.8, 0, 0, 0, 0, 0, 0, 0, 0].forEach((share, i) => expect(immune[i]).toBeCloseTo(share, 12));
    // The youngest has lived through nothing: every life has all of its share there.
    expect(susceptible.at(-1)! / susceptible.at(-2)!).toBeCloseTo(0.25, 12);
  });

  test('where nothing fails every life is renewed alike, each in its own immune share', () => {
    const { immune } = fill(
      'end',
      4,
      [
        { power: 1, factor: 1, share: 0.8 },
        { power: 1, factor: 1, share: 0.4 },
      ],
      { followChance: 1 },
    );
    for (let i = 0; i <= 4; i += 1) expect(immune[2 * i + 1]! / immune[2 * i]!).toBeCloseTo(3, 10);
  });

  test('one bin, nothing fails, all keep to the custom: those that came to it, not yet at it again', () => {
    const sd = 0.2 * 90_000;
    const below = normalCdf(-90_000 / sd);
    const came = (normalCdf((120_000 - 90_000) / sd) - below) / (1 - below);
    const immune = (place: 'end' | 'middle'): number[] =>
      fill(place, 1, [{ power: 1, factor: 1, share: 0 }], { followChance: 1 }).immune;
    expect(immune('end')).toEqual([expect.closeTo(1 - came, 12), expect.closeTo(came, 12)]);
    // One that comes to it again within the bin is renewed again: all of them have one in there.
    expect(immune('middle')).toEqual([expect.closeTo(1 - came, 12), expect.closeTo(came, 12)]);
  });
});

test('few bins with installations in their middle come close to the limit of many: P(original), and how old the part is on the average', () => {
  const {
    lives: [life],
    share,
    ...ground
  } = base;
  const now = ground.clocksNow[0]!;
  const [bins, size] = [10, 11];
  const hazard = (part: number): number => cumulativeHazard(life!, now * part);
  const passed = Array.from({ length: size }, (_, i) => (i === 0 ? 0 : (i - 0.5) / bins));
  const [susceptible, immune, failed] = [new Float64Array(size), new Float64Array(size), new Float64Array(size)];
  fillUnknown(
    {
      told: Float64Array.from({ length: size }, (_, i) => hazard(i / bins)),
      lived: Float64Array.from(passed, (part) => hazard(1 - part)),
      place: 'middle',
    },
    [{ power: 1, factor: 1, share }],
    { ...ground, bins },
    { susceptible, immune, failed },
  );
  const facts = (weights: readonly number[], fractions: readonly number[]): [original: number, installed: number] => {
    const total = weights.reduce((sum, weight) => sum + weight, 0);
    return [weights[0]! / total, weights.reduce((sum, weight, i) => sum + weight * fractions[i]!, 0) / total];
  };
  const many = unknownInstall({ ...base, bins: 4000 }).running;
  const few = facts(
    passed.map((_, i) => susceptible[i]! + immune[i]!),
    passed,
  );
  const limit = facts(
    many.map((node) => node.susceptible + node.immune),
    many.map(({ fraction }) => fraction),
  );
  expect(Math.abs(few[0] - limit[0])).toBeLessThan(0.004);
  expect(Math.abs(few[1] - limit[1])).toBeLessThan(0.004);
});

describe('failed already, against vehicles that are played through one by one', () => {
  /** One vehicle's part by the rules in words: custom, failure, repair after a wait. */
  function played(
    random: () => number,
    { share, custom, followChance, lag }: { share: number; custom: number; followChance: number; lag: number },
    km: number,
  ): { readonly isFailed: boolean; readonly isFirst: boolean } {
    const normal = (): number => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
    const [isProne, isFollowing] = [random() < share, random() < followChance];
    let [at, isFirst] = [0, true];
    for (;;) {
      const fails = isProne
        ? at + base.lives[0]!.scale * (-Math.log(random())) ** (1 / base.lives[0]!.shape)
        : Infinity;
      let span = 0;
      while (span <= 0) span = custom * (1 + base.customSpread * normal());
      const renewed = isFollowing ? at + span : Infinity;
      if (Math.min(fails, renewed) > km) return { isFailed: false, isFirst };
      at = Math.min(fails, renewed);
      if (fails < renewed) {
        at -= lag * Math.log(random());
        if (at > km) return { isFailed: true, isFirst: false };
      }
      isFirst = false;
    }
  }

  test.each([
    { share: 1, custom: 90_000, followChance: 0.6, lag: 15_000 },
    { share: 1, custom: 120_000, followChance: 0, lag: 30_000 },
    { share: 0.4, custom: 60_000, followChance: 0.6, lag: 4000 },
  ])('%o: ten bins are within half a point of 100,000 vehicles', (told) => {
    const km = 240_000;
    const random = randomFrom(7);
    let [failed, first] = [0, 0];
    const count = 100_000;
    for (let i = 0; i < count; i += 1) {
      const { isFailed, isFirst } = played(random, told, km);
      failed += Number(isFailed) / count;
      first += Number(isFirst) / count;
    }
    const [bins, size] = [10, 11];
    const passed = Array.from({ length: size }, (_, i) => (i === 0 ? 0 : (i - 0.5) / bins));
    const hazard = (part: number): number => cumulativeHazard(base.lives[0]!, km * part);
    const weights = {
      susceptible: new Float64Array(size),
      immune: new Float64Array(size),
      failed: new Float64Array(size),
    };
    fillUnknown(
      {
        told: Float64Array.from({ length: size }, (_, i) => hazard(i / bins)),
        lived: Float64Array.from(passed, (part) => hazard(1 - part)),
        place: 'middle',
      },
      [{ power: 1, factor: 1, share: told.share }],
      {
        custom: told.custom,
        customSpread: base.customSpread,
        followChance: told.followChance,
        knownFailureChance: 0,
        clocksNow: [km],
        binOverLag: km / bins / told.lag,
        bins,
      },
      weights,
    );
    const sum = (of: Float64Array): number => of.reduce((total, weight) => total + weight, 0);
    const all = sum(weights.susceptible) + sum(weights.immune) + sum(weights.failed);
    expect(Math.abs(sum(weights.failed) / all - failed)).toBeLessThan(0.005);
    expect(Math.abs((weights.susceptible[0]! + weights.immune[0]!) / all - first)).toBeLessThan(0.005);
  });
});
