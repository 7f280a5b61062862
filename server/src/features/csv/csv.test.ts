import { randomUUID } from 'node:crypto';
import { parse } from 'csv-parse/sync';
import { harmless } from '../../spreadsheets/columns.ts';
import type {
  IntakePreview,
  IntakeRun,
  BenchRow,
  CampaignRow,
  Changed,
  LibraryPointRow,
  NoticeDraft,
  VehicleListRow,
} from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let owner: Client;
const file = async (plate: string, family: string, km: number, more: object = {}): Promise<string> =>
  (
    await owner.send('POST', '/api/vehicles', {
      plate,
      name: `Van ${plate}`,
      model: 'Corrow',
      familyId: await t.family(family),
      variantKey: null,
      firstRegistered: '2013-05-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-24', km },
      ...more,
    })
  ).json<Changed>().id;
const ids: Record<string, string> = {};
let thermostat: string;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  thermostat = await t.point('qv20t-thermostat');
  ids['LI 1'] = await file('LI 1', 'QV20T', 148_000, {
    contact: '=cmd|calc, "the bell"\nrings twice',
    note: '+1 key in the box',
  });
  ids['LI 2'] = await file('LI 2', 'QV20T', 148_059.648, { odometerUnit: 'mi' });
  ids['LI 3'] = await file('LI 3', 'QV16B', 90_000);
  await owner.send('POST', `/api/vehicles/${ids['LI 1']}/services`, {
    weakPointId: thermostat,
    certainty: 'done',
    day: '2022-03-04',
    km: 101_000,
    grade: 'original',
    partNumber: '-1+2',
    revision: 'B',
    source: 'own',
    cameOut: 'worn',
    note: 'weeping; at the seam',
  });
  await owner.send('POST', `/api/vehicles/${ids['LI 2']}/findings`, {
    weakPointId: thermostat,
    day: '2026-05-06',
    result: 'failed',
    broughtIn: true,
    note: 'cracked at the neck',
  });
  const [task] = await t.services.source.query<{ id: string }[]>(
    "select id from upkeep_task where family_id = $1 and state = 'current' order by key limit 1",
    [await t.family('QV20T')],
  );
  await owner.send('POST', `/api/vehicles/${ids['LI 1']}/upkeep`, {
    taskId: task!.id,
    day: '2025-10-01',
    km: 140_000,
    note: 'by the owner',
  });
  await owner.send('POST', '/api/library/calls', {
    vehicleId: ids['LI 1'],
    weakPointId: thermostat,
    noticeId: null,
    day: '2026-11-20',
    outcome: 'declined',
    note: 'sells it in spring',
  });
  await owner.send('POST', `/api/vehicles/${ids['LI 3']}/visits`, {
    day: '2026-12-10',
    km: null,
    note: '@the gate',
    jobs: [
      { weakPointId: await t.point('qv16-belt'), action: 'renew' },
      { weakPointId: await t.point('qv16-radiator'), action: 'look' },
    ],
  });
  await t.services.judging.run('test');
});
afterAll(() => t.close());

const csv = async (path: string): Promise<Record<string, string>[]> => {
  const response = await owner.get(`/api/lists/${path}`);
  expect(response.statusCode).toBe(200);
  expect(response.headers['content-type']).toBe('text/csv; charset=utf-8; header=present');
  expect(response.headers['content-disposition']).toMatch(/^attachment; filename="[a-z-]+-2026-11-24\.csv"$/);
  expect(response.body).toMatch(/\r\n$/);
  return parse(response.body, { bom: true, columns: true });
};
const shown = async <Row>(path: string): Promise<readonly Row[]> =>
  (await owner.get(path)).json<{ rows: Row[] }>().rows;

test('vehicles leave as the screen has them: order, filters, units and figures', async () => {
  const rows = await csv('vehicles.csv');
  const screen = await shown<VehicleListRow>('/api/vehicles');
  expect(rows.map((row) => row['plate'])).toEqual(screen.map(({ plate }) => plate));
  expect(rows.map((row) => row['most urgent'])).toEqual(screen.map(({ pressing }) => pressing?.title ?? ''));
  const miles = rows.find((row) => row['plate'] === 'LI 2')!;
  expect(miles).toMatchObject({
    reading: '92000',
    unit: 'mi',
    make: expect.stringMatching(/\w/),
    'engine code': 'QV20T',
  });
  expect(Number(miles['chance before the next service, %'])).toBeCloseTo(
    100 * screen.find(({ plate }) => plate === 'LI 2')!.pressing!.chance!,
    2,
  );
  expect((await csv('vehicles.csv?q=qv16b')).map((row) => row['plate'])).toEqual(['LI 3']);
  expect(rows.find((row) => row['plate'] === 'LI 3')!['next visit']).toBe('2026-12-10');
});

