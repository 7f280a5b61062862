import fc from 'fast-check';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import {
  asTold,
  conditionalRisk,
  hazardSinceInstall,
  windowEnd,
  type ClockLife,
  type Inspection,
  type LifeBranch,
} from '../life/risk.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { usagePath } from '../usage/path.ts';
import { failedBy, failedByLife, NONE_FAILED, type PartMixture } from './mixture.ts';
import { thinnedMixture } from './thinned.ts';

const TODAY = 20_000;

interface Part {
  readonly km: number;
  readonly years: number;
  readonly scaleKm: number;
  readonly shapeKm: number;
  readonly scaleYears: number;
  readonly shapeYears: number;
  readonly share: number;
  readonly duty: number;
  readonly installedAt: number;
  readonly stepDays: number;
  readonly looks: readonly { readonly at: number; readonly worn: boolean; readonly warnsKm: number }[];
}

const between = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
const parts = fc.record<Part>({
  km: between(5000, 400_000),
  years: between(1, 25),
  scaleKm: between(60_000, 400_000),
  shapeKm: between(1, 6),
  scaleYears: between(5, 40),
  shapeYears: between(1, 6),
  share: between(0.02, 1),
  duty: between(0.5, 2),
  installedAt: between(0, 0.95),
  stepDays: between(30, 900),
  looks: fc.array(fc.record({ at: between(0.01, 0.99), worn: fc.boolean(), warnsKm: between(2000, 60_000) }), {
    maxLength: 3,
  }),
});

test('one part and one life: the sums that answer a vehicle are those of the kernel that the vectors hold', () => {
  fc.assert(
    fc.property(parts, (part) => {
      const startDay = TODAY - part.years * 365.25;
      const path = usagePath([{ day: TODAY, km: part.km }], startDay, 41);
      const clocks: ClockLife[] = [
        { clock: distanceClock(path), duty: part.duty, scale: part.scaleKm, shape: part.shapeKm },
        { clock: ageClock, duty: 1, scale: part.scaleYears * 365.25, shape: part.shapeYears },
      ];
      const installDay = startDay + part.installedAt * (TODAY - startDay);
      const inspections: Inspection[] = part.looks.map(({ at, worn, warnsKm }) => ({
        day: installDay + at * (TODAY - installDay),
        detection: 0.8,
        falseAlarm: 0.03,
        worn,
        warning: [{ clock: clocks[0]!.clock, length: warnsKm }],
      }));
      const life = asTold(clocks);
      const alive = susceptibleGivenAlive(part.share, hazardSinceInstall(life, installDay, TODAY));
      const kernel = conditionalRisk({
        life,
        share: part.share,
        installDay,
        nowDay: TODAY,
        stepDays: part.stepDays,
        inspections,
      });
      const answer = failedBy(
        {
          clocks,
          lives: [{ power: 1, factor: 1, share: part.share }],
          apart: false,
          ...NONE_FAILED,
          installDays: Float64Array.of(installDay),
          susceptible: Float64Array.of(alive),
          immune: Float64Array.of(1 - alive),
        },
        inspections,
        TODAY,
        [TODAY + part.stepDays],
      );
      expect(answer.by[0]).toBeCloseTo(kernel.risk, 9);
      expect(answer.susceptible).toBeCloseTo(kernel.susceptibleGivenLooks, 9);
    }),
    { numRuns: 400 },
  );
});

