import type { Answer, AnswerRow } from '@crosspeen/contract';
import type { WeakPointFact } from '@crosspeen/core';
import type { FamilyKnowledge } from '../knowledge/family.ts';
import { DEFAULT_SETTINGS } from '../ledger/settings.ts';
import { linkedChecks, walkRound, type BegunWalk } from './walk.ts';

type Look = NonNullable<WeakPointFact['look']>;
const look = (more: Partial<Look> = {}): Look => ({
  how: 'By eye',
  minutes: 6,
  detection: 0.8,
  falseAlarm: 0.02,
  warning: [],
  ...more,
});
const fact = (id: string, more: Partial<WeakPointFact> = {}): WeakPointFact =>
  ({
    id,
    key: `key-${id}`,
    title: `Title of ${id}`,
    component: `Part of ${id}`,
    look: look(),
    damages: [],
    consequence: 'engine',
    failure: { parts: 0, minutes: 600 },
    renewMinutes: 60,
    partPrice: 1000,
    ...more,
  }) as WeakPointFact;
const judged = (id: string, more: Partial<AnswerRow> = {}) =>
  ({
    weakPointId: id,
    chance: 0.2,
    verdict: 'look',
    rule: 'over_limit_warns',
    ifFirst: null,
    unproved: null,
    reason: `Why of ${id}`,
    due: { day: 20_800, km: 130_000, earliestDay: 1, latestDay: 2 },
    standings: [],
    ...more,
  }) as unknown as Answer['judgements'][number];
type Task = Answer['upkeep'][number];
const task = (id: string, more: Partial<Task> = {}): Task =>
  ({
    taskId: id,
    kind: 'look',
    title: `Task ${id}`,
    how: 'Dipstick',
    minutes: 3,
    standing: 'overdue',
    by: 'the book',
    protects: [],
    cautions: ['Mind the fan.'],
    due: { day: 20_700, km: 120_000 },
    ...more,
  }) as unknown as Task;

const OPERATIONS = [
  { key: 'cover', name: 'Cover off', minutes: 12, needs: [], tools: [{ name: 'Long bar' }], cautions: ['Sharp edge.'] },
  { key: 'tray', name: 'Tray off', minutes: 8, needs: [], tools: [], cautions: [] },
];

interface Given {
  readonly facts: readonly WeakPointFact[];
  readonly rows: readonly Answer['judgements'][number][];
  readonly tasks?: readonly Task[];
  readonly toldTasks?: readonly object[];
  readonly safe?: readonly string[];
  readonly reports?: Answer['reports'];
}
const round = (
  { facts, rows, tasks = [], toldTasks = [], safe = [], reports = [] }: Given,
  more: { budgetMinutes?: number | null; begun?: BegunWalk | null } = {},
) =>
  walkRound(
    {
      answer: {
        judgements: rows,
        holds: [],
        reports,
        points: facts.map(({ id, title, component }) => ({
          weakPointId: id,
          title,
          component,
          safety: safe.includes(id),
          statements: [],
        })),
        upkeep: tasks,
      } as unknown as Answer,
      knowledge: { weakPoints: facts, operations: OPERATIONS, tasks: toldTasks } as unknown as FamilyKnowledge,
      settings: { ...DEFAULT_SETTINGS, labourRateMinor: 6000 },
    },
    { budgetMinutes: null, begun: null, ...more },
  );
const keys = (given: Given, more: Parameters<typeof round>[1] = {}) => round(given, more).steps.map(({ key }) => key);

test('a look is told with all that is known of it, and with why', () => {
  const told = look({
    place: 'underneath',
    method: 'feel',
    spot: { side: 'timing', height: 'low' } as never,
    good: 'dry',
    worn: 'damp',
    failed: 'drips',
    measure: { what: 'play', unit: 'mm', limit: 2, sense: [0.5, 1] } as never,
    grades: [{ words: 'dry', result: 'sound' }] as never,
    tools: ['Lamp'],
    cautions: ['Hot.'],
  });
  const given = { facts: [fact('a', { look: told })], rows: [judged('a')], safe: ['a'] };
  expect(round(given)).toEqual({
    steps: [
      {
        key: 'point:a',
        kind: 'point',
        title: 'Title of a',
        component: 'Part of a',
        place: 'underneath',
        spot: told.spot,
        method: 'feel',
        upkeepKind: null,
        how: 'By eye',
        good: 'dry',
        worn: 'damp',
        failed: 'drips',
        measure: told.measure,
        grades: told.grades,
        minutes: 6,
        tools: ['Lamp'],
        cautions: ['Hot.'],
        safety: true,
        glance: false,
        needs: '',
        why: 'Why of a',
        verdict: 'look',
        chance: 0.2,
        due: { day: 20_800, km: 130_000 },
        takesOff: [],
        teardownMinutes: 0,
        chanceThen: null,
        linked: [],
      },
    ],
    forbidden: [],
    holds: [],
    leftOut: [],
    minutes: 6,
    liftChanges: 2,
  });
});

