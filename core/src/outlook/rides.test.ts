import { BELT, done, input, TODAY } from './belt.ts';
import { VERDICTS } from '../decision/kinds.ts';
import { asTold, conditionalRisk } from '../life/risk.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { judgeVehicle, outlook } from './outlook.ts';
import { livesOf } from './part.ts';
import type { OutlookInput, OutlookRow, WeakPointFact } from './types.ts';

const [cover, off, drain] = [
  { key: 'cover', minutes: 40 },
  { key: 'belt-off', minutes: 70 },
  { key: 'drain', minutes: 30 },
] as const;
const belt: WeakPointFact = {
  ...BELT,
  look: null,
  renewMinutes: 130,
  access: [cover, off, { key: 'belt', minutes: 20 }],
};
const pump = (from: number, more: Partial<WeakPointFact> = {}): WeakPointFact => ({
  ...BELT,
  id: 'pump',
  key: 'pump',
  title: 'Pump leaks',
  component: 'Water pump',
  componentKey: 'pump',
  consequence: 'damage',
  causes: [[{ clock: 'distance', from, to: 1.8 * from }]],
  look: null,
  statements: [],
  renewMinutes: 165,
  access: [cover, off, drain, { key: 'pump', minutes: 25 }],
  ...more,
});
/** A belt that is due at 200,000 km, and a pump beside it. */
const rows = (beside: WeakPointFact, changes: Partial<OutlookInput> = {}): readonly OutlookRow[] =>
  outlook(
    input({ services: [done(3649), done(1500, { componentKey: 'pump' })], weakPoints: [belt, beside], ...changes }),
  ).rows;
const beside = (answer: readonly OutlookRow[]): OutlookRow => answer.find(({ weakPoint }) => weakPoint.id !== 'belt')!;

test('belt job agreed, pump near its time: it goes along, at so many minutes more instead of so many alone', () => {
  const [job] = rows(pump(78_000));
  expect(job).toMatchObject({ verdict: 'renew', rides: null });
  const row = beside(rows(pump(78_000)));
  expect(row).toMatchObject({
    verdict: 'ride_along',
    rule: 'rides_along',
    rides: { weakPointId: 'belt', title: 'Timing belt', minutes: 55, alone: 165 },
    due: job!.due,
  });
  expect(row.reason).toContain('55 min more then, 2 h 45 by itself');
});

test('pump renewed half a year ago, or good for longer than the belt: leave it', () => {
  const young = { services: [done(3649), done(180, { componentKey: 'pump' })] };
  expect(beside(rows(pump(78_000), young)).verdict).toBe('run_on');
  expect(beside(rows(pump(400_000))).verdict).toBe('run_on');
});

test('no job, nothing to go along with; nor where the job lays little of it open, or nobody told what it takes', () => {
  const idle = { services: [done(100), done(1500, { componentKey: 'pump' })] };
  expect(beside(rows(pump(78_000), idle)).rule).not.toBe('rides_along');
  const deep = pump(78_000, { access: [cover, { key: 'gearbox', minutes: 200 }] });
  expect(beside(rows(deep)).rule).not.toBe('rides_along');
  expect(beside(rows(pump(78_000, { access: [] }))).rule).not.toBe('rides_along');
  // Half of its own minutes are enough.
  const half = (minutes: number) => beside(rows(pump(78_000, { access: [cover, { key: 'x', minutes }] }))).rule;
  expect([half(40), half(41)]).toEqual(['rides_along', expect.not.stringMatching('rides_along')]);
});

test('of several jobs it is the one that lays most of it open; what any of them opens counts', () => {
  const plug: WeakPointFact = {
    ...BELT,
    id: 'plug',
    key: 'plug',
    title: 'Plug leaks',
    componentKey: 'plug',
    look: null,
    access: [drain, { key: 'plug', minutes: 5 }],
    renewMinutes: 35,
  };
  const asked = (weakPoints: readonly WeakPointFact[]) =>
    rows(pump(78_000), {
      weakPoints,
      services: [done(3649), done(3649, { componentKey: 'plug' }), done(1500, { componentKey: 'pump' })],
    }).find(({ weakPoint }) => weakPoint.id === 'pump')!.rides;
  for (const weakPoints of [
    [belt, plug, pump(78_000)],
    [plug, belt, pump(78_000)],
  ])
    expect(asked(weakPoints)).toMatchObject({ weakPointId: 'belt', minutes: 25, alone: 165 });
});