test('a cell that a spreadsheet would reckon with is kept as the text it is, quotes and line ends and all', async () => {
  const [first] = (await csv(`campaign/${thermostat}.csv?left=all`)).filter((row) => row['plate'] === 'LI 1');
  expect(first!['contact']).toBe('\'=cmd|calc, "the bell"\nrings twice');
  expect((await csv('visits.csv'))[0]!['note']).toBe("'@the gate");
  expect((await csv(`history/${ids['LI 1']}.csv`)).find((row) => row['kind'] === 'service')!['part number']).toBe(
    "'-1+2",
  );
});

test('coming visits tell their jobs and the minutes of all', async () => {
  const rows = await csv('visits.csv');
  expect(rows).toHaveLength(1);
  expect(rows[0]).toMatchObject({ day: '2026-12-10', plate: 'LI 3', unit: 'km' });
  expect(rows[0]!['jobs']!.split('; ').map((job) => job.split(' ')[0])).toEqual(['renew', 'look']);
  expect(Number(rows[0]!['minutes'])).toBeGreaterThan(30);
});

test('the bench and its parts: what failed and brought the car in is named as not counted', async () => {
  const rows = await csv('bench.csv');
  const screen = await shown<BenchRow>('/api/bench');
  expect(rows.map((row) => row['weak point'])).toEqual(screen.map(({ title }) => title));
  const own = rows.find((row) => row['engine code'] === 'QV20T' && row['component'] === 'Thermostat housing')!;
  expect(own).toMatchObject({ 'came in because of it': '1', failed: '0' });
  expect(Number(own['low, 90 %'])).toBeLessThan(Number(own['high, 90 %']));
  const parts = await csv(`bench-parts/${thermostat}.csv`);
  expect(parts.map((row) => [row['plate'], row['counted']])).toContainEqual(['LI 2', 'no']);
});

test('weak points and engines of the library, with the filters of their screen', async () => {
  const rows = await csv('weak-points.csv?q=qv16b');
  const screen = await shown<LibraryPointRow>('/api/library/points?q=qv16b&pageSize=100');
  expect(rows.map((row) => row['key'])).toEqual(screen.map(({ key }) => key));
  expect(rows.every((row) => row['engine code'] === 'QV16B' && /\d/.test(row['window']!))).toBe(true);
  expect((await csv('weak-points.csv?group=timing')).every((row) => row['group'] === 'timing')).toBe(true);
  const engines = await csv('engines.csv');
  expect(engines).toHaveLength(6);
  expect(engines.find((row) => row['engine code'] === 'QV16B')).toMatchObject({
    timing: 'belt',
    'saved vehicles': '1',
  });
});

test('who is left to call, about a weak point and about a notice; what only a notice knows has its own columns', async () => {
  const draft: NoticeDraft = {
    kind: 'coverage',
    authorityId: null,
    newAuthority: { name: 'Maker’s letters', kind: 'bulletin' },
    number: 'L 1',
    title: '=Housings',
    words: 'Paid for.',
    issued: '2020-01-01',
    asks: 'renew',
    points: [thermostat as never],
    producedFrom: null,
    producedTo: null,
    covers: '20y',
    endsOn: null,
  };
  const { id } = (await owner.send('POST', '/api/library/notices', draft)).json<Changed>();
  const all = await csv(`notice/${id}.csv?left=all`);
  expect(all.map((row) => [row['plate'], row['answered'], row['covered until']]).sort()).toEqual([
    ['LI 1', 'yes', '2033-05-01'],
    ['LI 2', 'no', '2033-05-01'],
  ]);
  expect((await csv(`notice/${id}.csv`)).map((row) => row['plate'])).toEqual(['LI 2']);
  const screen = await shown<CampaignRow>(`/api/library/points/${thermostat}/vehicles?left=all`);
  const rows = await csv(`campaign/${thermostat}.csv?left=all`);
  expect(rows.map((row) => row['plate'])).toEqual(screen.map(({ plate }) => plate));
  expect(rows.find((row) => row['plate'] === 'LI 1')).toMatchObject({
    renewed: '2022-03-04',
    note: "'+1 key in the box",
  });
  expect(Object.keys(rows[0]!)).not.toContain('answered');
  expect((await csv('notices.csv')).find((row) => row['number'] === 'L 1')).toMatchObject({
    kind: 'coverage',
    title: "'=Housings",
    engines: 'QV20T',
    'saved vehicles': '2',
    state: 'current',
  });
});