test('of what nobody told more: from the top, or opened where something has to be off; a measure is measured', () => {
  const step = (more: Partial<Look>) =>
    round({ facts: [fact('a', { look: look(more) })], rows: [judged('a')] }).steps[0]!;
  expect(step({})).toMatchObject({
    place: 'top',
    spot: null,
    method: null,
    good: null,
    worn: null,
    failed: null,
    measure: null,
    grades: [],
    tools: [],
    cautions: [],
  });
  expect(step({ off: ['cover'] })).toMatchObject({ place: 'opened', takesOff: ['Cover off'], teardownMinutes: 12 });
  expect(step({ off: ['cover'] })).toMatchObject({ tools: ['Long bar'], cautions: ['Sharp edge.'] });
  expect(step({ off: ['cover'], place: 'top' })).toMatchObject({ place: 'top', takesOff: ['Cover off'] });
  // An operation that this engine does not know is none.
  expect(step({ off: ['unheard-of'] })).toMatchObject({ place: 'top', takesOff: [] });
  const measure = { what: 'play', unit: 'mm', limit: 2, sense: [0.5, 1] } as never;
  expect(step({ measure }).method).toBe('measure');
  expect(step({ measure, method: 'feel' }).method).toBe('feel');
  expect(round({ facts: [fact('a')], rows: [judged('a', { due: null })] }).steps[0]!.due).toBeNull();
});

test('a plain quick look at what only leaks is a glance; what it needs is said in words', () => {
  const step = (more: Partial<WeakPointFact>) =>
    round({ facts: [fact('a', { look: look({ minutes: 4 }), ...more })], rows: [judged('a')] }).steps[0]!;
  expect(step({ consequence: 'leak' })).toMatchObject({ glance: true, needs: '' });
  expect(step({ consequence: 'engine' }).glance).toBe(false);
  const running = look({ minutes: 4, needs: { engine: 'running', heat: 'cold' } });
  expect(step({ consequence: 'leak', look: running })).toMatchObject({ glance: false, needs: 'cold start' });
});

test('what a tool or a caution is said twice of is said once', () => {
  const twice = look({ off: ['cover'], tools: ['Long bar', 'Lamp'], cautions: ['Sharp edge.'] });
  expect(round({ facts: [fact('a', { look: twice })], rows: [judged('a')] }).steps[0]).toMatchObject({
    tools: ['Long bar', 'Lamp'],
    cautions: ['Sharp edge.'],
  });
});

test('what cannot be looked at, what is behind it and what no answer is about is on no sheet', () => {
  const facts = [fact('a', { look: null }), fact('b'), fact('c')];
  expect(keys({ facts, rows: [judged('a'), judged('b', { verdict: 'behind_it' })] })).toEqual([]);
});

describe('what is worth its minutes', () => {
  // A failure costs ten hours, 60,000; a look of six minutes costs 600.
  const quiet = (chance: number, more: Partial<AnswerRow> = {}) => ({
    facts: [fact('a')],
    rows: [judged('a', { chance, verdict: 'run_on', rule: 'below_limit', ...more })],
  });
  test('saves as much as it costs', () => {
    expect(keys(quiet(0.0125))).toEqual(['point:a']);
    expect(keys(quiet(0.0124))).toEqual([]);
  });
  test('or is asked for anyway', () => {
    expect(keys({ facts: [fact('a')], rows: [judged('a', { chance: 0 })] })).toEqual(['point:a']);
  });
  test('what nobody can show counts as the first one, where the verdict says so', () => {
    expect(keys(quiet(0.001, { ifFirst: 0.5, unproved: 0.5 }))).toEqual(['point:a']);
    expect(keys(quiet(0.001, { ifFirst: 0.5, unproved: null }))).toEqual([]);
    expect(keys(quiet(0.5, { ifFirst: 0.001, unproved: 0.001 }))).toEqual(['point:a']);
  });
});

