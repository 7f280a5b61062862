import { fillUnknown, UNKNOWN_DEFAULTS } from '../history/unknown.ts';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { toldLife } from '../life/nature.ts';
import { asTold, hazardSinceInstall, type ClockLife, type LifeBranch } from '../life/risk.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import { ageClock, distanceClock, type ClocksByKind } from '../usage/clock.ts';
import { customRun } from './installs.ts';
import {
  decidingRecord,
  livesOf,
  neverRenewed,
  partState,
  toldShape,
  type PartQuestion,
  type PartState,
} from './part.ts';
import type { ServiceFact, WeakPointFact } from './types.ts';

const [START, NOW] = [16_000, 20_000];
/** 40 km a day, since it was new. */
const clocks: ClocksByKind = {
  distance: distanceClock({ knots: [{ day: START, km: 0 }], rateKmPerDay: 40 }),
  age: ageClock,
};
const duty = { distance: 1.3, age: 0.9 };
const point: WeakPointFact = {
  id: 'w',
  key: 'w',
  title: 'w',
  component: 'part',
  componentKey: 'part',
  componentClass: 'plastic',
  nature: 'wear',
  group: 'cooling',
  consequence: 'stranded',
  safety: false,
  effect: '',
  signs: '',
  share: 0.6,
  causes: [
    [
      { clock: 'distance', from: 120_000, to: 240_000 },
      { clock: 'age', from: 3000, to: 7000 },
    ],
  ],
  look: null,
  renewMinutes: 60,
  access: [],
  partPrice: null,
  appliesTo: {},
  retiredByRevision: null,
  watch: null,
  damages: [],
  symptoms: [],
  failure: null,
  hastens: [],
  revisions: [],
  fittedTo: 'engine',
  revisedHowToTell: null,
  experience: null,
  statements: [
    {
      authority: 'book',
      kind: 'book',
      edition: null,
      region: null,
      words: '',
      asks: 'renew',
      interval: [{ clock: 'distance', from: 120_000, to: 120_000 }],
    },
  ],
};
const fault: WeakPointFact = { ...point, componentClass: 'early', nature: 'defect', share: 0.4 };
const record = (changes: Partial<ServiceFact>): ServiceFact => ({
  componentKey: 'part',
  certainty: 'done',
  day: NOW - 1000,
  grade: 'original',
  revision: null,
  source: null,
  cameOut: null,
  ...changes,
});
const state = (
  weakPoint: WeakPointFact,
  services: readonly ServiceFact[] = [],
  changes: Partial<PartQuestion> = {},
): PartState =>
  partState({
    weakPoint,
    market: null,
    clocks,
    worn: changes.clocks ?? clocks,
    duty,
    services,
    failedBefore: false,
    startDay: START,
    fittedDay: null,
    counted: false,
    nowDay: NOW,
    ...changes,
  });
const sum = (values: Iterable<number>): number => [...values].reduce((total, value) => total + value, 0);
const closeAll = (actual: Iterable<number>, wanted: Iterable<number>): void => {
  const [own, other] = [[...actual], [...wanted]];
  expect(own).toHaveLength(other.length);
  other.forEach((value, i) => expect(own[i]).toBeCloseTo(value, 9));
};

