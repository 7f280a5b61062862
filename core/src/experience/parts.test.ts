import fc from 'fast-check';
import { DEFAULT_DUTY_FACTORS } from '../duty/duty.ts';
import type { FindingFact, ServiceFact, WeakPointFact } from '../outlook/types.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { compressLives, posteriorQuantile } from './compress.ts';
import { experienceOf, publishedPrior } from './experience.ts';
import type { Observation } from './observation.ts';
import { watchedParts, type WatchedVehicle } from './parts.ts';
import { lifePosterior, predictiveRisk } from './posterior.ts';

/** A defect, so that its share is something to learn too. */
const POINT: WeakPointFact = {
  id: 'pump',
  key: 'pump',
  title: 'Pump weeps',
  component: 'Pump',
  componentKey: 'pump',
  componentClass: 'early',
  nature: 'defect',
  group: 'cooling',
  consequence: 'stranded',
  safety: false,
  effect: '',
  signs: '',
  share: 0.7,
  causes: [[{ clock: 'distance', from: 80_000, to: 160_000 }]],
  look: {
    how: '',
    minutes: 5,
    detection: 0.7,
    falseAlarm: 0.02,
    warning: [{ clock: 'distance', from: 10_000, to: 10_000 }],
  },
  renewMinutes: 60,
  partPrice: 5000,
  appliesTo: {},
  retiredByRevision: 'B',
  watch: null,
  statements: [],
  fittedTo: 'engine',
  revisedHowToTell: null,
  experience: null,
};
// 40 km a day from day 0: the reading is 40 times the day. The told window is met at scale 138,600 km, shape 4.45.
const SCALE = 80_000 * (-Math.log(0.9)) ** (-1 / (Math.log(Math.LN10 / -Math.log(0.9)) / Math.LN2));
const used = (km: number): number => km / SCALE;
const vehicle = (changes: Partial<WatchedVehicle> = {}): WatchedVehicle => ({
  clocks: { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 }), age: ageClock },
  duty: {},
  dutyFactors: DEFAULT_DUTY_FACTORS,
  severity: 1,
  services: [],
  findings: [],
  startDay: 0,
  fittedDay: null,
  firstSeenDay: 500,
  lastSeenDay: 3000,
  ...changes,
});
const renewed = (day: number, more: Partial<ServiceFact> = {}): ServiceFact => ({
  componentKey: 'pump',
  certainty: 'done',
  day,
  grade: 'original',
  revision: null,
  source: 'own',
  cameOut: null,
  ...more,
});
const finding = (day: number, result: FindingFact['result'], more: Partial<FindingFact> = {}): FindingFact => ({
  weakPointId: 'pump',
  day,
  result,
  broughtIn: false,
  sinceDay: null,
  ...more,
});
const kinds = (changes: Partial<WatchedVehicle>) =>
  watchedParts(POINT, vehicle(changes)).map(({ observation }) => observation.kind);

