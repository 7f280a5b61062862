import type {
  Changed,
  LibraryPoint,
  LibraryPointRow,
  LibraryTask,
  PointDraft,
  ProblemDetails,
  TaskDraft,
} from '@crosspeen/contract';
import { formatSpans, isoFromDay, SHARE_BY_WORD, type ShareWord } from '@crosspeen/core';
import { inTransaction } from '../../platform/transaction.ts';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let owner: Client;
let mechanic: Client;
let familyId: string;
beforeAll(async () => {
  t = await testApp();
  [owner, mechanic] = [await t.signIn('ruta'), await t.signIn('tove')];
  familyId = await t.family('QV20T');
});
afterAll(() => t.close());

const draft = (changes: Partial<PointDraft> = {}): PointDraft => ({
  familyId: familyId as PointDraft['familyId'],
  title: 'Charge pipe clip lets go',
  componentId: null,
  newComponent: { name: 'Charge pipe clip', class: 'plastic', group: 'other' },
  consequence: 'drivability',
  safety: false,
  effect: 'No boost.',
  signs: 'A hiss under load.',
  nature: 'wear',
  share: 'some',
  causes: ['60-140k km'],
  look: null,
  renewMinutes: 20,
  variants: [],
  producedFrom: null,
  producedTo: null,
  retiredByRevision: null,
  watch: null,
  statement: { words: 'Press it home at every service.', interval: '30k km', asks: 'renew', strength: 'practice' },
  ...changes,
});
const write = async (who: Client, changes: Partial<PointDraft> = {}): Promise<Changed> =>
  (await who.send('POST', '/api/library/points', draft(changes))).json();
const point = async (id: string): Promise<LibraryPoint> => (await owner.get(`/api/library/points/${id}`)).json();
const asked = async (): Promise<string[]> =>
  (await owner.get('/api/lookup?line=QV20T+120k+2013'))
    .json<{ answer: { points: { title: string }[] } }>()
    .answer.points.map(({ title }) => title);
const step = (who: Client, id: string, body: object) => who.send('POST', `/api/library/points/${id}/step`, body);

test('a weak point goes from a mechanic’s draft through review to publication, and vehicles are judged by it only then', async () => {
  const { id } = await write(mechanic);
  const written = await point(id);
  expect(written).toMatchObject({
    row: { state: 'draft', share: 0.25, causes: [[{ clock: 'distance', from: 60_000, to: 140_000 }]] },
    writtenBy: 'Tove',
    pack: null,
  });
  expect(written.statements).toMatchObject([
    { kind: 'bench', words: 'Press it home at every service.', interval: [{ clock: 'distance', from: 30_000 }] },
  ]);
  expect(await asked()).not.toContain('Charge pipe clip lets go');
  expect((await step(mechanic, id, { state: 'published', version: written.version })).statusCode).toBe(403);
  await step(mechanic, id, { state: 'review', version: written.version });
  expect((await step(owner, id, { state: 'published', version: written.version })).json<ProblemDetails>().code).toBe(
    'changed_meanwhile',
  );
  await step(owner, id, { state: 'published', version: (await point(id)).version });
  expect(await asked()).toContain('Charge pipe clip lets go');
  expect(
    (await mechanic.send('PUT', `/api/library/points/${id}`, { draft: draft(), version: (await point(id)).version }))
      .statusCode,
  ).toBe(403);
});

test('retired from a production date, earlier engines keep it; publishing again takes the date away', async () => {
  const { id } = await write(owner, { title: 'Vent hose splits' });
  await step(owner, id, { state: 'published', version: (await point(id)).version });
  expect(
    (await step(owner, id, { state: 'retired', version: (await point(id)).version })).json<ProblemDetails>().fields![0]!
      .path,
  ).toContain('retiredFrom');
  await step(owner, id, { state: 'retired', retiredFrom: '2012-06-01', version: (await point(id)).version });
  const row = async (line: string): Promise<boolean> =>
    (await owner.get(`/api/lookup?line=${line}`))
      .json<{ answer: { points: { title: string }[] } }>()
      .answer.points.some(({ title }) => title === 'Vent hose splits');
  expect([await row('QV20T+100k+2011-06-01'), await row('QV20T+100k+2013-06-01')]).toEqual([true, false]);
  await step(owner, id, { state: 'published', version: (await point(id)).version });
  expect((await point(id)).appliesTo).toEqual({});
});