describe('many parts and lives', () => {
  const clocks: readonly ClockLife[] = [
    { clock: ageClock, duty: 1, shape: 3, scale: 5000 },
    { clock: ageClock, duty: 1.2, shape: 1.5, scale: 20_000 },
  ];
  const lives: readonly LifeBranch[] = [
    { power: 1, factor: 1, share: 0.7 },
    { power: 1, factor: 2, share: 0.7 },
    { power: 1.6, factor: 0.5, share: 0.7 },
  ];
  const mixture = (changes: Partial<PartMixture> = {}): PartMixture => ({
    clocks,
    lives,
    apart: false,
    ...NONE_FAILED,
    // The last went in today: nothing has been lived through yet.
    installDays: Float64Array.of(TODAY - 4000, TODAY - 1500, TODAY - 300, TODAY),
    susceptible: Float64Array.of(0.2, 0.1, 0.05, 0.1, 0.05, 0.1, 0.02, 0.03, 0.05, 0.04, 0.03, 0.03),
    immune: Float64Array.of(0.03, 0.02, 0, 0.04, 0.01, 0.02, 0.02, 0.01, 0.01, 0.02, 0.01, 0.01),
    ...changes,
  });
  const looked = (day: number, worn: boolean, length: number): Inspection => ({
    day,
    detection: 0.8,
    falseAlarm: 0.1,
    worn,
    warning: [{ clock: ageClock, length }],
  });

  /** The same sums by their definition: probabilities of the looks and of a failure in each stretch, one by one. */
  function byDefinition(given: PartMixture, looks: readonly Inspection[], day: number) {
    const count = given.lives.length;
    return given.lives.map((life, k) => {
      let [weight, evidence, prone, failing] = [0, 0, 0, 0];
      given.installDays.forEach((installDay, node) => {
        const hazard = (at: number): number => hazardSinceInstall({ clocks: given.clocks, ...life }, installDay, at);
        const alive = (at: number): number => Math.exp(hazard(TODAY) - hazard(at));
        const [w, rest] = [given.susceptible[node * count + k]!, given.immune[node * count + k]!];
        const own = looks.filter((look) => look.day >= installDay);
        const earlier = looks
          .filter((look) => look.day < installDay && !look.worn)
          .reduce((product, { falseAlarm }) => product * (1 - falseAlarm), 1);
        const says = (seen: boolean, look: Inspection): number =>
          seen ? (look.worn ? 0.8 : 1 - 0.8) : look.worn ? look.falseAlarm : 1 - look.falseAlarm;
        const between = (from: number): number =>
          own.reduce((product, look) => product * says(windowEnd(look, given.clocks) > from, look), 1);
        const cuts = [TODAY, day, ...own.map((look) => windowEnd(look, given.clocks)).filter((end) => end > TODAY)];
        cuts.sort((a, b) => a - b);
        let [mass, until] = [0, 0];
        cuts.forEach((cut, i) => {
          const next = cuts[i + 1];
          const part = between(cut) * (alive(cut) - (next === undefined ? 0 : alive(next)));
          mass += part;
          if (next !== undefined && next <= day) until += part;
        });
        weight += w + rest;
        failing += earlier * w * until;
        prone += earlier * w * mass;
        evidence += earlier * (w * mass + rest * own.reduce((product, look) => product * says(false, look), 1));
      });
      return { weight, evidence, prone, failing };
    });
  }
  const closeAll = (actual: readonly number[], wanted: readonly number[]): void => {
    expect(actual).toHaveLength(wanted.length);
    wanted.forEach((value, i) => expect(actual[i]).toBeCloseTo(value, 12));
  };
  const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
  const LOOKS: readonly (readonly [string, readonly Inspection[]])[] = [
    ['without looks', []],
    ['with a clean look', [looked(TODAY - 200, false, 500)]],
    [
      'with looks at earlier parts',
      [looked(TODAY - 2000, false, 300), looked(TODAY - 1800, true, 100), looked(TODAY - 100, true, 4000)],
    ],
    ['with a window that is over today', [looked(TODAY - 400, false, 400)]],
    ['with a look on the day a part went in', [looked(TODAY - 1500, false, 3000)]],
  ];

  test.each(LOOKS)('%s: over all lives at once where the looks speak for some of them', (_, looks) => {
    const [day, late] = [TODAY + 365, TODAY + 2500];
    for (const at of [day, late]) {
      const parts = byDefinition(mixture(), looks, at);
      const answer = failedBy(mixture(), looks, TODAY, [late, day]);
      const evidence = sum(parts.map((part) => part.evidence));
      expect(answer.by[at === late ? 0 : 1]).toBeCloseTo(sum(parts.map(({ failing }) => failing)) / evidence, 9);
      expect(answer.susceptible).toBeCloseTo(sum(parts.map(({ prone }) => prone)) / evidence, 9);
      const lives = failedByLife(mixture(), looks, TODAY, [late, day]);
      expect(lives).toEqual([{ weight: 1, by: answer.by, now: 0 }]);
    }
  });

  test.each(LOOKS)('%s: each life by itself where they stand apart, at the weight it was given', (_, looks) => {
    const day = TODAY + 730;
    const parts = byDefinition(mixture(), looks, day);
    const whole = sum(parts.map(({ weight }) => weight));
    const answer = failedBy(mixture({ apart: true }), looks, TODAY, [day, TODAY + 1]);
    const said = failedByLife(mixture({ apart: true }), looks, TODAY, [day, TODAY + 1]);
    expect(said).toHaveLength(3);
    said.forEach(({ weight, by }, k) => {
      expect(weight).toBeCloseTo(parts[k]!.weight / whole, 12);
      expect(by[0]).toBeCloseTo(parts[k]!.failing / parts[k]!.evidence, 9);
    });
    expect(answer.by[0]).toBeCloseTo(
      sum(parts.map(({ weight, failing, evidence }) => ((weight / whole) * failing) / evidence)),
      9,
    );
    expect(answer.susceptible).toBeCloseTo(
      sum(parts.map(({ weight, prone, evidence }) => ((weight / whole) * prone) / evidence)),
      9,
    );
  });

  test('a life that nobody can have lived is left out, and the others are all there is', () => {
    const none = mixture({ apart: true });
    for (let node = 0; node < 4; node += 1) [none.susceptible[3 * node + 1], none.immune[3 * node + 1]] = [0, 0];
    const { by } = failedBy(none, [], TODAY, [TODAY + 365]);
    const said = failedByLife(none, [], TODAY, [TODAY + 365]);
    expect(said).toHaveLength(2);
    expect(sum(said.map(({ weight }) => weight))).toBeCloseTo(1, 12);
    expect(by[0]).toBeCloseTo(sum(said.map((life) => life.weight * life.by[0]!)), 12);
  });

  test('a life that what was seen rules out speaks no more, and the weights of the others are all there is', () => {
    const worn: Inspection = { ...looked(TODAY - 100, true, 4000), falseAlarm: 0 };
    const two = mixture({
      apart: true,
      lives: lives.slice(0, 2),
      installDays: Float64Array.of(TODAY - 1500),
      susceptible: Float64Array.of(0, 0.3),
      immune: Float64Array.of(0.6, 0.1),
    });
    const { susceptible } = failedBy(two, [worn], TODAY, [TODAY + 365]);
    const said = failedByLife(two, [worn], TODAY, [TODAY + 365]);
    expect(said.map(({ weight }) => weight)).toEqual([1]);
    expect(susceptible).toBeCloseTo(1, 12);
  });

  test('a part that went in a moment ago is as one that goes in today', () => {
    const [steep] = [[{ clock: ageClock, duty: 1, shape: 30, scale: 400 }]];
    const from = (installDay: number, ahead = 400): number =>
      failedBy(
        {
          clocks: steep,
          lives: lives.slice(0, 1),
          apart: false,
          ...NONE_FAILED,
          installDays: Float64Array.of(installDay),
          susceptible: Float64Array.of(1),
          immune: Float64Array.of(0),
        },
        [],
        TODAY,
        [TODAY + ahead],
      ).by[0]!;
    expect(from(TODAY)).toBeCloseTo(-Math.expm1(-1), 12);
    expect(from(TODAY - 1e-9)).toBeCloseTo(-Math.expm1(-1), 9);
    // So short a time that what it grows by is no number any more.
    expect(from(TODAY - 2.26e-8, 428)).toBeCloseTo(-Math.expm1(-(1.07 ** 30)), 8);
  });

  describe('failed already', () => {
    /** Three in ten failed about two years ago; the others run, and each may still fail. */
    const waiting = mixture({
      lives: lives.slice(0, 1),
      installDays: Float64Array.of(TODAY - 1000),
      susceptible: Float64Array.of(0.5),
      immune: Float64Array.of(0.2),
      failedDays: Float64Array.of(TODAY - 700),
      failed: Float64Array.of(0.3),
    });
    const growing = (day: number): number =>
      hazardSinceInstall({ clocks, power: 1, factor: 1 }, TODAY - 1000, day) -
      hazardSinceInstall({ clocks, power: 1, factor: 1 }, TODAY - 1000, TODAY);
    const fails = -Math.expm1(-growing(TODAY + 365));

    test('it counts as failed from the first day on', () => {
      const { by, now, susceptible } = failedBy(waiting, [], TODAY, [TODAY, TODAY + 365]);
      expect(now).toBeCloseTo(0.3, 12);
      expect(by[0]).toBeCloseTo(0.3, 12);
      expect(by[1]).toBeCloseTo(0.3 + 0.5 * fails, 9);
      expect(susceptible).toBeCloseTo(0.8, 12);
    });

    test('a good look since then leaves what it would have missed; one before says nothing of it', () => {
      const after = failedBy(waiting, [looked(TODAY, false, 1)], TODAY, [TODAY]).now;
      // All that runs is still sound but for the day that the look foresees.
      const soon = -Math.expm1(-growing(TODAY + 1));
      const running = 0.5 * (soon * 0.2 + (1 - soon) * 0.9) + 0.2 * 0.9;
      expect(after).toBeCloseTo((0.3 * 0.2) / (0.3 * 0.2 + running), 9);
      const before = failedBy(waiting, [looked(TODAY - 900, false, 1)], TODAY, [TODAY]).now;
      expect(before).toBeCloseTo(0.3, 9);
    });

    test('by life, where lives stand apart', () => {
      const two = {
        ...waiting,
        apart: true,
        lives: lives.slice(0, 2),
        susceptible: Float64Array.of(0.3, 0.2),
        immune: Float64Array.of(0.1, 0.1),
        failed: Float64Array.of(0.1, 0.2),
      };
      const apart = failedByLife(two, [], TODAY, [TODAY]);
      expect(apart.map(({ weight, now }) => [weight, now])).toEqual([
        [expect.closeTo(0.5, 12), expect.closeTo(0.2, 12)],
        [expect.closeTo(0.5, 12), expect.closeTo(0.4, 12)],
      ]);
      expect(failedBy(two, [], TODAY, [TODAY]).now).toBeCloseTo(0.3, 12);
    });
  });

  describe('thinned', () => {
    const many = (count: number, rare: number): PartMixture => ({
      clocks,
      lives: lives.slice(0, 2),
      apart: true,
      ...NONE_FAILED,
      installDays: Float64Array.from({ length: count }, (_, i) => TODAY - 3000 + 200 * i),
      susceptible: Float64Array.from(
        { length: 2 * count },
        (_, at) => ((at % 2 === 0 ? 1 - rare : rare) * 0.6) / count,
      ),
      immune: Float64Array.from({ length: 2 * count }, (_, at) => ((at % 2 === 0 ? 1 - rare : rare) * 0.4) / count),
    });
    test('five installations stay as they are', () => {
      const five = many(5, 0.3);
      expect(thinnedMixture(five)).toBe(five);
    });
    test('of nine the oldest stays, and each two neighbours are one at their mean day', () => {
      const thin = thinnedMixture(many(9, 0.3));
      expect(Array.from(thin.installDays, (day) => Math.round(day - TODAY + 3000))).toEqual([0, 300, 700, 1100, 1500]);
      closeAll(Array.from(thin.susceptible.slice(0, 4)), [0.42 / 9, 0.18 / 9, 0.84 / 9, 0.36 / 9]);
      closeAll(Array.from(thin.immune.slice(0, 4)), [0.28 / 9, 0.12 / 9, 0.56 / 9, 0.24 / 9]);
      expect(sum([...thin.susceptible, ...thin.immune])).toBeCloseTo(1, 12);
    });
    test('of six the second group is the pair that is left, and a group that weighs nothing keeps its first day', () => {
      const six = many(6, 0.3);
      for (const at of [2, 3, 4, 5]) [six.susceptible[at], six.immune[at]] = [0, 0];
      expect(Array.from(thinnedMixture(six).installDays, (day) => Math.round(day - TODAY + 3000))).toEqual([
        0, 200, 700, 1000,
      ]);
    });
    test('a life of less than one in twenty is left out, and the rest is brought back to the whole', () => {
      const thin = thinnedMixture(many(3, 0.04));
      expect(thin.lives).toEqual([lives[0]]);
      closeAll(Array.from(thin.susceptible), [0.2, 0.2, 0.2]);
      closeAll(Array.from(thin.immune), [0.4 / 3, 0.4 / 3, 0.4 / 3]);
      expect(thinnedMixture(many(3, 0.06)).lives).toHaveLength(2);
      const one = { ...many(1, 0.5), susceptible: Float64Array.of(0.95, 0.05), immune: new Float64Array(2) };
      expect(thinnedMixture(one).lives).toHaveLength(2);
    });
    test('of three lives the rare one in the middle goes, and every installation keeps what it had of the others', () => {
      const three: PartMixture = {
        ...many(3, 0.3),
        lives,
        susceptible: Float64Array.of(0.1, 0.01, 0.2, 0.05, 0.01, 0.1, 0.04, 0.01, 0.06),
        immune: Float64Array.of(0.08, 0, 0.07, 0.06, 0, 0.05, 0.09, 0, 0.07),
      };
      const thin = thinnedMixture(three);
      expect(thin.lives).toEqual([lives[0], lives[2]]);
      closeAll(
        Array.from(thin.susceptible, (weight) => weight * 0.97),
        [0.1, 0.2, 0.05, 0.1, 0.04, 0.06],
      );
      closeAll(
        Array.from(thin.immune, (weight) => weight * 0.97),
        [0.08, 0.07, 0.06, 0.05, 0.09, 0.07],
      );
    });
    test('where every life is rare, all stay', () => {
      const rare = { ...many(3, 0.5), susceptible: new Float64Array(6).fill(0.004), immune: new Float64Array(6) };
      expect(thinnedMixture(rare)).toEqual(rare);
    });
  });
});