describe('within the time there is', () => {
  const facts = [
    fact('dear', { failure: { parts: 900_000, minutes: 0 } }),
    fact('cheap', { failure: { parts: 900, minutes: 0 } }),
  ];
  const rows = [judged('cheap'), judged('dear')];
  test('what is worth most stays, the rest is said', () => {
    const cut = round({ facts, rows }, { budgetMinutes: 6 });
    expect(cut.steps.map(({ key }) => key)).toEqual(['point:dear']);
    expect(cut.leftOut).toEqual([{ key: 'point:cheap', title: 'Title of cheap', minutes: 6 }]);
    expect(round({ facts, rows }, { budgetMinutes: 12 }).leftOut).toEqual([]);
  });
  test('what is about safety and asked for stays whatever it is worth, and what has to stand still', () => {
    const left = (given: Given) => round(given, { budgetMinutes: 6 }).leftOut.map(({ key }) => key);
    expect(left({ facts, rows, safe: ['cheap'] })).not.toContain('point:cheap');
    expect(left({ facts, rows: [judged('cheap', { verdict: 'hold' }), judged('dear')] })).not.toContain('point:cheap');
    const unasked = judged('cheap', { verdict: 'run_on', chance: 0.9 });
    expect(left({ facts, rows: [unasked, judged('dear')], safe: ['cheap'] })).toContain('point:cheap');
  });
});

describe('what is done again and again', () => {
  const one = (more: Partial<Task>, toldTasks: readonly object[] = []) =>
    round({ facts: [], rows: [], tasks: [task('t', more)], toldTasks }).steps;
  test('is asked for in passing where it is looked at or measured, and due', () => {
    const on = (kind: Task['kind'], standing: Task['standing']): boolean => one({ kind, standing }).length === 1;
    expect((['look', 'measure', 'renew', 'clean'] as const).map((kind) => on(kind, 'due'))).toEqual([
      true,
      true,
      false,
      false,
    ]);
    expect(
      (['overdue', 'due', 'unknown', 'ahead'] as Task['standing'][]).map((standing) => on('look', standing)),
    ).toEqual([true, true, true, false]);
  });
  test('says why, and what it is', () => {
    const why = (standing: Task['standing']) => one({ standing })[0]!.why;
    expect(why('overdue')).toBe('Overdue, says the book.');
    expect(why('due')).toBe('Due now.');
    expect(why('unknown')).toBe('Nobody knows when it was last done.');
    expect(one({})[0]).toEqual({
      key: 'task:t',
      kind: 'task',
      title: 'Task t',
      component: null,
      place: 'top',
      spot: null,
      method: null,
      upkeepKind: 'look',
      how: 'Dipstick',
      good: null,
      worn: null,
      failed: null,
      measure: null,
      grades: [],
      minutes: 3,
      tools: [],
      cautions: ['Mind the fan.'],
      safety: false,
      glance: false,
      needs: '',
      why: 'Overdue, says the book.',
      verdict: null,
      chance: null,
      due: { day: 20_700, km: 120_000 },
      takesOff: [],
      teardownMinutes: 0,
      chanceThen: null,
      linked: [],
    });
    const spot = { side: 'timing', height: 'low' };
    expect(one({ kind: 'measure' }, [{ id: 't', place: 'underneath', spot }])[0]).toMatchObject({
      method: 'measure',
      upkeepKind: 'measure',
      place: 'underneath',
      spot,
    });
  });
  test('is worth what its neglect adds to the chances of what it protects', () => {
    const facts = [
      fact('a', { failure: { parts: 100_000, minutes: 0 } }),
      fact('b', { failure: { parts: 27_000, minutes: 0 } }),
    ];
    // 0.5 of 0.2 at 100,000 is 10,000; the look at b is worth 0.8 of 0.5 at 27,000: 10,800 in as many minutes.
    const given = (factor: number, more: Partial<Task> = {}): Given => ({
      facts,
      rows: [judged('a', { verdict: 'behind_it', chance: 0.2 }), judged('b', { chance: 0.5, verdict: 'run_on' })],
      tasks: [task('t', { minutes: 6, protects: [{ weakPointId: 'a', factor }], ...more } as Partial<Task>)],
    });
    const left = (of: Given) => round(of, { budgetMinutes: 6 }).leftOut.map(({ key }) => key);
    expect(left(given(2))).toEqual(['task:t']);
    expect(left(given(4))).toEqual(['point:b']);
    // What is not here, or no answer is about, adds nothing.
    const nothing = [{ weakPointId: 'gone', factor: 9 }];
    expect(left(given(4, { protects: nothing } as Partial<Task>))).toEqual(['task:t']);
  });
});