describe('lives on the clocks of a vehicle', () => {
  const hazard = (lives: readonly ClockLife[]): number => hazardSinceInstall(asTold(lives), START, NOW);
  const alone = (clock: 'distance' | 'age', factor: number): number => {
    const span = point.causes[0]!.find((told) => told.clock === clock)!;
    const { shape, scale } = toldLife(span, point);
    return ((factor * (clock === 'distance' ? 160_000 : 4000)) / scale) ** shape;
  };
  test('one cause told in two units is half on each; each clock has its own duty', () =>
    expect(hazard(livesOf(point, clocks, duty, 'original'))).toBeCloseTo(
      (alone('distance', 1.3) + alone('age', 0.9)) / 2,
      12,
    ));
  test('a unit the vehicle has no meter for is left out, and the other carries it all', () =>
    expect(hazard(livesOf(point, { age: ageClock }, duty, 'original'))).toBeCloseTo(alone('age', 0.9), 12));
  test('causes of their own add', () => {
    const apart = { ...point, causes: point.causes[0]!.map((span) => [span]) };
    expect(hazard(livesOf(apart, clocks, duty, 'original'))).toBeCloseTo(
      alone('distance', 1.3) + alone('age', 0.9),
      12,
    );
  });
  test('hours are run as they are run; a cheap part lives a third faster on every clock', () => {
    const hours = { ...point, causes: [[{ clock: 'hours', from: 2000, to: 5000 } as const]] };
    const byHours = { ...clocks, hours: distanceClock({ knots: [{ day: START, km: 0 }], rateKmPerDay: 1 }) };
    expect(livesOf(hours, byHours, duty, 'original').map((life) => life.duty)).toEqual([1]);
    expect(livesOf(point, clocks, duty, 'cheap').map((life) => life.duty)).toEqual([(4 / 3) * 1.3, (4 / 3) * 0.9]);
  });
  test('the shape of the whole is the mean of its windows', () => {
    const shapes = point.causes[0]!.map((span) => toldLife(span, point).shape);
    expect(toldShape(point)).toBeCloseTo((shapes[0]! + shapes[1]!) / 2, 12);
  });
});

/** The renewal process on bins of equal time, installations in their middle, by what is held to published cases. */
function byDefinition(
  weakPoint: WeakPointFact,
  lives: readonly ClockLife[],
  branches: readonly LifeBranch[],
  custom: number | null,
  lagYears = 0,
) {
  const { bins } = UNKNOWN_DEFAULTS;
  const passed = Array.from({ length: bins + 1 }, (_, i) => (i === 0 ? 0 : (i - 0.5) / bins));
  const at = (part: number): number => START + part * (NOW - START);
  const weights = {
    susceptible: new Float64Array((bins + 1) * branches.length),
    immune: new Float64Array((bins + 1) * branches.length),
    failed: new Float64Array((bins + 1) * branches.length),
  };
  // The pace is even, so that a stretch from new is as long as any other of the same days.
  const since = (part: number): number => hazardSinceInstall(asTold(lives), START, at(part));
  fillUnknown(
    {
      told: Float64Array.from(passed, (_, i) => since(i / bins)),
      lived: Float64Array.from(passed, (part) => since(1 - part)),
      place: 'middle',
    },
    branches,
    {
      ...UNKNOWN_DEFAULTS,
      clocksNow: [160_000 * duty.distance],
      custom,
      binOverLag: lagYears === 0 ? Infinity : (NOW - START) / bins / (lagYears * DAYS_PER_YEAR),
    },
    weights,
  );
  return { days: passed.map(at), ...weights };
}

