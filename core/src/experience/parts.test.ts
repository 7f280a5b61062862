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
  title: 'Pump leaks',
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
  access: [],
  partPrice: 5000,
  appliesTo: {},
  retiredByRevision: 'B',
  watch: null,
  damages: [],
  symptoms: [],
  failure: null,
  hastens: [],
  revisions: [],
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
  features: {},
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

  test('its life is used as fast as the outlook counts it: by what is told of use and features of this very part', () => {
    const told: WeakPointFact = {
      ...POINT,
      hastens: [
        { use: 'shortTrips', clock: 'distance', factor: 1.5 },
        { feature: 'oiled-filter', clock: 'distance', factor: 1.2 },
      ],
    };
    const at = (more: Partial<WatchedVehicle>) => watchedParts(told, vehicle(more))[0]!.observation.at;
    expect(at({ duty: { shortTrips: 'much' } })).toBeCloseTo(used(1.5 * 120_000), 9);
    expect(at({ features: { 'oiled-filter': true } })).toBeCloseTo(used(1.2 * 120_000), 9);
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

  test('on an engine from elsewhere work of the very day it went in counts; papers that nobody knows leave its age open', () => {
    const swapped = { startDay: 1800, fittedDay: 2000, firstSeenDay: 2000 };
    expect(
      watchedParts(POINT, vehicle({ ...swapped, services: [renewed(2000), renewed(1999)] })).map(
        ({ installDay }) => installDay,
      ),
    ).toEqual([2000]);
    expect(kinds({ services: [renewed(0, { certainty: 'unknown', day: null })] })).toEqual([]);
  });

  test('the original is still in there while little of the custom was run, on whichever clock', () => {
    const says = (interval: WeakPointFact['statements'][number]['interval']): WeakPointFact => ({
      ...POINT,
      statements: [
        {
          authority: 'a',
          kind: 'book',
          edition: null,
          region: null,
          words: '',
          asks: 'renew',
          interval: [...interval],
        },
      ],
    });
    // First seen at 20,000 km and 500 days; six tenths of the custom.
    const seen = (clock: 'distance' | 'age', at: number) =>
      watchedParts(says([{ clock, from: at, to: at }]), vehicle()).length;
    expect([seen('distance', 20_000 / 0.6), seen('distance', 20_000 / 0.6 - 1)]).toEqual([1, 0]);
    expect([seen('age', 500 / 0.6), seen('age', 500 / 0.6 - 1)]).toEqual([1, 0]);
    expect(watchedParts(says([{ clock: 'hours', from: 1, to: 1 }]), vehicle())).toHaveLength(1);
  });

  test('findings count for the part that was in there then: sound on the day it went in, never another’s', () => {
    const looked = (findings: readonly FindingFact[]) =>
      watchedParts(POINT, vehicle({ services: [renewed(2000)], findings })).map(
        ({ observation }) => observation.looks?.length ?? 0,
      );
    expect(looked([finding(2000, 'sound')])).toEqual([1, 1]);
    expect(looked([finding(1999, 'sound')])).toEqual([1, 0]);
    expect(looked([finding(2001, 'sound')])).toEqual([0, 1]);
    expect(looked([finding(2001, 'sound', { weakPointId: 'other' })])).toEqual([0, 0]);
    expect(kinds({ services: [renewed(2000)], findings: [finding(2000, 'worn')] })).toEqual(['worn', 'right']);
    expect(kinds({ findings: [finding(3001, 'failed')] })).toEqual(['right']);
  });

  test('looks after the failure, and those that were worn, are no clean looks; a sure eye is taken for nearly sure', () => {
    const sharp = { ...POINT, look: { ...POINT.look!, detection: 1 } };
    const [part] = watchedParts(
      sharp,
      vehicle({
        findings: [finding(2500, 'sound'), finding(1000, 'sound'), finding(1500, 'worn'), finding(2000, 'failed')],
      }),
    );
    expect(part!.observation).toMatchObject({ kind: 'exact', looks: [{ detection: 0.99 }] });
    expect(part!.observation.looks![0]!.at).toBeCloseTo(used(40_000), 9);
    expect(watchedParts(POINT, vehicle({ findings: [finding(1000, 'sound')] }))[0]!.observation.looks).toMatchObject([
      { detection: 0.7 },
    ]);
    expect(watchedParts(POINT, vehicle())[0]!.observation).not.toHaveProperty('looks');
    const blind = { ...POINT, look: null };
    expect(watchedParts(blind, vehicle({ findings: [finding(1000, 'worn')] }))).toMatchObject([
      { observation: { kind: 'right' } },
    ]);
  });

  test('when it failed is known to lie after the last day it ran, where that day is of this part', () => {
    const one = (sinceDay: number | null) =>
      watchedParts(POINT, vehicle({ services: [renewed(1000)], findings: [finding(2000, 'failed', { sinceDay })] }))[1]!
        .observation;
    expect(one(1500)).toMatchObject({ kind: 'interval' });
    expect(one(1500).at).toBeCloseTo(used(20_000), 9);
    expect((one(1500) as Extract<Observation, { kind: 'interval' }>).until).toBeCloseTo(used(40_000), 9);
    for (const no of [null, 1000, 900, 2000]) expect(one(no).kind).toBe('exact');
    // Before it came to us nobody watched: the interval begins with the watching.
    const early = watchedParts(POINT, vehicle({ findings: [finding(2000, 'failed', { sinceDay: 100 })] }))[0]!;
    expect(early.observation.at).toBeCloseTo(used(20_000), 9);
  });

  test('watched for no time at all it says nothing; that it broke is listed once', () => {
    expect(kinds({ services: [renewed(3000)] })).toEqual(['right']);
    const twice = vehicle({ findings: [finding(900, 'failed', { broughtIn: true })] });
    expect(watchedParts(POINT, twice)).toHaveLength(1);
    const later = watchedParts(
      POINT,
      vehicle({
        firstSeenDay: 2600,
        services: [renewed(2611)],
        findings: [finding(2610, 'failed', { broughtIn: true }), finding(2800, 'failed')],
      }),
    );
    expect(later.map(({ broughtIn, endDay }) => [broughtIn, endDay])).toEqual([
      [true, 2610],
      [false, 2800],
    ]);
    expect(later[0]!.observation.at).toBeCloseTo(used(104_400), 9);
  });

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

  test('how many did what is counted, many at a time too; three failures are the least that say something', () => {
    const seen: Observation[] = [
      { kind: 'exact', at: 0.6 },
      { kind: 'interval', at: 0.6, until: 0.7, count: 2 },
      { kind: 'worn', at: 0.6, detection: 0.7, warning: 0.1, count: 3 },
      { kind: 'right', at: 0.6, count: 40 },
    ];
    expect(experienceOf(POINT, seen)).toMatchObject({ parts: 46, failures: 3, worn: 3, renewed: 40 });
    expect(experienceOf(POINT, seen).enough).not.toBe('few_failures');
    expect(experienceOf(POINT, seen.slice(1)).enough).toBe('few_failures');
  });

  test('enough is said where the interval of the life came to less than four fifths of what it was', () => {
    const among = new Set<string>();
    for (const count of [2, 3, 4, 6, 9, 15])
      // Failed at a reading, or some time in a life: that says next to nothing.
      for (const failed of [{ kind: 'exact', at: 0.5 } as const, { kind: 'interval', at: 0.1, until: 2 } as const]) {
        const { enough, ownLife, publishedLife } = experienceOf(POINT, [{ ...failed, count }]);
        const width = Math.log(ownLife.high) - Math.log(ownLife.low);
        const before = Math.log(publishedLife.high) - Math.log(publishedLife.low);
        expect(enough).toBe(count < 3 ? 'few_failures' : width > 0.8 * before ? 'hardly_narrower' : 'yes');
        among.add(enough);
      }
    expect(among.size).toBe(3);
  });

  test('lives that stand for others lie along their scale: mean and spread of its logarithm are kept', () => {
    const nodes = [
      { scale: 0.5, shape: 3, share: 0.4, weight: 0.3 },
      { scale: 1, shape: 2, share: 0.6, weight: 0.5 },
      { scale: 2.5, shape: 1.5, share: 0.9, weight: 0.2 },
    ];
    const moments = (of: readonly { scale: number; weight: number }[]) => {
      const mean = of.reduce((sum, { scale, weight }) => sum + weight * Math.log(scale), 0);
      return [mean, of.reduce((sum, { scale, weight }) => sum + weight * (Math.log(scale) - mean) ** 2, 0)] as const;
    };
    const few = compressLives({ nodes });
    const [[mean, variance], [ownMean, ownVariance]] = [moments(nodes), moments(few)];
    expect(ownMean).toBeCloseTo(mean, 9);
    expect(ownVariance).toBeCloseTo(variance, 9);
    // Longer lives of these have a flatter shape and a larger share.
    const byScale = [...few].sort((a, b) => a.scale - b.scale);
    byScale.slice(1).forEach(({ shape, share }, i) => {
      expect(shape).toBeLessThan(byScale[i]!.shape);
      expect(share).toBeGreaterThan(byScale[i]!.share);
    });
    const [same] = compressLives({ nodes: [nodes[1]!].map((node) => ({ ...node, weight: 1 })) });
    expect(same).toMatchObject({ share: 0.6 });
    expect(same!.scale).toBeCloseTo(1, 12);
    expect(same!.shape).toBeCloseTo(2, 12);
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