describe('a walk that has begun', () => {
  const harmed = fact('harmed');
  const facts = [
    fact('worn', { damages: [{ weakPoint: 'key-harmed', chance: 0.5, within: [] }] }),
    harmed,
    fact('other', { damages: [{ weakPoint: 'key-harmed', chance: 0.1, within: [] }] }),
    fact('new'),
  ];
  const rows = [
    judged('worn'),
    judged('harmed', { chance: 0, verdict: 'run_on', rule: 'below_limit' }),
    judged('other', { chance: 0, verdict: 'run_on', rule: 'below_limit' }),
    judged('new'),
  ];
  const begun = (bad: readonly string[]): BegunWalk => ({
    items: [{ key: 'point:worn', chance: 0.11 }],
    bad: new Set(bad),
  });
  test('holds on to what was on it, whatever the time, with the chance as it was then', () => {
    const { steps, leftOut } = round({ facts, rows }, { budgetMinutes: 1, begun: begun([]) });
    expect(steps.map(({ key, chance, chanceThen, linked }) => [key, chance, chanceThen, linked])).toEqual([
      ['point:worn', 0.2, 0.11, []],
    ]);
    expect(leftOut).toEqual([]);
  });
  test('and takes in what a finding may have harmed, with what it follows from', () => {
    const linked = (bad: readonly string[]) =>
      round({ facts, rows }, { begun: begun(bad) }).steps.map(({ key, chanceThen, linked: from }) => [
        key,
        chanceThen,
        from,
      ]);
    expect(linked(['worn'])).toEqual(
      expect.arrayContaining([
        ['point:worn', 0.11, []],
        ['point:harmed', null, ['Title of worn']],
      ]),
    );
    expect(linked(['worn'])).toHaveLength(2);
    expect(linked(['worn', 'other'])).toContainEqual(['point:harmed', null, ['Title of worn', 'Title of other']]);
    expect(linked(['harmed'])).toHaveLength(1);
  });
  test('what harms nothing that can be looked at calls for no look', () => {
    const bad = new Set(['worn']);
    const checks = (damages: WeakPointFact['damages'], other: Partial<WeakPointFact> = {}) => [
      ...linkedChecks({ weakPoints: [fact('worn', { damages }), fact('harmed', other)] }, bad),
    ];
    const within: never[] = [];
    expect(checks([{ weakPoint: 'key-harmed', chance: 1, within }])).toEqual([['point:harmed', ['Title of worn']]]);
    expect(checks([{ weakPoint: 'key-harmed', chance: 1, within }], { look: null })).toEqual([]);
    expect(checks([{ weakPoint: 'key-gone', chance: 1, within }])).toEqual([]);
    expect(checks([{ harms: 'the bores', chance: 1, within }])).toEqual([]);
  });
});

test('what a complaint forbids is left out until its cause is found, and says what it would need', () => {
  const running = fact('a', { look: { ...fact('a').look!, needs: { engine: 'running' } } });
  const given = { facts: [running, fact('b')], rows: [judged('a'), judged('b')] };
  const report = { words: 'Oil lamp', day: 1, stop: 'Do not run it.', drive: null, forbids: ['running' as const] };
  const free = round(given);
  expect(free.steps.map(({ key }) => key)).toEqual(['point:a', 'point:b']);
  expect(free.forbidden).toEqual([]);
  const held = round({ ...given, reports: [report] });
  expect(held.steps.map(({ key }) => key)).toEqual(['point:b']);
  expect(held.forbidden).toEqual([{ key: 'point:a', title: 'Title of a', needs: 'engine running' }]);
  // Where it must stop it is not driven for a look either.
  const driven = fact('a', { look: { ...fact('a').look!, needs: { engine: 'driven' } } });
  const stop = { ...report, forbids: [] };
  expect(round({ ...given, facts: [driven, fact('b')], reports: [stop] }).forbidden).toHaveLength(1);
});
