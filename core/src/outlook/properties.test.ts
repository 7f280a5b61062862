import fc from 'fast-check';
import { toKm } from '../units/distance.ts';
import { usagePath } from '../usage/path.ts';
import { outlook } from './outlook.ts';
import { partState } from './part.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import type { OutlookInput, ServiceFact, WeakPointFact } from './types.ts';
import { each, input, TODAY } from './belt.ts';

interface World {
  readonly km: number;
  readonly years: number;
  readonly from: number;
  readonly ratio: number;
  readonly share: number;
  readonly severity: number;
  readonly renewedAgo: number | null;
}

const worlds = fc.record<World>({
  km: fc.integer({ min: 5000, max: 350_000 }),
  years: fc.double({ min: 1, max: 25, noNaN: true }),
  from: fc.integer({ min: 40_000, max: 200_000 }),
  ratio: fc.double({ min: 1.3, max: 4, noNaN: true }),
  share: fc.double({ min: 0.02, max: 0.97, noNaN: true }),
  severity: fc.double({ min: 0.5, max: 2, noNaN: true }),
  renewedAgo: fc.option(fc.integer({ min: 1, max: 300 })),
});

function inputOf(world: World, changes: Partial<OutlookInput> = {}): OutlookInput {
  const start = TODAY - world.years * 365.25;
  const weakPoint: WeakPointFact = {
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
    share: world.share,
    causes: [
      [{ clock: 'distance', from: world.from, to: world.from * world.ratio }],
      [{ clock: 'age', from: 3000, to: 6500 }],
    ],
    look: {
      how: '',
      minutes: 5,
      detection: 0.7,
      falseAlarm: 0.02,
      warning: [{ clock: 'distance', from: 15_000, to: 15_000 }],
    },
    renewMinutes: 60,
    access: [],
    partPrice: 5000,
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
    statements: [],
  };
  const services: ServiceFact[] =
    world.renewedAgo === null
      ? []
      : [
          {
            componentKey: 'part',
            certainty: 'done',
            day: TODAY - world.renewedAgo,
            grade: 'original',
            revision: null,
            source: null,
            cameOut: null,
          },
        ];
  return {
    today: TODAY,
    path: usagePath([{ day: TODAY, km: world.km }], start, 41),
    rateSpread: 0.2,
    severity: world.severity,
    engine: null,
    duty: {},
    counted: false,
    choices: [],
    facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
    weakPoints: [weakPoint],
    services,
    findings: [],
    tasks: [],
    upkeep: [],
    policy: { ...input().policy, failureCost: each(60_000) },
    ...changes,
  };
}
const rowOf = (input: OutlookInput) => outlook(input).rows[0]!;
const drawnOf = (input: OutlookInput) => {
  const { rows, drawing } = outlook(input, { drawn: true });
  return { row: rows[0]!, ribbon: drawing!.ribbons[0]!, item: drawing!.forecast.items[0]! };
};

test('every figure of every row is a probability, a date that can be, or nothing', () => {
  fc.assert(
    fc.property(worlds, (world) => {
      const { row, ribbon, item } = drawnOf(inputOf(world));
      for (const value of [
        row.chance,
        row.originalChance,
        row.appliesWeight,
        ...ribbon.chance.filter((chance) => chance !== null),
        ...ribbon.mass,
        ...item.chance,
        ...item.failed,
        ...item.renewed,
      ]) {
        expect(value).toBeGreaterThanOrEqual(-1e-9);
        expect(value).toBeLessThanOrEqual(1 + 1e-9);
      }
      expect(ribbon.mass.reduce((sum, mass) => sum + mass, 0)).toBeLessThanOrEqual(1 + 1e-9);
      if (row.due) {
        expect(row.due.day).toBeGreaterThanOrEqual(TODAY);
        expect(row.due.earliestDay).toBeLessThanOrEqual(row.due.day);
        expect(row.due.latestDay).toBeGreaterThanOrEqual(row.due.day);
        expect(row.due.km).toBeGreaterThanOrEqual(world.km - 1);
      }
    }),
    { numRuns: 150 },
  );
});

