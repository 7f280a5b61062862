import { FAULTS, USUAL_PLANNING, type Changed, type HistoryEntry, type Vehicle } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let tove: Client;
beforeAll(async () => {
  t = await testApp();
  tove = await t.signIn('tove');
});
afterAll(() => t.close());

const TODAY = '2026-11-24';
let plates = 0;
const fields = async (more: object = {}) => {
  plates += 1;
  return {
    plate: `KE ${plates}`,
    name: 'The tall one',
    model: 'Saltmere',
    familyId: await t.family('OD420K'),
    variantKey: 'manual-tensioner',
    firstRegistered: '2012-03-01',
    firstSeen: '2020-05-05',
    market: 'salted roads',
    serial: 123_456,
    features: { 'side-cooler': true },
    fitted: {},
    duty: { longOil: 'much' },
    odometerUnit: 'mi',
    severity: 1.2,
    note: 'Tow bar',
    contact: 'A driver, 01 23',
    ...more,
  };
};
const create = async (more: object = {}) =>
  tove.send('POST', '/api/vehicles', { ...(await fields()), reading: null, history: [], ...more });
const vehicle = async (id: string): Promise<Vehicle> => (await tove.get(`/api/vehicles/${id}`)).json();
const post = (id: string, what: string, body: object) => tove.send('POST', `/api/vehicles/${id}/${what}`, body);
const said = async (id: string, what: string, body: object): Promise<string> =>
  (await post(id, what, body)).json<Changed>().summary;
const history = async (id: string): Promise<HistoryEntry[]> =>
  (await tove.get(`/api/vehicles/${id}/history`)).json<{ rows: HistoryEntry[] }>().rows;
const latest = async (id: string, kind: HistoryEntry['kind']) =>
  (await history(id)).find((entry) => entry.kind === kind);

test('a vehicle is kept as it was told, and called by its plate, else by its name', async () => {
  const sent = await fields();
  const made = (await tove.send('POST', '/api/vehicles', { ...sent, reading: null, history: [] })).json<Changed>();
  expect(made.summary).toBe(`${sent.plate} saved`);
  expect(await vehicle(made.id)).toMatchObject({ ...sent, version: 1, planning: null });
  const nameless = { ...sent, plate: '', model: '', market: '', note: '', contact: '', name: 'Yard car' };
  const corrected = (await tove.send('PUT', `/api/vehicles/${made.id}`, { ...nameless, version: 1 })).json<Changed>();
  expect(corrected.summary).toBe('Yard car corrected');
  expect(await vehicle(made.id)).toMatchObject({
    plate: null,
    name: 'Yard car',
    model: null,
    market: null,
    note: null,
    contact: null,
    version: 2,
  });
  const renamed = { ...sent, plate: ` ${sent.plate} `, name: '', version: 2 };
  expect((await tove.send('PUT', `/api/vehicles/${made.id}`, renamed)).json<Changed>().summary).toBe(
    `${sent.plate} corrected`,
  );
  expect((await vehicle(made.id)).name).toBeNull();
});

test('it is found by plate however it is spaced, by name, make, model and code', async () => {
  const sent = await fields({ plate: 'KX 77 Y', name: 'Ferry' });
  const { id } = (await tove.send('POST', '/api/vehicles', { ...sent, reading: null, history: [] })).json<Changed>();
  for (const q of ['kx 77', 'KX77Y', 'ferry', 'osterlin', 'saltmere', 'od420k', 'ferry saltmere'])
    expect([
      q,
      (await tove.get(`/api/vehicles?pageSize=100&q=${encodeURIComponent(q)}`))
        .json<{ rows: { id: string }[] }>()
        .rows.map((row) => row.id),
    ]).toEqual([q, expect.arrayContaining([id])]);
});