test('a correction by two people: the later one is told; a change is taken back whole, and its trail says what it was', async () => {
  const { id } = await write(owner, { title: 'Dip stick tube loosens' });
  const { version, componentId } = await point(id);
  const mine = draft({
    title: 'Dip stick tube loosens',
    componentId,
    newComponent: null,
    share: 'most',
    statement: null,
  });
  const done = (await owner.send('PUT', `/api/library/points/${id}`, { draft: mine, version })).json<Changed>();
  expect(
    (
      await owner.send('PUT', `/api/library/points/${id}`, { draft: { ...mine, title: 'Other' }, version })
    ).json<ProblemDetails>(),
  ).toMatchObject({ code: 'changed_meanwhile', current: { title: 'Dip stick tube loosens' } });
  expect(await point(id)).toMatchObject({ row: { share: 0.75 }, statements: [] });
  const trail = (await owner.get(`/api/library/changes?entityId=${id}`)).json<{
    rows: { summary: string; items: { columns: { column: string; before: string; after: string }[] }[] }[];
  }>().rows;
  expect(trail[0]!.items.flatMap(({ columns }) => columns)).toContainEqual({
    column: 'share',
    before: '25 %',
    after: '75 %',
  });
  await owner.send('POST', `/api/changes/${done.changeId}/undo`, {});
  expect(await point(id)).toMatchObject({
    row: { share: 0.25 },
    statements: [{ words: 'Press it home at every service.' }],
  });
});

test('a draft is taken back with its component; one that a record rests on is not', async () => {
  const gone = await write(mechanic, {
    title: 'Thing to forget',
    newComponent: { name: 'Forgettable', class: 'rubber', group: 'seals' },
  });
  expect((await mechanic.send('POST', `/api/changes/${gone.changeId}/undo`, {})).statusCode).toBe(200);
  expect((await owner.get(`/api/library/points/${gone.id}`)).statusCode).toBe(404);
  expect(await t.services.source.query("select 1 from component where name = 'Forgettable'")).toEqual([]);
  const kept = await write(owner, { title: 'Thing to keep' });
  await step(owner, kept.id, { state: 'published', version: 1 });
  const vehicle = (
    await owner.send('POST', '/api/vehicles', {
      plate: 'LD 1',
      name: null,
      model: null,
      familyId,
      variantKey: null,
      firstRegistered: '2013-01-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-01-01', km: 90_000 },
    })
  ).json<Changed>();
  await owner.send('POST', `/api/vehicles/${vehicle.id}/findings`, {
    weakPointId: kept.id,
    day: '2026-02-01',
    result: 'sound',
    note: null,
  });
  const [publish] = await t.services.source.query<{ id: string }[]>(
    "select id from library_change where summary like '%Thing to keep%published'",
  );
  await owner.send('POST', `/api/changes/${publish!.id}/undo`, {});
  expect((await owner.send('POST', `/api/changes/${kept.changeId}/undo`, {})).json<ProblemDetails>().code).toBe(
    'in_use',
  );
});