test('harder use never makes a part of known age safer', () => {
  fc.assert(
    fc.property(worlds, (world) => {
      // A new part: nothing has faded yet, so that more wear can only mean more chance.
      const known = { ...world, share: 0.97, renewedAgo: 10 };
      expect(rowOf(inputOf({ ...known, severity: world.severity * 1.2 })).chance).toBeGreaterThanOrEqual(
        rowOf(inputOf(known)).chance - 1e-12,
      );
    }),
    { numRuns: 100 },
  );
});

test('a clean look never raises the chance, whether nobody knows the history or all of it', () => {
  fc.assert(
    fc.property(worlds, fc.integer({ min: 0, max: 400 }), (world, ago) => {
      const clean = {
        findings: [{ weakPointId: 'w', day: TODAY - ago, result: 'sound' as const, broughtIn: false, sinceDay: null }],
      };
      expect(rowOf(inputOf(world, clean)).chance).toBeLessThanOrEqual(
        rowOf(inputOf(world)).chance * (1 + 1e-9) + 1e-12,
      );
    }),
    { numRuns: 300 },
  );
});

test('a share towards none ends the chance of a fault and of wear alike; a share of all of a fault is the plain Weibull', () => {
  fc.assert(
    fc.property(worlds, (world) => {
      const fault = (input: OutlookInput): OutlookInput => ({
        ...input,
        weakPoints: input.weakPoints.map((point) => ({ ...point, nature: 'defect' as const })),
      });
      expect(rowOf(fault(inputOf({ ...world, share: 1e-9 }))).chance).toBeLessThan(1e-8);
      // Wear goes on beyond the window, at most with the tenth power: the share must be small against that too.
      expect(rowOf(inputOf({ ...world, share: 1e-18 })).chance).toBeLessThan(1e-3);
      expect(rowOf(fault(inputOf({ ...world, share: 1, renewedAgo: 100 }))).shareLeft).toBeCloseTo(1, 12);
    }),
    { numRuns: 60 },
  );
});

const NEVER_RENEWED: ServiceFact[] = [
  {
    componentKey: 'part',
    certainty: 'not_done',
    day: null,
    grade: 'original',
    revision: null,
    source: null,
    cameOut: null,
  },
];

/** The same vehicle some years on, run at the same rate, with lives that a workshop's own experience may leave. */
const worn = fc.record({
  world: worlds,
  later: fc.double({ min: 0.5, max: 12, noNaN: true }),
  nodes: fc.array(
    fc.record({
      weight: fc.double({ min: 0.1, max: 1, noNaN: true }),
      scale: fc.double({ min: 0.4, max: 2.5, noNaN: true }),
      shape: fc.double({ min: 0.8, max: 9, noNaN: true }),
      share: fc.double({ min: 0.05, max: 1, noNaN: true }),
    }),
    { maxLength: 5 },
  ),
});

test('what wears: the chance of a part known never to be renewed never falls, it is never behind it, and its ribbon never turns down', () => {
  fc.assert(
    fc.property(worn, ({ world, later, nodes }) => {
      const total = nodes.reduce((sum, { weight }) => sum + weight, 0);
      const experience =
        nodes.length === 0
          ? null
          : { nodes: nodes.map((node) => ({ ...node, weight: node.weight / total })), parts: 20, failures: 5 };
      const perDay = world.km / (world.years * 365.25);
      const at = (years: number): ReturnType<typeof drawnOf> => {
        const start = TODAY - years * 365.25;
        const path = usagePath([{ day: TODAY, km: perDay * years * 365.25 }], start, perDay);
        const input = inputOf(world, { path, services: NEVER_RENEWED });
        return drawnOf({ ...input, weakPoints: input.weakPoints.map((point) => ({ ...point, experience })) });
      };
      const [now, then] = [at(world.years), at(world.years + later)];
      expect(then.row.chance).toBeGreaterThanOrEqual(now.row.chance - 1e-9);
      for (const {
        row: { verdict, shareLeft },
      } of [now, then]) {
        expect(verdict).not.toBe('behind_it');
        expect(shareLeft).toBeCloseTo(1, 12);
      }
      const ahead = now.item.chance;
      ahead.slice(1).forEach((chance, i) => expect(chance).toBeGreaterThanOrEqual(ahead[i]! - 2e-3));
    }),
    { numRuns: 200 },
  );
});