describe('not known', () => {
  const heavy = (days: readonly number[], weights: readonly number[], total: number): number[] =>
    days.filter((_, i) => weights[i]! / total > 1e-4);

  test('what wears: every installation of the process, at the days of this vehicle, weights brought to 1', () => {
    const known = byDefinition(
      point,
      livesOf(point, clocks, duty, 'original'),
      [{ power: 1, factor: 1, share: 1 }],
      120_000 * duty.distance,
    );
    const total = sum(known.susceptible);
    const { mixture, originalChance, installs, shareLeft } = state(point);
    closeAll(mixture.installDays, heavy(known.days, [...known.susceptible], total));
    closeAll(
      mixture.susceptible,
      [...known.susceptible].map((weight) => weight / total).filter((weight) => weight > 1e-4),
    );
    expect(sum(mixture.immune)).toBe(0);
    expect(originalChance).toBeCloseTo(known.susceptible[0]! / total, 9);
    expect(shareLeft).toBeCloseTo(1, 9);
    expect(installs).toEqual([{ certainty: 'assumed', day: START, weight: originalChance }]);
  });

  test('a fault: those that have it and those that do not, renewed apart', () => {
    const known = byDefinition(
      fault,
      livesOf(fault, clocks, duty, 'original'),
      [{ power: 1, factor: 1, share: 0.4 }],
      120_000 * duty.distance,
    );
    const total = sum(known.susceptible) + sum(known.immune);
    const { mixture, shareLeft } = state(fault);
    expect(sum(mixture.susceptible)).toBeCloseTo(sum(known.susceptible) / total, 3);
    expect(shareLeft).toBeCloseTo(sum(known.susceptible) / total / 0.4, 9);
    expect(mixture.apart).toBe(false);
  });

  test('a custom told on two clocks is kept on the one that comes to it first', () => {
    const [book] = point.statements;
    const years = (from: number): WeakPointFact => ({
      ...point,
      statements: [{ ...book!, interval: [...book!.interval, { clock: 'age', from, to: from }] }],
    });
    // 160,000 of 120,000 km is a third beyond; 4000 days of 2000 is twice.
    const known = byDefinition(
      point,
      livesOf(point, clocks, duty, 'original'),
      [{ power: 1, factor: 1, share: 1 }],
      (160_000 * duty.distance) / 2,
    );
    expect(state(years(2000)).originalChance).toBeCloseTo(known.susceptible[0]! / sum(known.susceptible), 9);
    expect(state(years(3600)).originalChance).toBe(state(point).originalChance);
    expect(customRun(years(2000), clocks, { startDay: START, nowDay: NOW, market: null })).toBe(2);
    expect(customRun(point, { age: ageClock }, { startDay: START, nowDay: NOW, market: null })).toBe(0);
  });

  test('no custom, or no meter for it: nobody is taken to follow one', () => {
    const none = { ...point, statements: [] };
    const known = byDefinition(
      none,
      livesOf(none, clocks, duty, 'original'),
      [{ power: 1, factor: 1, share: 1 }],
      null,
    );
    expect(state(none).originalChance).toBeCloseTo(known.susceptible[0]! / sum(known.susceptible), 9);
    const parked = { age: ageClock };
    const byAge = byDefinition(
      point,
      livesOf(point, parked, duty, 'original'),
      [{ power: 1, factor: 1, share: 1 }],
      null,
    );
    expect(state(point, [], { clocks: parked }).originalChance).toBeCloseTo(
      byAge.susceptible[0]! / sum(byAge.susceptible),
      9,
    );
  });

  test('experience: each life from the same installations; of what wears no shape falls below 1, and all of them can fail', () => {
    const nodes = [
      { scale: 1.2, shape: 2, share: 0.5, weight: 0.7 },
      { scale: 0.9, shape: 0.01, share: 0.5, weight: 0.3 },
    ];
    const learnt = { ...point, experience: { nodes, parts: 9, failures: 3 } };
    const shapes = point.causes[0]!.map((span) => toldLife(span, point).shape);
    const shape = (shapes[0]! + shapes[1]!) / 2;
    const { mixture } = state(learnt);
    const least = 1 / Math.min(...shapes);
    closeAll(
      mixture.lives.map(({ power }) => power),
      [2 / shape, least],
    );
    closeAll(
      mixture.lives.map(({ factor }) => factor),
      [1.2 ** -2, 0.9 ** (-least * shape)],
    );
    expect(mixture.lives.map(({ share }) => share)).toEqual([1, 1]);
    // About all vehicles: however this one has lived, each life keeps its weight.
    const byLife = [0, 1].map((k) => sum([...mixture.susceptible].filter((_, at) => at % 2 === k)));
    closeAll(
      byLife.map((weight) => Math.round(weight * 1000) / 1000),
      [0.7, 0.3],
    );
    const none = { ...point, experience: { nodes: [], parts: 0, failures: 0 } };
    expect(state(none)).toEqual(state(point));
  });

  test('a fault that has lived until now speaks for the longer lives, unless the vehicle is among those that were counted', () => {
    const nodes = [
      { scale: 2, shape: 0.8, share: 0.4, weight: 0.5 },
      { scale: 0.2, shape: 0.8, share: 0.4, weight: 0.5 },
    ];
    const learnt = { ...fault, experience: { nodes, parts: 9, failures: 3 } };
    const kept = [record({ certainty: 'not_done' })];
    const weights = ({ mixture }: PartState): number[] =>
      [0, 1].map((k) => mixture.susceptible[k]! + mixture.immune[k]!);
    const evidence = ({ mixture: { clocks: own, lives } }: PartState): number[] =>
      lives.map((life) => {
        const hazard = hazardSinceInstall({ clocks: own, ...life }, START, NOW);
        return 1 - life.share + life.share * Math.exp(-hazard);
      });
    const free = state(learnt, kept);
    const [long, short] = evidence(free);
    closeAll(weights(free), [long! / (long! + short!), short! / (long! + short!)]);
    closeAll(weights(state(learnt, kept, { counted: true })), [0.5, 0.5]);
  });
});