test('what a job opens beside is no reason: it is the one that opens most of this', () => {
  const large: WeakPointFact = {
    ...BELT,
    id: 'large',
    key: 'large',
    title: 'Head off',
    componentKey: 'large',
    look: null,
    access: [cover, { key: 'head', minutes: 400 }],
    renewMinutes: 500,
  };
  const services = [done(3649), done(3649, { componentKey: 'large' }), done(1500, { componentKey: 'pump' })];
  const rides = rows(pump(78_000), { weakPoints: [large, belt, pump(78_000)], services }).find(
    ({ weakPoint }) => weakPoint.id === 'pump',
  )!.rides;
  expect(rides).toMatchObject({ weakPointId: 'belt', minutes: 55 });
});

test('of two that open as much of it, it goes with the one told first', () => {
  const twin: WeakPointFact = { ...belt, id: 'twin', key: 'twin', title: 'A twin of the belt', componentKey: 'twin' };
  const services = [done(3649), done(3649, { componentKey: 'twin' }), done(1500, { componentKey: 'pump' })];
  const asked = (weakPoints: readonly WeakPointFact[]) =>
    rows(pump(78_000), { weakPoints, services }).find(({ weakPoint }) => weakPoint.id === 'pump')!.rides!.weakPointId;
  expect(asked([twin, belt, pump(78_000)])).toBe('twin');
  expect(asked([belt, twin, pump(78_000)])).toBe('belt');
});

test('among those that ride it keeps its place, as pressing as it was', () => {
  const alone = outlook(input({ services: [done(1500, { componentKey: 'pump' })], weakPoints: [pump(78_000)] }))
    .rows[0]!;
  const row = beside(rows(pump(78_000)));
  expect(row.rank - VERDICTS.indexOf('ride_along')).toBeCloseTo(alone.rank - VERDICTS.indexOf(alone.verdict), 12);
});

test('another fault of the part that comes out goes with it, at no minutes', () =>
  expect(beside(rows(pump(300_000, { componentKey: 'belt' })))).toMatchObject({
    verdict: 'ride_along',
    rides: { because: 'same_part', minutes: 0, saves: null },
  }));

test('what asks for work of its own does not ride', () => {
  const worn = [{ weakPointId: 'pump', day: TODAY - 3, result: 'worn' as const, broughtIn: false, sinceDay: null }];
  expect(beside(rows(pump(78_000), { findings: worn }))).toMatchObject({ verdict: 'renew', rides: null });
});

test('a job that customarily comes again soon opens it again before its time', () => {
  const soon: WeakPointFact = {
    ...belt,
    statements: [{ ...BELT.statements[0]!, interval: [{ clock: 'age', from: 90, to: 90 }] }],
  };
  expect(beside(rows(pump(78_000), { weakPoints: [soon, pump(78_000)] })).rule).not.toBe('rides_along');
});

test('it saves what leaving it, or doing it by itself, costs more than the minutes and the part beside the job', () => {
  const asked = input({ services: [done(3649), done(1500, { componentKey: 'pump' })] });
  const clock = distanceClock(asked.path);
  const told = (from: number) =>
    asTold(livesOf(pump(from), { distance: clock, age: ageClock }, { distance: 1, age: 1 }, 'original'));
  const { labourCostPerHour, failureCost } = asked.policy;
  const labour = (minutes: number): number => (minutes / 60) * labourCostPerHour;
  const saves = (from: number): number => {
    const failing = conditionalRisk({
      life: told(from),
      share: 1,
      installDay: TODAY - 1500,
      nowDay: TODAY,
      stepDays: 5 * 365.25,
      inspections: [],
    }).risk;
    const planned = labour(165) + 15_900;
    return Math.min(planned, failing * (planned + failureCost.damage)) - (labour(55) + 15_900);
  };
  for (const from of [78_000, 95_000]) {
    const row = beside(rows(pump(from)));
    if (saves(from) > 0) expect(row.rides!.saves).toBeCloseTo(saves(from), 0);
    else expect(row.rides).toBeNull();
  }
  expect(saves(78_000)).toBeGreaterThan(0);
});