test('a fault that has not shown fades: its chance falls in the end, and it may be behind it', () => {
  const world: World = { km: 300_000, years: 16, from: 60_000, ratio: 1.8, share: 0.3, severity: 1, renewedAgo: null };
  const input = inputOf(world, { services: NEVER_RENEWED });
  const row = rowOf({
    ...input,
    weakPoints: input.weakPoints.map((point) => ({ ...point, nature: 'defect' as const })),
  });
  expect(row).toMatchObject({ verdict: 'behind_it', rule: 'would_have_shown' });
  expect(row.chance).toBeLessThan(0.001);
});

test('the unit a reading was typed in changes nothing', () => {
  fc.assert(
    fc.property(fc.integer({ min: 5000, max: 200_000 }), (miles) => {
      const world: World = { km: 0, years: 9, from: 100_000, ratio: 2, share: 0.5, severity: 1, renewedAgo: null };
      expect(rowOf(inputOf({ ...world, km: toKm(miles, 'mi') })).chance).toBe(
        rowOf(inputOf({ ...world, km: miles * 1.609344 })).chance,
      );
    }),
    { numRuns: 40 },
  );
});

test('the same question has the same answer, whatever was asked before', () => {
  fc.assert(
    fc.property(worlds, worlds, (one, other) => {
      const first = outlook(inputOf(one));
      outlook(inputOf(other));
      expect(outlook(inputOf(one))).toEqual(first);
    }),
    { numRuns: 30 },
  );
});

describe('what is in there now', () => {
  const clocks = {
    distance: distanceClock({
      knots: [
        { day: TODAY - 4000, km: 0 },
        { day: TODAY, km: 160_000 },
      ],
      rateKmPerDay: 40,
    }),
    age: ageClock,
  };
  const [weakPoint] = inputOf({
    km: 160_000,
    years: 11,
    from: 100_000,
    ratio: 2,
    share: 0.6,
    severity: 1,
    renewedAgo: null,
  }).weakPoints as [WeakPointFact];
  const state = (...services: Partial<ServiceFact>[]) =>
    partState({
      weakPoint,
      clocks,
      worn: clocks,
      duty: { distance: 1, age: 1 },
      failedBefore: false,
      startDay: TODAY - 4000,
      fittedDay: null,
      counted: false,
      market: null,
      nowDay: TODAY,
      services: services.map((service) => ({
        componentKey: 'part',
        certainty: 'done',
        day: null,
        grade: 'original',
        revision: null,
        source: null,
        cameOut: null,
        ...service,
      })),
    });

  test('weights of a mixture add up to one', () => {
    for (const one of [state(), state({ certainty: 'believed', day: TODAY - 900 }), state({ certainty: 'unknown' })]) {
      expect([...one.mixture.susceptible, ...one.mixture.immune].reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(
        1,
        3,
      );
    }
  });
  test('the latest renewal counts, whatever order the records came in', () => {
    expect(state({ day: TODAY - 100 }, { day: TODAY - 2000 }).mixture).toEqual(state({ day: TODAY - 100 }).mixture);
  });
  test('a renewal that is sure outweighs a later belief', () => {
    expect(state({ day: TODAY - 100 }, { certainty: 'believed', day: TODAY - 50 }).installs[0]!.certainty).toBe('done');
  });
  test('a renewal to come does not count yet', () =>
    expect(state({ day: TODAY + 10 }).installs[0]!.certainty).toBe('assumed'));
  test('a mixture that is unknown and one without any record are the same mixture, told apart by name', () => {
    expect(state({ certainty: 'unknown' }).mixture).toEqual(state().mixture);
    expect([state().installs[0]!.certainty, state({ certainty: 'unknown' }).installs[0]!.certainty]).toEqual([
      'assumed',
      'unknown',
    ]);
  });
});