test('an undo that meets the reading of vehicles in another order gives way, and is done all the same', async () => {
  const { id } = await write(owner, { title: 'Vent valve sticks' });
  const { changeId } = (
    await owner.send('PUT', `/api/library/points/${id}`, {
      draft: draft({ title: 'Vent valve sticks shut', componentId: (await point(id)).componentId, newComponent: null }),
      version: (await point(id)).version,
    })
  ).json<Changed>();
  const { source } = t.services;
  const vehicle = (
    await owner.send('POST', '/api/vehicles', {
      plate: 'LD 3',
      name: null,
      model: null,
      familyId,
      variantKey: null,
      firstRegistered: '2013-01-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-01-01', km: 90_000 },
    })
  ).json<{ id: string }>();
  await source.query('insert into observation_due values ($1) on conflict do nothing', [vehicle.id]);
  let undone: ReturnType<Client['send']> | null = null;
  await inTransaction(source, async (reading) => {
    await reading.query('delete from observation_due where vehicle_id = $1', [vehicle.id]);
    const first = undone === null;
    undone ??= owner.send('POST', `/api/changes/${changeId}/undo`);
    // Where it is the reading that gave way, the undo has gone on meanwhile.
    for (let waiting = first ? 0 : 1; waiting === 0;) {
      const [row] = await source.query<{ n: number }[]>(
        `select count(*)::int as n
          from pg_stat_activity
          where datname = current_database() and wait_event_type = 'Lock'`,
      );
      waiting = row!.n;
    }
    await reading.query('select 1 from weak_point where id = $1 for update', [id]);
  });
  expect((await undone!).statusCode).toBe(200);
  expect((await point(id)).row.title).toBe('Vent valve sticks');
});

test('what is wrong in a draft is named field by field', async () => {
  const response = await owner.send('POST', '/api/library/points', {
    ...draft(),
    causes: ['90-60k km'],
    title: '',
    renewMinutes: 1.5,
    variants: ['no-such'],
  });
  const paths = response.json<ProblemDetails>().fields!.map(({ path }) => path);
  expect(paths).toEqual(expect.arrayContaining(['title', 'causes.0', 'renewMinutes']));
  expect(
    (await owner.send('POST', '/api/library/points', draft({ newComponent: null }))).json<ProblemDetails>().fields![0]!
      .path,
  ).toBe('componentId');
  expect(
    (await owner.send('POST', '/api/library/points', draft({ variants: ['no-such'] }))).json<ProblemDetails>()
      .fields![0]!.path,
  ).toBe('variants');
});

test('what was written here leaves with the pack, with or without a word of ours', async () => {
  const { id } = await write(owner, {
    title: 'Quiet one',
    statement: null,
    producedFrom: '2012-05-01',
    causes: ['60-140k km | 7.5-12y', '2000-4000h'],
  });
  await step(owner, id, { state: 'published', version: 1 });
  const response = await owner.get(`/api/library/export?families=${familyId}`);
  expect(response.statusCode).toBe(200);
  const [family] = response.json<{ families: { weakPoints: { title: string }[] }[] }>().families;
  expect(family!.weakPoints.find(({ title }) => title === 'Quiet one')).toMatchObject({
    causes: ['60-140k km | 7.5-12y', '2000-4000h'],
    appliesTo: { producedFrom: '2012-05' },
    statements: [],
  });
});

test('found by code, symptom, component and part number; what a draft resembles is shown, with the vehicles it touches', async () => {
  const found = async (q: string): Promise<string[]> =>
    (await owner.get(`/api/library/points?q=${encodeURIComponent(q)}`))
      .json<{ rows: LibraryPointRow[] }>()
      .rows.map(({ key }) => key);
  expect(await found('qv20t rattle')).toContain('qv20t-tensioner');
  expect(await found('VL-4433-05')).toContain('qv20t-tensioner');
  expect(await found('Thermostat housing')).toContain('qv20t-thermostat');
  expect(await found('no such thing at all')).toEqual([]);
  const touched = (
    await owner.get(
      `/api/library/touches?familyId=${familyId}&title=${encodeURIComponent('Thermostat housing cracks')}`,
    )
  ).json<{ vehicles: number; similar: { title: string }[] }>();
  expect(touched.similar[0]!.title).toBe('Thermostat housing cracks at the seam');
  expect(touched.vehicles).toBeGreaterThanOrEqual(1);
});