describe('what is on record', () => {
  test('done: that part, on that day; susceptible as alive since', () => {
    const { mixture, originalChance, installs, shareLeft } = state(fault, [record({})]);
    const hazard = hazardSinceInstall(asTold(mixture.clocks), NOW - 1000, NOW);
    expect(Array.from(mixture.installDays)).toEqual([NOW - 1000]);
    closeAll(mixture.susceptible, [susceptibleGivenAlive(0.4, hazard)]);
    closeAll(mixture.immune, [1 - susceptibleGivenAlive(0.4, hazard)]);
    expect(shareLeft).toBeCloseTo(susceptibleGivenAlive(0.4, hazard) / 0.4, 9);
    expect(originalChance).toBe(0);
    expect(installs).toEqual([{ certainty: 'done', day: NOW - 1000, weight: 1 }]);
    expect(state(fault, [record({})], { failedBefore: true }).mixture.immune[0]).toBe(0);
  });

  test('not done: the original, for certain', () => {
    const { mixture, originalChance, installs } = state(point, [record({ certainty: 'not_done' })]);
    expect(Array.from(mixture.installDays)).toEqual([START]);
    expect(originalChance).toBeCloseTo(1, 12);
    expect(installs).toEqual([{ certainty: 'not_done', day: START, weight: 1 }]);
  });

  test('believed: that day, half a year to either side, beside the unknown, as far as its source is believed', () => {
    const day = NOW - 1100;
    const { mixture, installs } = state(point, [record({ certainty: 'believed', source: 'seller', day })]);
    const open = state(point);
    const lived = (installDay: number): number =>
      Math.exp(-hazardSinceInstall(asTold(mixture.clocks), installDay, NOW));
    const weightOf = ({ mixture: { installDays, susceptible } }: PartState, on: number): number =>
      sum([...susceptible].filter((_, i) => Math.abs(installDays[i]! - on) < 1e-6));
    const told = { mixture } as PartState;
    // Against each other as their parts and as they lived; half the weight before survival is the unknown.
    expect(weightOf(told, day - 180) / weightOf(told, day)).toBeCloseTo(
      (0.25 * lived(day - 180)) / (0.5 * lived(day)),
      9,
    );
    expect(weightOf(told, day + 180) / weightOf(told, day)).toBeCloseTo(
      (0.25 * lived(day + 180)) / (0.5 * lived(day)),
      9,
    );
    const oldest = open.mixture.installDays[0]!;
    expect(weightOf(told, oldest)).toBeGreaterThan(0);
    expect(installs[0]!.weight).toBeCloseTo(sum([day - 180, day, day + 180].map((on) => weightOf(told, on))), 9);
    expect([...mixture.installDays]).toEqual([...mixture.installDays].sort((a, b) => a - b));
    const own = state(point, [record({ certainty: 'believed', source: 'own', day })]).installs[0]!.weight;
    const unsaid = state(point, [record({ certainty: 'believed', day })]).installs[0]!.weight;
    expect(own).toBeGreaterThan(unsaid);
    expect(unsaid).toBeGreaterThan(installs[0]!.weight);
  });

  test('believed, of a fault with several lives: installation by installation, life by life, those that have it and not', () => {
    const nodes = [
      { scale: 1.5, shape: 1.2, share: 0.3, weight: 0.6 },
      { scale: 0.7, shape: 0.8, share: 0.5, weight: 0.4 },
    ];
    const learnt = { ...fault, statements: [], experience: { nodes, parts: 9, failures: 3 } };
    const day = NOW - 1100;
    const { mixture, shareLeft } = state(learnt, [record({ certainty: 'believed', source: 'seller', day })]);
    const { days, susceptible, immune } = byDefinition(
      learnt,
      livesOf(learnt, clocks, duty, 'original'),
      mixture.lives,
      null,
    );
    // Half the seller's word, of which a quarter, a half and a quarter about the day.
    const raw = days.map((on, i) => ({
      on,
      prone: [0, 1].map((k) => 0.5 * susceptible[2 * i + k]!),
      other: [0, 1].map((k) => 0.5 * immune[2 * i + k]!),
    }));
    [-180, 0, 180].forEach((off, i) => {
      const part = 0.5 * [0.25, 0.5, 0.25][i]!;
      raw.push({
        on: day + off,
        prone: mixture.lives.map(
          ({ share, ...life }) =>
            part * share * Math.exp(-hazardSinceInstall({ clocks: mixture.clocks, ...life }, day + off, NOW)),
        ),
        other: mixture.lives.map(({ share }) => part * (1 - share)),
      });
    });
    raw.sort((a, b) => a.on - b.on);
    const weigh = (of: readonly number[]): number => 0.6 * of[0]! + 0.4 * of[1]!;
    const total = sum(raw.map(({ prone, other }) => weigh(prone) + weigh(other)));
    const heavyOnes = raw.filter(({ prone, other }) => (weigh(prone) + weigh(other)) / total > 1e-4);
    closeAll(
      mixture.installDays,
      heavyOnes.map(({ on }) => on),
    );
    closeAll(
      mixture.susceptible,
      heavyOnes.flatMap(({ prone }) => [(0.6 * prone[0]!) / total, (0.4 * prone[1]!) / total]),
    );
    closeAll(
      mixture.immune,
      heavyOnes.flatMap(({ other }) => [(0.6 * other[0]!) / total, (0.4 * other[1]!) / total]),
    );
    // Of a part put in new, the share of each life as likely as that life is by now.
    const lived = [0, 1].map(
      (k) => ([0.6, 0.4][k]! * sum(raw.map(({ prone, other }) => prone[k]! + other[k]!))) / total,
    );
    const left = sum(raw.map(({ prone }) => weigh(prone))) / total;
    expect(shareLeft).toBeCloseTo(left / (lived[0]! * 0.3 + lived[1]! * 0.5), 9);
  });

  test('believed without a day is not known; a cheap part that is believed in is taken for cheap', () => {
    const undated = state(point, [record({ certainty: 'believed', day: null })]);
    expect(undated.mixture).toEqual(state(point).mixture);
    expect(undated.installs[0]!.certainty).toBe('unknown');
    const cheap = state(point, [record({ certainty: 'believed', day: NOW - 1000, grade: 'cheap' })]);
    expect(cheap.mixture.clocks.map((life) => life.duty)).toEqual([(4 / 3) * 1.3, (4 / 3) * 0.9]);
    // It says nothing of what else may be in there: P(original) is that of any belief about that day.
    const open = ({ mixture }: PartState): number =>
      mixture.susceptible[0]! / sum([...mixture.susceptible].slice(0, 5));
    const usual = state(point, [record({ certainty: 'believed', day: NOW - 1000 })]);
    expect(open(cheap)).toBeCloseTo(open(usual), 9);
    const unknown = state(point, [record({ certainty: 'unknown', day: null, grade: 'cheap' })]);
    expect(unknown.mixture.clocks.map((life) => life.duty)).toEqual([1.3, 0.9]);
  });

  test('a rebuilt part runs through nine tenths of its window', () =>
    closeAll(
      livesOf(point, clocks, duty, 'rebuilt').map(
        (life, i) => life.duty / livesOf(point, clocks, duty, 'original')[i]!.duty,
      ),
      livesOf(point, clocks, duty, 'rebuilt').map(() => 10 / 9),
    ));

  test('what nobody renews may have been renewed where somebody believes so', () => {
    const watched = { ...point, watch: { task: 'Look at the level', every: [] } };
    const believed = state(watched, [record({ certainty: 'believed' })]);
    expect(believed.originalChance).toBeLessThan(0.9);
    expect(believed.installs[0]).toMatchObject({ certainty: 'believed', day: NOW - 1000 });
    expect(state(watched).originalChance).toBeCloseTo(1, 12);
  });

  test('of a share that is none nothing is left', () => expect(state({ ...fault, share: 0 }).shareLeft).toBe(0));

  test('where every part has outlived its life by far it is the youngest, in every life, and no figure is lost', () => {
    const nodes = [
      { scale: 0.0002, shape: 3, share: 0.4, weight: 0.7 },
      { scale: 0.0001, shape: 3, share: 0.4, weight: 0.3 },
    ];
    const learnt = { ...point, experience: { nodes, parts: 9, failures: 3 } };
    const { mixture } = state(learnt);
    expect(mixture.installDays).toHaveLength(1);
    expect(mixture.installDays[0]).toBeGreaterThan(NOW - 0.1 * (NOW - START));
    closeAll(mixture.susceptible, [0.7, 0.3]);
    const gone = {
      ...fault,
      experience: { ...learnt.experience, nodes: nodes.map((node) => ({ ...node, scale: 0.01 })) },
    };
    const sure = state(gone, [record({ certainty: 'not_done' })], { failedBefore: true });
    expect(sum(sure.mixture.susceptible)).toBeCloseTo(1, 12);
    expect(sure.originalChance).toBeCloseTo(1, 12);
  });

  test('that it was never renewed is a record of an original part', () =>
    expect([neverRenewed('part', null), neverRenewed('part', 7)]).toEqual([
      record({ certainty: 'not_done', day: null }),
      record({ certainty: 'not_done', day: 7 }),
    ]));

  test('a believed day near today is not in the future, one near new not before it', () => {
    const { mixture } = state(point, [record({ certainty: 'believed', day: NOW - 10 })]);
    expect(Math.max(...mixture.installDays)).toBe(NOW);
    const early = state(point, [record({ certainty: 'believed', day: START + 10 })]).mixture;
    expect(Math.min(...early.installDays)).toBe(START);
  });

  test('which record decides: the latest that was done and has a day, of this part, about this engine, not to come', () => {
    const decides = (services: readonly ServiceFact[], fittedDay: number | null = null): ServiceFact | undefined =>
      decidingRecord({ weakPoint: point, services, fittedDay, nowDay: NOW });
    const [early, late] = [record({ day: NOW - 2000 }), record({ day: NOW - 1000 })];
    expect(decides([late, early])).toBe(late);
    expect(decides([early, late])).toBe(late);
    expect(decides([early, record({ componentKey: 'other', day: NOW - 10 })])).toBe(early);
    expect(decides([early, record({ day: NOW + 1 })])).toBe(early);
    const today = record({ day: NOW });
    expect(decides([early, today])).toBe(today);
    const open = record({ certainty: 'unknown', day: null });
    const denied = record({ certainty: 'not_done', day: null });
    expect(decides([open, early])).toBe(early);
    expect(decides([open, denied])).toBe(denied);
    expect(decides([record({ day: null })])).toBeUndefined();
    // An engine from elsewhere: what is older than its fitting, or has no day, was about the other one.
    expect(decides([early, late], NOW - 1500)).toBe(late);
    expect(decides([early, late], NOW - 1000)).toBe(late);
    expect(decides([early, open], NOW - 1500)).toBeUndefined();
  });
});