describe('what a workshop watched', () => {
  test('an original part that still runs is counted from the day the vehicle first came', () => {
    const [part] = watchedParts(POINT, vehicle());
    expect(part).toMatchObject({ installDay: 0, endDay: 3000, broughtIn: false, observation: { kind: 'right' } });
    expect(part!.observation.at).toBeCloseTo(used(120_000), 9);
    expect(part!.observation.entry).toBeCloseTo(used(20_000), 9);
  });

  test('each part once: one that came out, one that went in', () => {
    const parts = watchedParts(POINT, vehicle({ services: [renewed(2000)] }));
    expect(parts.map(({ installDay, endDay }) => [installDay, endDay])).toEqual([
      [0, 2000],
      [2000, 3000],
    ]);
    expect(parts.map(({ observation }) => observation.kind)).toEqual(['right', 'right']);
    expect(parts[1]!.observation).toMatchObject({ entry: 0 });
    expect(parts[1]!.observation.at).toBeCloseTo(used(40_000), 9);
  });

  test('a failure is one, found on the day of the renewal too; the part that went in starts anew', () => {
    expect(kinds({ services: [renewed(2000)], findings: [finding(2000, 'failed')] })).toEqual(['exact', 'right']);
    expect(kinds({ services: [renewed(2000)], findings: [finding(2000, 'failed', { sinceDay: 1800 })] })).toEqual([
      'interval',
      'right',
    ]);
    expect(kinds({ findings: [finding(1500, 'failed')] })).toEqual(['exact']);
  });

  test('found worn is a failure to come within the warning, clean looks are weights', () => {
    const [part] = watchedParts(POINT, vehicle({ findings: [finding(1200, 'sound'), finding(2500, 'worn')] }));
    expect(part!.observation).toMatchObject({ kind: 'worn', detection: 0.7 });
    expect(part!.observation.looks).toHaveLength(1);
    expect((part!.observation as Extract<Observation, { kind: 'worn' }>).warning).toBeCloseTo(used(10_000), 9);
  });

  test('a vehicle that came in because it broke is listed, not counted; so is one that broke within its first fortnight', () => {
    expect(watchedParts(POINT, vehicle({ findings: [finding(900, 'failed', { broughtIn: true })] }))).toMatchObject([
      { broughtIn: true },
    ]);
    expect(watchedParts(POINT, vehicle({ findings: [finding(505, 'failed')] }))).toMatchObject([{ broughtIn: true }]);
    // Nobody here knows how old the part was.
    expect(
      watchedParts(
        POINT,
        vehicle({
          firstSeenDay: 2600,
          findings: [finding(2610, 'failed', { broughtIn: true })],
          services: [renewed(2611)],
        }),
      ).map(({ broughtIn }) => broughtIn),
    ).toEqual([true, false]);
  });

  test('a part whose age nobody knows is left out until it is renewed', () => {
    expect(kinds({ firstSeenDay: 2600 })).toEqual([]);
    expect(kinds({ firstSeenDay: 2600, services: [renewed(2700)] })).toEqual(['right']);
    expect(kinds({ firstSeenDay: 2600, services: [renewed(0, { certainty: 'not_done', day: null })] })).toEqual([
      'right',
    ]);
    expect(kinds({ services: [renewed(1000, { certainty: 'believed' })] })).toEqual([]);
  });

  test('the revised part ends the weak point and says nothing about it', () =>
    expect(kinds({ services: [renewed(1000, { revision: 'B' })] })).toEqual(['right']));

  test('work on the engine before this one is not about this one', () =>
    expect(
      kinds({ startDay: 1800, fittedDay: 2000, firstSeenDay: 2000, services: [renewed(900), renewed(2400)] }),
    ).toEqual(['right', 'right']));

  test('harder use is more life used over the same distance', () => {
    const at = (severity: number): number => watchedParts(POINT, vehicle({ severity }))[0]!.observation.at;
    expect(at(1.3)).toBeCloseTo(1.3 * at(1), 9);
  });
});

const many = (count: number, of: (i: number) => Observation): Observation[] =>
  Array.from({ length: count }, (_, i) => of(i));