test('who is left to call: what applies and asks, and is not planned', async () => {
  const id = await t.point('qv20t-tensioner');
  const left = async (which: string): Promise<{ plate: string; planned: string | null }[]> =>
    (await owner.get(`/api/library/points/${id}/vehicles?left=${which}`)).json<{
      rows: { plate: string; planned: string | null }[];
    }>().rows;
  const vehicle = (
    await owner.send('POST', '/api/vehicles', {
      plate: 'LD 2',
      name: null,
      model: null,
      familyId,
      variantKey: 'short-ratchet',
      firstRegistered: '2014-06-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-01', km: 120_000 },
    })
  ).json<Changed>();
  expect((await left('left')).map(({ plate }) => plate)).toContain('LD 2');
  await owner.send('POST', `/api/vehicles/${vehicle.id}/visits`, {
    day: '2026-12-10',
    km: null,
    note: null,
    jobs: [{ weakPointId: id, action: 'renew' }],
  });
  expect((await left('left')).map(({ plate }) => plate)).not.toContain('LD 2');
  expect(await left('all')).toContainEqual(expect.objectContaining({ plate: 'LD 2', planned: '2026-12-10' }));
});

describe('what the form does not show is kept', () => {
  /** Every weak point of the library, and one that has whatever a row may hold. */
  const WHOLE = {
    variants: ['long-ratchet'],
    models: ['Corrow'],
    markets: ['hot and dusty'],
    features: { ac: true },
    serialFrom: 100,
    serialTo: 900,
    producedFromDay: 15_012,
    producedToDay: 16_019,
  };
  const row = async (id: string) =>
    (
      await t.services.source.query<{ row: Record<string, unknown>; said: unknown }[]>(
        `select to_jsonb(w) - 'version' - 'pack_key' - 'search_text' as row,
            (
              select jsonb_agg(to_jsonb(s) - 'id' order by s.position) from statement s where s.weak_point_id = w.id
            ) as said
          from weak_point w
          where id = $1`,
        [id],
      )
    )[0]!;
  /** The fields of the form as it opens on a row, by what the API tells of it. */
  const asOpened = (shown: LibraryPoint): PointDraft => {
    const own = shown.statements.find(({ kind }) => kind === 'bench');
    const word = (Object.keys(SHARE_BY_WORD) as ShareWord[]).reduce((best, each) =>
      Math.abs(SHARE_BY_WORD[each] - shown.row.share) < Math.abs(SHARE_BY_WORD[best] - shown.row.share) ? each : best,
    );
    const iso = (day: number | undefined): string | null => (day === undefined ? null : isoFromDay(day));
    return {
      familyId: shown.row.familyId,
      title: shown.row.title,
      componentId: shown.componentId,
      newComponent: null,
      consequence: shown.row.consequence,
      safety: shown.row.safety,
      effect: shown.effect,
      signs: shown.row.signs,
      nature: shown.row.nature,
      share: word,
      causes: shown.row.causes.map(formatSpans),
      look:
        shown.look === null
          ? null
          : {
              how: shown.look.how,
              minutes: shown.look.minutes,
              detects: Math.round(shown.look.detection * 100) / 100,
              warns: formatSpans(shown.look.warning),
            },
      renewMinutes: shown.renewMinutes,
      variants: shown.appliesTo.variants ?? [],
      producedFrom: iso(shown.appliesTo.producedFromDay),
      producedTo: iso(shown.appliesTo.producedToDay),
      retiredByRevision: shown.retiredByRevision,
      watch: shown.watch && { task: shown.watch.task, every: formatSpans(shown.watch.every) },
      statement: own
        ? {
            words: own.words,
            interval: own.interval.length === 0 ? null : formatSpans(own.interval),
            asks: own.asks,
            strength: own.strength,
          }
        : null,
    };
  };

  test('a corrected title changes the title alone, on every weak point there is', async () => {
    await t.services.source.query(
      `update weak_point
        set share = 0.47, applies_to = $1,
          look = '{"how": "With a lamp.", "minutes": 7, "detection": 0.725, "falseAlarm": 0.07, "warning": [{"clock": "distance", "from": 12874.752, "to": 12874.752, "unit": "mi"}]}',
         causes = '[[{"clock": "distance", "from": 123456.789, "to": 234567.891234}]]' where key = 'qv20t-chain'`,
      [JSON.stringify(WHOLE)],
    );
    await t.services.source.query(
      `update statement
        set edition = '2016', doubted = true
        where weak_point_id = (select id from weak_point where key = 'qv20t-tensioner')
          and authority_id in (select id from authority where kind = 'bench')`,
    );
    const points = await t.services.source.query<{ id: string }[]>(
      "select id from weak_point where state = 'published' order by key",
    );
    expect(points.length).toBeGreaterThan(35);
    const owner = await t.signIn('ruta');
    for (const { id } of points) {
      const before = await row(id);
      const shown = (await owner.get(`/api/library/points/${id}`)).json<LibraryPoint>();
      const response = await owner.send('PUT', `/api/library/points/${id}`, {
        draft: { ...asOpened(shown), title: `${shown.row.title}!` },
        version: shown.version,
      });
      expect([shown.row.key, response.statusCode]).toEqual([shown.row.key, 200]);
      expect(await row(id)).toEqual({ ...before, row: { ...before.row, title: `${shown.row.title}!` } });
    }
  });
});