test('a vehicle’s history and its trail', async () => {
  const history = await csv(`history/${ids['LI 1']}.csv`);
  expect(history.map((row) => row['kind']).sort()).toEqual(['finding', 'reading', 'service', 'upkeep']);
  expect(history.find((row) => row['kind'] === 'finding')).toMatchObject({ result: 'worn', date: '2022-03-04' });
  expect(history.find((row) => row['kind'] === 'service')).toMatchObject({
    date: '2022-03-04',
    'reading, km': '101000',
    component: 'Thermostat housing',
    certainty: 'done',
    source: 'own',
    'came out': 'worn',
    note: 'weeping; at the seam',
    by: 'Ruta',
  });
  expect(history.find((row) => row['kind'] === 'upkeep')).toMatchObject({
    date: '2025-10-01',
    certainty: 'done',
    component: expect.stringMatching(/\w/) as string,
    note: 'by the owner',
  });
  const changes = await csv(`changes/${ids['LI 1']}.csv`);
  expect(changes.length).toBeGreaterThanOrEqual(2);
  expect(changes.every((row) => row['by'] === 'Ruta' && row['undone'] === 'no')).toBe(true);
});

test('a list longer than a page of its reading leaves whole, each row once', async () => {
  const family = await t.family('OD420K');
  await t.services.source.query(
    `insert into vehicle (id, plate, plate_key, model, family_id, odometer_unit, search_text)
      select gen_random_uuid(), 'PG ' || n, 'pg' || n, 'Many', $1, 'km', 'pg ' || n || ' many'
      from generate_series(1, 1100) n`,
    [family],
  );
  await t.services.source.query(
    `insert into vehicle_standing (vehicle_id, rank, others, as_of, model_version)
      select id, 0, 0, '2026-11-24', 0
      from vehicle
      where model = 'Many'`,
  );
  const rows = await csv('vehicles.csv?q=many&order=plate');
  expect(rows).toHaveLength(1100);
  expect(new Set(rows.map((row) => row['plate'])).size).toBe(1100);
});

test('nobody who is not signed in is given a list, and a vehicle that is not there has none', async () => {
  expect((await t.app.inject({ method: 'GET', url: '/api/lists/vehicles.csv' })).statusCode).toBe(401);
  const swapped = await t.saveVehicle(owner, { code: 'QV16B', km: 90_000 });
  await owner.send('POST', `/api/vehicles/${swapped}/engine-swaps`, {
    day: '2026-01-10',
    engineKm: 190_000,
    note: null,
  });
  expect(
    (await csv(`history/${swapped}.csv`)).map((row) => [row['kind'], row['reading, km'], row['engine had run, km']]),
  ).toEqual([
    ['reading', '90000', ''],
    ['engine', '', '190000'],
  ]);
  expect((await owner.get('/api/lists/history/nothing.csv')).statusCode).toBe(400);
  expect(await csv(`history/${randomUUID()}.csv`)).toEqual([]);
});