describe('what it makes of what is published', () => {
  test('nothing seen leaves what is published: ratio 1, share as told, not enough yet', () => {
    const { ownLife, ownShare, enough, failures } = experienceOf(POINT, []);
    expect(ownLife.middle).toBeCloseTo(1, 2);
    expect(Math.abs(ownShare.middle - 0.7)).toBeLessThan(0.01);
    expect([enough, failures]).toEqual(['few_failures', 0]);
  });

  test('the stronger the authority, the narrower what is believed', () => {
    const spread = (kind: 'bulletin' | 'bench') =>
      publishedPrior({
        ...POINT,
        statements: [{ authority: 'a', kind, edition: null, region: null, words: '', interval: [], asks: 'renew' }],
      }).logScaleSd;
    expect(spread('bulletin')).toBeLessThan(spread('bench'));
  });
  test('what a statement rests on widens or narrows it; nothing said counts as practice', () => {
    const spread = (strength?: 'counted' | 'practice' | 'hearsay') =>
      publishedPrior({
        ...POINT,
        statements: [
          {
            authority: 'a',
            kind: 'specialist',
            edition: null,
            region: null,
            words: '',
            interval: [],
            asks: 'renew',
            ...(strength ? { strength } : {}),
          },
        ],
      }).logScaleSd;
    expect(spread('counted')).toBeLessThan(spread('practice'));
    expect(spread('practice')).toBeLessThan(spread('hearsay'));
    expect(spread()).toBe(spread('practice'));
  });

  test('early failures shorten the life, survivors lengthen it, and enough is said only when it is', () => {
    const short = experienceOf(
      POINT,
      many(12, (i) => ({ kind: 'exact', at: 0.4 + 0.02 * i })),
    );
    expect(short.ownLife.high).toBeLessThan(1);
    expect(short.enough).toBe('yes');
    const long = experienceOf(
      POINT,
      many(30, () => ({ kind: 'right', at: 1.3 })),
    );
    expect(long.ownLife.middle).toBeGreaterThan(1);
    expect(long.ownShare.middle).toBeLessThan(0.7);
    expect(long.enough).toBe('few_failures');
  });

  test('one more survivor never raises the chance of another vehicle', () => {
    const seen = many(5, (i) => ({ kind: 'exact', at: 0.6 + 0.1 * i }));
    const chance = (observations: readonly Observation[]): number =>
      predictiveRisk(lifePosterior(observations, publishedPrior(POINT)).second.nodes, 0.7, 0.8);
    for (const at of [0.3, 0.8, 1.5])
      expect(chance([...seen, { kind: 'right', at }])).toBeLessThanOrEqual(chance(seen));
  });

  test('a few lives stand for the whole posterior: their chance is within a point and a half of it', () => {
    for (const observations of [
      [],
      many(4, (i) => ({ kind: 'exact', at: 0.7 + 0.1 * i })),
      many(40, (i) => (i % 4 === 0 ? { kind: 'exact', at: 0.5 + 0.012 * i } : { kind: 'right', at: 0.4 + 0.02 * i })),
    ]) {
      const posterior = lifePosterior(observations, publishedPrior(POINT)).second;
      const few = compressLives(posterior);
      expect(few.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 12);
      for (const from of [0.4, 0.6, 0.8, 1.1, 1.5]) {
        const [whole, short] = [
          predictiveRisk(posterior.nodes, from, from + 0.1),
          predictiveRisk(few, from, from + 0.1),
        ];
        expect(Math.abs(short - whole)).toBeLessThan(0.015);
      }
    }
  });

  test('quantiles of a posterior are those of the weights', () => {
    const nodes = many(100, (i) => ({ kind: 'exact', at: i })).map((_, i) => ({
      scale: i + 1,
      shape: 1,
      share: 1,
      weight: 0.01,
    }));
    expect(posteriorQuantile({ nodes }, ({ scale }) => scale, 0.5)).toBeCloseTo(50.5, 0);
    expect(posteriorQuantile({ nodes }, ({ scale }) => scale, 0.05)).toBeCloseTo(5.5, 0);
  });

  test('of what wears there is no share to learn: survivors lengthen the life alone', () => {
    const wears = { ...POINT, componentClass: 'bearing' as const, nature: 'wear' as const };
    expect(publishedPrior(wears).share).toBe(1);
    const long = experienceOf(
      wears,
      Array.from({ length: 30 }, (): Observation => ({ kind: 'right', at: 0.8 })),
    );
    expect([long.publishedShare, long.ownShare].map(({ low, middle, high }) => [low, middle, high])).toEqual([
      [1, 1, 1],
      [1, 1, 1],
    ]);
    for (const { share } of long.nodes) expect(share).toBeCloseTo(1, 9);
    expect(long.ownLife.middle).toBeGreaterThan(1);
  });
  test('quantiles lie between the values there are, in order, and are those of the distribution', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            scale: fc.double({ min: 0.1, max: 5, noNaN: true }),
            weight: fc.double({ min: 1e-9, max: 1, noNaN: true }),
          }),
          { minLength: 1, maxLength: 40 },
        ),
        (drawn) => {
          const total = drawn.reduce((sum, { weight }) => sum + weight, 0);
          const nodes = drawn.map(({ scale, weight }) => ({ scale, shape: 2, share: 1, weight: weight / total }));
          const quantiles = [0.05, 0.25, 0.5, 0.75, 0.95].map((probability) =>
            posteriorQuantile({ nodes }, ({ scale }) => scale, probability),
          );
          const scales = drawn.map(({ scale }) => scale);
          for (const quantile of quantiles) {
            expect(quantile).toBeGreaterThanOrEqual(Math.min(...scales));
            expect(quantile).toBeLessThanOrEqual(Math.max(...scales));
          }
          quantiles.slice(1).forEach((quantile, i) => expect(quantile).toBeGreaterThanOrEqual(quantiles[i]! - 1e-12));
        },
      ),
      { numRuns: 300 },
    );
    // A thousand even steps of 0 to 1: the quantile is the probability itself.
    const even = Array.from({ length: 1000 }, (_, i) => ({
      scale: (i + 0.5) / 1000,
      shape: 1,
      share: 1,
      weight: 1 / 1000,
    }));
    for (const probability of [0.05, 0.5, 0.95])
      expect(posteriorQuantile({ nodes: even }, ({ scale }) => scale, probability)).toBeCloseTo(probability, 9);
  });
});