test.each([
  [{ variantKey: 'nope' }, 'variantKey', FAULTS.noVariant],
  [{ firstRegistered: '2026-11-25' }, 'firstRegistered', FAULTS.registrationToCome],
  [{ firstSeen: '2026-11-25' }, 'firstSeen', FAULTS.firstSeenToCome],
  [{ features: { wings: true } }, 'features.wings', FAULTS.noFeature],
  [{ plate: '--' }, 'plate', FAULTS.noLetters],
])('%j is refused at %s', async (wrong, path, message) => {
  const response = await create({ ...(await fields()), ...wrong });
  expect(response.json()).toMatchObject({ status: 400, fields: [{ path, message }] });
});

test('an engine that is none of the library’s is refused at its field', async () => {
  expect((await create({ familyId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1' })).json()).toMatchObject({
    status: 400,
    fields: [{ path: 'familyId', message: FAULTS.noEngine }],
  });
});

test('what is told on the very day is no day to come', async () => {
  expect((await create({ firstRegistered: TODAY, firstSeen: TODAY })).statusCode).toBe(200);
});

test('a plate that is on file says so, and where', async () => {
  const first = (await create({ plate: 'KD 1', name: null })).json<Changed>();
  expect((await create({ plate: 'kd-1' })).json()).toMatchObject({
    status: 409,
    code: 'plate_taken',
    fields: [{ path: 'plate', message: FAULTS.plateTaken }],
    current: { id: first.id },
  });
});

describe('what is answered is kept, and said by what it was about', () => {
  test.each([
    ['variant', 'auto-tensioner', { variantKey: 'auto-tensioner' }, 'variant'],
    ['model', 'Ardholm', { model: 'Ardholm' }, 'model'],
    ['market', 'hot and dusty', { market: 'hot and dusty' }, 'market'],
    ['feature:side-cooler', 'no', { features: { 'side-cooler': false } }, 'feature'],
  ])('%s: %s', async (about, answer, kept, word) => {
    const { id } = (await create()).json<Changed>();
    const before = await vehicle(id);
    expect(await said(id, 'answers', { about, answer })).toBe(`${before.plate}: ${word} settled`);
    const { version: _, ...now } = await vehicle(id);
    const { version: __, ...was } = before;
    expect(now).toEqual({ ...was, ...kept });
  });
  test.each([
    ['variant', 'nope', 'answer', FAULTS.noVariantAnswer],
    ['feature:wings', 'yes', 'about', FAULTS.noFeatureAsked],
    ['fitted:nothing', 'A', 'about', FAULTS.noPart],
    ['history:nothing', 'never', 'about', FAULTS.noPart],
    ['colour', 'red', 'answer', FAULTS.noAnswer],
    ['feature:side-cooler', 'perhaps', 'answer', FAULTS.noAnswer],
  ])('%s: %s is refused at %s', async (about, answer, path, message) => {
    const { id } = (await create()).json<Changed>();
    expect((await post(id, 'answers', { about, answer })).json()).toMatchObject({ fields: [{ path, message }] });
  });
  test('of a part’s history as a record of it, also where the vehicle is only being saved', async () => {
    const [{ key, name }] = await t.services.source.query<[{ key: string; name: string }]>(
      `select c.key, c.name from weak_point w join component c on c.id = w.component_id where w.key = 'od420k-oil-cooler'`,
    );
    const about = `history:${key}`;
    const certainty = async (answer: string) => {
      const { id } = (await create()).json<Changed>();
      const summary = await said(id, 'answers', { about, answer });
      const entry = await latest(id, 'service');
      return [
        summary,
        entry?.kind === 'service' && [entry.certainty, entry.day, entry.source, entry.grade, entry.component],
      ];
    };
    expect(await certainty('never')).toEqual([
      `${name}: known not renewed`,
      ['not_done', TODAY, null, 'original', name],
    ]);
    expect(await certainty('unknown')).toEqual([
      `${name}: history unknown`,
      ['unknown', TODAY, null, 'original', name],
    ]);
    expect(await certainty('renewed lately cheap')).toEqual([
      `${name}: believed renewed`,
      ['believed', '2025-11-24', 'owner', 'cheap', name],
    ]);
    expect(await certainty('renewed 2024-02-03 original')).toEqual([
      `${name}: believed renewed`,
      ['believed', '2024-02-03', 'owner', 'original', name],
    ]);
    const saved = (await create({ history: [{ about, answer: 'never' }] })).json<Changed>();
    expect(await latest(saved.id, 'service')).toMatchObject({ certainty: 'not_done' });
    const plate = 'KN 1';
    expect((await create({ plate, history: [{ about: 'model', answer: 'Ardholm' }] })).json()).toMatchObject({
      fields: [{ path: 'history', message: FAULTS.noAnswer }],
    });
    expect((await tove.get('/api/vehicles?q=kn1')).json()).toMatchObject({ total: 0 });
  });
});

describe('records', () => {
  let id: string;
  let point: string;
  beforeAll(async () => {
    id = (await create({ variantKey: null, reading: { day: '2026-11-01', km: 120_000 } })).json<Changed>().id;
    point = await t.point('od420k-oil-cooler');
  });
  const service = (more: object) => ({
    weakPointId: point,
    certainty: 'done',
    day: '2024-06-01',
    km: 90_000,
    grade: 'cheap',
    partNumber: 'X 1',
    revision: 'B',
    source: 'invoice',
    cameOut: null,
    note: 'with the hoses',
    ...more,
  });

  test.each([
    ['done', 'renewed', { day: '2024-06-01', km: 90_000, cameOut: 'worn' }],
    ['believed', 'believed renewed', { day: '2024-06-01', km: 90_000, cameOut: null }],
    ['unknown', 'history unknown', { day: TODAY, cameOut: null }],
    ['not_done', 'known not renewed', { day: TODAY, cameOut: null }],
  ])('a part that is %s', async (certainty, words, kept) => {
    const of = (await create({ variantKey: null, reading: { day: '2026-11-01', km: 120_000 } })).json<Changed>().id;
    const summary = await said(of, 'services', service({ certainty, cameOut: 'worn' }));
    const entry = (await latest(of, 'service')) as Extract<HistoryEntry, { kind: 'service' }>;
    expect(summary).toBe(`${entry.component}: ${words}`);
    expect(entry).toMatchObject({
      certainty,
      grade: 'cheap',
      partNumber: 'X 1',
      revision: 'B',
      source: 'invoice',
      note: 'with the hoses',
      by: 'Tove',
      ...kept,
    });
    // What came out worn was found; what is only believed was seen by nobody.
    expect((await latest(of, 'finding')) !== undefined).toBe(certainty === 'done');
  });

  test('nothing told is nothing kept', async () => {
    const of = (await create({ variantKey: null })).json<Changed>().id;
    await post(
      of,
      'services',
      service({ partNumber: '', revision: '', note: '', source: null, cameOut: 'sound', km: null }),
    );
    expect(await latest(of, 'service')).toMatchObject({
      partNumber: null,
      revision: null,
      note: null,
      source: null,
      cameOut: 'sound',
    });
    expect(await latest(of, 'finding')).toBeUndefined();
  });

  test.each([
    ['sound', 'looked at, good'],
    ['worn', 'looked at, worn'],
    ['failed', 'failed'],
  ])('a look that found it %s', async (result, words) => {
    const of = (await create({ variantKey: null })).json<Changed>().id;
    const finding = { weakPointId: point, day: '2026-10-01', result, note: null, sinceDay: null };
    const summary = await said(of, 'findings', finding);
    const entry = (await latest(of, 'finding')) as Extract<HistoryEntry, { kind: 'finding' }>;
    expect(summary).toBe(`${entry.title}: ${words}`);
    expect(entry).toMatchObject({ day: '2026-10-01', result, note: null, sinceDay: null, by: 'Tove' });
  });

  test('since when is before it was found', async () => {
    const sent = { weakPointId: point, day: '2026-10-01', result: 'failed', note: null };
    for (const sinceDay of ['2026-10-01', '2026-10-02'])
      expect((await post(id, 'findings', { ...sent, sinceDay })).json()).toMatchObject({
        fields: [{ path: 'sinceDay', message: FAULTS.sinceBeforeFound }],
      });
    await post(id, 'findings', { ...sent, sinceDay: '2026-09-30' });
    expect(await latest(id, 'finding')).toMatchObject({ sinceDay: '2026-09-30' });
  });

  test('a cluster, an engine, a reading, a school: each by its words', async () => {
    expect(await said(id, 'readings', { day: '2026-11-20', km: 121_000 })).toBe('Reading added');
    expect(await said(id, 'meter-changes', { day: '2026-11-21', oldKm: 121_500, newKm: 10, note: 'dark' })).toBe(
      'Instrument cluster replaced',
    );
    expect(await latest(id, 'cluster')).toMatchObject({ km: 121_500, newKm: 10, note: 'dark' });
    expect(await said(id, 'engine-swaps', { day: '2026-11-22', engineKm: 40_000, note: '' })).toBe('Engine swapped');
    expect(await latest(id, 'engine')).toMatchObject({ day: '2026-11-22', note: null });
    const school = (weakPointId: string | null, of: string | null) =>
      said(id, 'school', { weakPointId, school: of, reason: of === null ? null : 'He wants it so' });
    const [{ title }] = await t.services.source.query<[{ title: string }]>(
      'select title from weak_point where id = $1',
      [point],
    );
    expect(await school(null, 'book')).toBe('Another school for the whole vehicle');
    expect(await school(point, 'cost')).toBe(`Another school for ${title}`);
    expect(await school(point, null)).toBe(`The workshop’s own school again for ${title}`);
    expect((await post(id, 'school', { weakPointId: point, school: null, reason: null })).json()).toMatchObject({
      fields: [{ path: 'school', message: FAULTS.schoolAlready }],
    });
    expect(await school(null, null)).toBe('The workshop’s own school again for the whole vehicle');
  });

  test('a task that was done, or never was until then', async () => {
    const [task] = await t.services.source.query<[{ id: string; title: string }]>(
      'select k.id, k.title from upkeep_task k where k.family_id = $1 order by k.position limit 1',
      [await t.family('OD420K')],
    );
    const upkeep = { taskId: task.id, km: null, note: 'by the owner' };
    expect(await said(id, 'upkeep', { ...upkeep, day: '2026-05-01' })).toBe(`${task.title}: done`);
    expect(await latest(id, 'upkeep')).toMatchObject({ certainty: 'done', day: '2026-05-01', note: 'by the owner' });
    expect(await said(id, 'upkeep', { ...upkeep, day: '2026-06-01', certainty: 'never', note: '' })).toBe(
      `${task.title}: never done until then`,
    );
    expect(await latest(id, 'upkeep')).toMatchObject({ certainty: 'never', day: '2026-06-01', note: null });
  });
});

describe('what visits are planned by', () => {
  test('lies ahead, and is said so', async () => {
    const { id } = (await create()).json<Changed>();
    const put = (more: object, version = 1) =>
      tove.send('PUT', `/api/vehicles/${id}/planning`, { version, planning: { ...USUAL_PLANNING, ...more } });
    for (const key of ['keepUntil', 'notBefore', 'inspection'] as const)
      for (const day of [TODAY, '2020-01-01'])
        expect((await put({ [key]: day })).json()).toMatchObject({
          fields: [{ path: `planning.${key}`, message: FAULTS.dayPast }],
        });
    expect((await put({ trip: { day: TODAY, km: 900 } })).json()).toMatchObject({
      fields: [{ path: 'planning.trip.day', message: FAULTS.dayPast }],
    });
    const { plate } = await vehicle(id);
    const kept = await put({ keepUntil: '2026-11-25' });
    expect(kept.json()).toMatchObject({ summary: `${plate}: what visits are planned by` });
    expect((await vehicle(id)).planning).toMatchObject({ keepUntil: '2026-11-25', notBefore: null });
    expect((await put({ keepUntil: '2027-11-25' })).statusCode).toBe(409);
  });
});