describe('what the job names as new', () => {
  const naming: WeakPointFact = { ...belt, goesWith: ['pump'] };
  const named = (renewedAgo: number | null, more: Partial<WeakPointFact> = {}) =>
    beside(
      rows(pump(900_000, more), {
        weakPoints: [naming, pump(900_000, more)],
        services: [done(3649), ...(renewedAgo === null ? [] : [done(renewedAgo, { componentKey: 'pump' })])],
      }),
    );
  test('goes along whatever its chance, also where nobody knows of it', () => {
    expect(named(1500)).toMatchObject({ verdict: 'ride_along', rides: { because: 'named', minutes: 55, saves: null } });
    expect(named(null).verdict).toBe('ride_along');
  });
  test('stays where it was renewed less than a quarter of its custom ago, or of the job’s where it has none', () => {
    // The belt's book: 120,000 km or 2922 days, whichever first.
    expect([named(730).verdict, named(731).verdict]).toEqual(['run_on', 'ride_along']);
    const own = [{ ...BELT.statements[0]!, interval: [{ clock: 'age' as const, from: 4000, to: 4000 }] }];
    expect([named(999, { statements: own }).verdict, named(1001, { statements: own }).verdict]).toEqual([
      'run_on',
      'ride_along',
    ]);
  });
  test('where nobody gives an interval, a quarter of what it typically lives counts: an old record is no young part', () => {
    const bare = { ...naming, statements: [] };
    const worn = [{ weakPointId: 'belt', day: TODAY - 3, result: 'worn' as const, broughtIn: false, sinceDay: null }];
    const at = (renewedAgo: number) =>
      beside(
        rows(pump(200_000), {
          weakPoints: [{ ...bare, look: BELT.look }, pump(200_000)],
          services: [done(3649), done(renewedAgo, { componentKey: 'pump' })],
          findings: worn,
        }),
      ).verdict;
    expect([at(300), at(3600)]).toEqual(['run_on', 'ride_along']);
  });
  test('brings along what it names itself, and so on, all with the job behind them', () => {
    const named_ = (id: string, goesWith: readonly string[]): WeakPointFact => ({
      ...pump(900_000, { id, key: id, component: id, componentKey: id }),
      goesWith,
    });
    const chain = [naming, named_('pump', ['plug']), named_('plug', ['sleeve']), named_('sleeve', [])];
    const answer = rows(pump(900_000), { weakPoints: [...chain].reverse(), services: [done(3649)] });
    for (const id of ['pump', 'plug', 'sleeve'])
      expect(answer.find(({ weakPoint }) => weakPoint.id === id)).toMatchObject({
        verdict: 'ride_along',
        rides: { weakPointId: 'belt', because: 'named' },
      });
  });
  test('goes along with a job on hold just the same', () => {
    const failed = [
      { weakPointId: 'belt', day: TODAY - 3, result: 'failed' as const, broughtIn: false, sinceDay: null },
    ];
    const [job, along] = rows(pump(900_000), {
      weakPoints: [naming, pump(900_000)],
      services: [done(1000), done(1500, { componentKey: 'pump' })],
      findings: failed,
    });
    expect([job!.verdict, along!.verdict]).toEqual(['hold', 'ride_along']);
  });
  test('a look that is due well before the job stays a look', () => {
    const soon: WeakPointFact = {
      ...pump(900_000),
      look: BELT.look,
      statements: [{ ...BELT.statements[0]!, asks: 'look', interval: [{ clock: 'age', from: 1530, to: 1530 }] }],
    };
    const worn = [{ weakPointId: 'belt', day: TODAY - 3, result: 'worn' as const, broughtIn: false, sinceDay: null }];
    const long = { ...naming, look: { ...BELT.look!, warning: [{ clock: 'age' as const, from: 3000, to: 3000 }] } };
    const answer = rows(soon, {
      weakPoints: [long, soon],
      services: [done(1000), done(1500, { componentKey: 'pump' })],
      findings: worn,
    });
    const job = answer.find(({ weakPoint }) => weakPoint.id === 'belt')!;
    expect(job.verdict).toBe('renew');
    expect(job.due!.day).toBeGreaterThan(TODAY + 30 + 60);
    expect(beside(answer)).toMatchObject({ verdict: 'look', due: { day: TODAY + 30 } });
  });
});

test('a fleet is judged as one vehicle’s own page is', () => {
  const asked = input({
    services: [done(3649), done(1500, { componentKey: 'pump' })],
    weakPoints: [belt, pump(78_000)],
  });
  const listed = judgeVehicle(asked).rows;
  outlook(asked).rows.forEach(({ weakPoint, verdict, rule, rank, due }, i) =>
    expect(listed[i]).toMatchObject({ weakPoint: { id: weakPoint.id }, verdict, rule, rank, due }),
  );
});