describe('records that go out come back as known, row for row', () => {
  test.each([
    ['readings.csv', 'readings'],
    ['services.csv', 'services'],
    ['findings.csv', 'findings'],
  ] as const)('%s is understood as %s and adds nothing', async (name, kind) => {
    const sheet = (await owner.get(`/api/lists/${name}`)).body;
    expect(sheet.charCodeAt(0)).toBe(0xfeff);
    const preview = (
      await owner.send('POST', `/api/intake?name=${name}`, sheet, { 'content-type': 'application/octet-stream' })
    ).json<IntakePreview>();
    expect(preview).toMatchObject({ kind, formats: { date: 'ymd', unit: 'own' } });
    await owner.send('POST', `/api/intake/${preview.fileId}/start`, {
      kind,
      mapping: preview.mapping,
      formats: preview.formats,
    });
    await t.services.intake.idle();
    const run = (await owner.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>();
    expect(run).toMatchObject({ state: 'done', written: 0, bad: 0 });
    expect(run.known).toBe(run.rows);
    expect(run.rows).toBeGreaterThan(0);
  });
  test('of one vehicle alone', async () =>
    expect(new Set((await csv(`readings.csv?vehicle=${ids['LI 1']}`)).map((row) => row['vehicle']))).toEqual(
      new Set(['LI 1']),
    ));
  test('a list of weak points is not taken for renewals', async () => {
    const sheet = (await owner.get('/api/lists/weak-points.csv')).body;
    const preview = (
      await owner.send('POST', '/api/intake?name=a.csv', sheet, { 'content-type': 'application/octet-stream' })
    ).json<IntakePreview>();
    expect(preview.kind).not.toBe('services');
    expect(preview.mapping).not.toHaveProperty('vehicle');
  });
});

test('text is quoted and figures are not, so that a column is of one kind; a telephone number is left alone', async () => {
  const lines = (await owner.get('/api/lists/notices.csv')).body.split('\r\n');
  expect(lines[0]).toMatch(/^\uFEFF"kind","from","number"/);
  expect(['+44 20 7946 000', '+1 (5) 55/12', '=1+1', '+cmd', '-x', '@a', '-12'].map(harmless)).toEqual([
    '+44 20 7946 000',
    '+1 (5) 55/12',
    "'=1+1",
    "'+cmd",
    "'-x",
    "'@a",
    '-12',
  ]);
});

test.each(['library-changes.csv', 'packs.csv', 'intake.csv'])('%s is a list like its screen', async (name) =>
  expect((await csv(name)).length).toBeGreaterThan(0),
);

/** Every list with its columns, as people’s own spreadsheets count on them; what nothing here fills stands apart. */
test.each<[name: string, columns: string[], empty: string[]]>([
  [
    'vehicles.csv',
    [
      'plate',
      'name',
      'make',
      'model',
      'engine code',
      'reading',
      'unit',
      'most urgent',
      'verdict',
      'chance before the next service, %',
      'if it is the first one, %',
      'due',
      'upkeep overdue',
      'upkeep due first',
      'next visit',
    ],
    [],
  ],
  ['visits.csv', ['day', 'plate', 'name', 'make', 'model', 'reading', 'unit', 'jobs', 'minutes', 'note'], []],
  [
    'bench.csv',
    [
      'weak point',
      'make',
      'engine code',
      'component',
      'vehicles',
      'parts watched',
      'failed',
      'worn',
      'came in because of it',
      'own life over published',
      'low, 90 %',
      'high, 90 %',
      'share published, %',
      'share own, %',
      'enough',
    ],
    [],
  ],
  [
    'weak-points.csv',
    [
      'key',
      'weak point',
      'make',
      'engine code',
      'component',
      'group',
      'consequence',
      'safety',
      'share, %',
      'window',
      'signs',
      'state',
      'saved vehicles',
    ],
    [],
  ],
  [
    'engines.csv',
    [
      'make',
      'engine code',
      'name',
      'litres',
      'fuel',
      'timing',
      'interference',
      'variants',
      'weak points',
      'operations',
      'saved vehicles',
    ],
    [],
  ],
  ['notices.csv', ['kind', 'from', 'number', 'title', 'issued', 'state', 'engines', 'saved vehicles'], []],
  [
    'campaign/POINT.csv?left=all',
    [
      'plate',
      'name',
      'make',
      'model',
      'contact',
      'reading',
      'unit',
      'verdict',
      'chance before the next service, %',
      'comes due',
      'last look',
      'found',
      'renewed',
      'revision',
      'on a visit',
      'last call',
      'came of it',
      'said on the phone',
      'note',
    ],
    ['on a visit'],
  ],
  ['library-changes.csv', ['at', 'by', 'what', 'kind', 'rows', 'undone'], []],
  ['packs.csv', ['key', 'title', 'version', 'licence', 'imported', 'engines', 'weak points', 'notices'], []],
  [
    'intake.csv',
    ['file', 'kind', 'state', 'begun', 'ended', 'rows', 'written', 'saved already', 'handed back', 'reason'],
    ['reason'],
  ],
  [
    'history/VEHICLE.csv',
    [
      'kind',
      'date',
      'reading, km',
      'engine had run, km',
      'component',
      'certainty',
      'result',
      'part number',
      'revision',
      'grade',
      'source',
      'came out',
      'note',
      'by',
    ],
    ['engine had run, km'],
  ],
  ['changes/VEHICLE.csv', ['at', 'by', 'what', 'undone'], []],
  ['bench-parts/POINT.csv', ['plate', 'name', 'became', 'counted', 'ran, km', 'from', 'to', 'clean looks'], []],
  ['readings.csv', ['vehicle', 'date', 'reading', 'unit'], []],
  [
    'services.csv',
    [
      'vehicle',
      'component',
      'date',
      'reading',
      'unit',
      'certainty',
      'grade',
      'part number',
      'revision',
      'source',
      'came out',
      'note',
    ],
    [],
  ],
  ['findings.csv', ['vehicle', 'weak point', 'date', 'result', 'brought in', 'note'], []],
  ['upkeep.csv', ['vehicle', 'task', 'date', 'reading', 'unit', 'certainty', 'note'], []],
])('%s keeps its columns, and each is filled', async (name, columns, empty) => {
  const rows = await csv(name.replace('POINT', thermostat).replace('VEHICLE', ids['LI 1']!));
  expect(Object.keys(rows[0]!)).toEqual(columns);
  expect(columns.filter((column) => rows.every((row) => row[column] === ''))).toEqual(empty);
});