describe('what cannot be written says which field, and why', () => {
  const nobody = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
  const refused = async (response: Promise<{ json: <T>() => T }>) => {
    const { status, code, fields } = (await response).json<ProblemDetails>();
    return [status, code, fields?.[0]?.path, fields?.[0]?.message];
  };
  const send = (changes: Partial<PointDraft>) => owner.send('POST', '/api/library/points', draft(changes));

  test('an engine, a component, a variant that is not there', async () => {
    expect(await refused(send({ familyId: nobody as PointDraft['familyId'] }))).toEqual([
      400,
      'bad_input',
      'familyId',
      'is no engine of the library; choose one from the list',
    ]);
    expect(await refused(send({ componentId: nobody, newComponent: null }))).toEqual([
      400,
      'bad_input',
      'componentId',
      'is no component of the library; choose one, or name a new one',
    ]);
    expect((await refused(send({ variants: ['nope'] })))[2]).toBe('variants');
  });
  test('what is not there is not corrected, nor taken a step; an engine stays', async () => {
    const put = (id: string, changes: Partial<PointDraft>, version = 1) =>
      owner.send('PUT', `/api/library/points/${id}`, { draft: draft(changes), version });
    expect((await refused(put(nobody, {}))).slice(0, 2)).toEqual([404, 'not_found']);
    expect((await refused(step(owner, nobody, { state: 'review', version: 1 }))).slice(0, 2)).toEqual([
      404,
      'not_found',
    ]);
    const { id } = await write(owner, { title: 'Bracket works loose' });
    const { componentId, version } = await point(id);
    const other = (await t.family('QV16B')) as PointDraft['familyId'];
    expect(await refused(put(id, { familyId: other, componentId, newComponent: null }, version))).toEqual([
      400,
      'bad_input',
      'familyId',
      'cannot change; write the weak point anew for the other engine',
    ]);
  });
  test('a step that does not follow on where it stands', async () => {
    const { id, version } = { ...(await write(owner, { title: 'Shield rattles' })), version: 1 };
    expect(await refused(step(owner, id, { state: 'retired', retiredFrom: '2012-06-01', version }))).toEqual([
      400,
      'bad_input',
      'state',
      'cannot follow on draft; reload the page to see where it stands',
    ]);
  });
  test('a title without a letter still has a key of its own', async () => {
    const [one, two] = [await write(owner, { title: '!!!' }), await write(owner, { title: '???' })];
    const keys = [(await point(one.id)).row.key, (await point(two.id)).row.key];
    expect(new Set(keys).size).toBe(2);
    for (const key of keys) expect(key).toMatch(/^qv20t-entry/);
  });
});

describe('upkeep by hand', () => {
  const task = (changes: Partial<TaskDraft> = {}): TaskDraft => ({
    familyId: familyId as TaskDraft['familyId'],
    title: 'Drain the water trap',
    kind: 'clean',
    how: 'Open the tap until fuel runs clear.',
    minutes: 10,
    ownerCan: true,
    season: 'autumn',
    protects: [],
    statement: { words: 'Every autumn.', interval: '1y' },
    inUse: true,
    ...changes,
  });
  const tasks = async (): Promise<LibraryTask[]> =>
    (await owner.get(`/api/library/families/${familyId}/upkeep?pageSize=100`)).json<{ rows: LibraryTask[] }>().rows;
  const named = async (title: string): Promise<LibraryTask> => (await tasks()).find((one) => one.title === title)!;

  test('a task comes last in the list of its engine, with what the workshop says; taken out of use it comes after all', async () => {
    const before = await tasks();
    const response = await owner.send('POST', '/api/library/upkeep', task());
    expect(response.json<Changed>().summary).toBe('Upkeep “Drain the water trap” written');
    const written = await named('Drain the water trap');
    expect((await tasks()).map(({ title }) => title)).toEqual([...before.map(({ title }) => title), written.title]);
    expect(written).toMatchObject({
      kind: 'clean',
      minutes: 10,
      ownerCan: true,
      season: 'autumn',
      inUse: true,
      done: 0,
      vehicles: 0,
      statements: [{ kind: 'bench', words: 'Every autumn.', interval: [{ clock: 'age', from: 365.25 }] }],
    });
    const off = await owner.send('PUT', `/api/library/upkeep/${written.taskId}`, {
      draft: task({ inUse: false }),
      version: written.version,
    });
    expect(off.json<Changed>().summary).toBe('Upkeep “Drain the water trap” taken out of use');
    expect(await named('Drain the water trap')).toMatchObject({ inUse: false });
  });
  test('what others say of a task stays, whatever this workshop says of it; its own view can be taken back', async () => {
    const theirs = (await tasks()).find(({ statements, inUse }) => inUse && statements.length > 0)!;
    const asDraft = (more: Partial<TaskDraft>): TaskDraft =>
      task({
        title: theirs.title,
        kind: theirs.kind,
        how: theirs.how,
        minutes: theirs.minutes,
        ownerCan: theirs.ownerCan,
        season: theirs.season,
        ...more,
      });
    const say = async (statement: TaskDraft['statement']): Promise<LibraryTask> => {
      const { taskId, version } = await named(theirs.title);
      const answer = await owner.send('PUT', `/api/library/upkeep/${taskId}`, {
        draft: asDraft({ statement }),
        version,
      });
      expect(answer.json<Changed>().summary).toBe(`Upkeep “${theirs.title}” changed`);
      return named(theirs.title);
    };
    const others = theirs.statements.filter(({ kind }) => kind !== 'bench');
    const words = (of: LibraryTask): string[] => of.statements.map((one) => one.words);
    expect(words(await say({ words: 'Half of that here.', interval: '5k km' })).sort()).toEqual(
      [...others.map((one) => one.words), 'Half of that here.'].sort(),
    );
    expect(words(await say({ words: 'A third of it.', interval: '4k km' })).sort()).toEqual(
      [...others.map((one) => one.words), 'A third of it.'].sort(),
    );
    expect(words(await say(null)).sort()).toEqual(others.map((one) => one.words).sort());
  });
  test('a task of no engine, one that is not there, and one that changes its engine are refused', async () => {
    const nobody = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
    const gone = await owner.send('POST', '/api/library/upkeep', task({ familyId: nobody as TaskDraft['familyId'] }));
    expect(gone.json<ProblemDetails>().fields![0]!.path).toBe('familyId');
    const put = (id: string, changes: Partial<TaskDraft>) =>
      owner.send('PUT', `/api/library/upkeep/${id}`, { draft: task(changes), version: 1 });
    expect((await put(nobody, {})).statusCode).toBe(404);
    const other = (await t.family('QV16B')) as TaskDraft['familyId'];
    const moved = await put((await tasks())[0]!.taskId, { familyId: other });
    expect(moved.json<ProblemDetails>().fields![0]!.path).toBe('familyId');
  });
});
