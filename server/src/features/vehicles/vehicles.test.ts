import { answerRows, type Changed, type VehicleOutlook } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
});
afterAll(() => t.close());

let plates = 0;
async function newVehicle(changes: object = {}): Promise<string> {
  plates += 1;
  const response = await client.send('POST', '/api/vehicles', {
    plate: `TT ${plates}`,
    name: null,
    model: 'Tillet',
    familyId: await t.family('QV16B'),
    variantKey: 'steel-pump',
    firstRegistered: '2014-03-01',
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: { day: '2026-11-20', km: 132_000 },
    ...changes,
  });
  expect(response.json()).toHaveProperty('id');
  return response.json<Changed>().id;
}
const outlook = async (id: string): Promise<VehicleOutlook> => (await client.get(`/api/vehicles/${id}/outlook`)).json();
const belt = async (id: string) => answerRows((await outlook(id)).answer).find(({ key }) => key === 'qv16-belt')!;
const undo = (done: Changed) => client.send('POST', `/api/changes/${done.changeId}/undo`, {});

test('a record moves the strip at once, and undo brings back exactly what was', async () => {
  const id = await newVehicle();
  const before = await outlook(id);
  const added = await client.send('POST', `/api/vehicles/${id}/services`, {
    weakPointId: await t.point('qv16-belt'),
    certainty: 'done',
    day: null,
    km: 131_000,
    grade: 'original',
    partNumber: 'VL-4101-02',
    revision: null,
    note: null,
  });
  const after = await belt(id);
  const was = answerRows(before.answer).find(({ key }) => key === 'qv16-belt')!;
  expect(after.chance).toBeLessThan(was.chance / 20);
  expect(after.installs[0]!.certainty).toBe('done');
  expect((await undo(added.json())).statusCode).toBe(200);
  expect((await outlook(id)).answer).toEqual(before.answer);
  expect((await undo(added.json())).json()).toMatchObject({ status: 409, code: 'already_undone' });
});

test('unknown and believed are states of their own', async () => {
  const id = await newVehicle();
  const weakPointId = await t.point('qv16-belt');
  const record = (body: object) =>
    client.send('POST', `/api/vehicles/${id}/services`, {
      weakPointId,
      day: null,
      km: null,
      grade: 'original',
      partNumber: null,
      revision: null,
      note: null,
      ...body,
    });
  await record({ certainty: 'unknown' });
  expect((await belt(id)).installs[0]!.certainty).toBe('unknown');
  expect((await record({ certainty: 'believed' })).json()).toMatchObject({ status: 400, fields: [{ path: 'day' }] });
  await record({ certainty: 'believed', day: '2022-05-01' });
  const believed = await belt(id);
  expect(believed.installs[0]).toMatchObject({ certainty: 'believed' });
  expect(believed.installs[0]!.weight).toBeGreaterThan(0.5);
});

test('a reading that runs backwards is kept, shown and left out', async () => {
  const id = await newVehicle();
  await client.send('POST', `/api/vehicles/${id}/readings`, { day: '2023-01-10', km: 90_000 });
  await client.send('POST', `/api/vehicles/${id}/readings`, { day: '2024-06-01', km: 40_000, sure: true });
  const { answer } = await outlook(id);
  expect(answer.usage.rejected.map(({ km }) => km)).toEqual([40_000]);
  const history = (await client.get(`/api/vehicles/${id}/history`)).json<{
    rows: { kind: string; km: number; fits?: boolean }[];
  }>();
  expect(history.rows.filter(({ kind }) => kind === 'reading').map(({ km, fits }) => [km, fits])).toEqual([
    [132_000, true],
    [40_000, false],
    [90_000, true],
  ]);
});

test('two people correcting the same vehicle: the later one is told and nothing is overwritten', async () => {
  const id = await newVehicle();
  const vehicle = (await client.get(`/api/vehicles/${id}`)).json<Record<string, unknown>>();
  const other = await t.signIn('ruta');
  expect((await other.send('PUT', `/api/vehicles/${id}`, { ...vehicle, note: 'first' })).statusCode).toBe(200);
  const late = await client.send('PUT', `/api/vehicles/${id}`, { ...vehicle, note: 'second' });
  expect(late.json()).toMatchObject({ status: 409, code: 'changed_meanwhile', current: { note: 'first', version: 2 } });
  expect((await client.get(`/api/vehicles/${id}`)).json()).toMatchObject({ note: 'first' });
});

test('an older change cannot be undone over a newer one', async () => {
  const id = await newVehicle();
  const vehicle = (await client.get(`/api/vehicles/${id}`)).json<Record<string, unknown>>();
  const first = (await client.send('PUT', `/api/vehicles/${id}`, { ...vehicle, note: 'a' })).json<Changed>();
  await client.send('PUT', `/api/vehicles/${id}`, { ...vehicle, note: 'b', version: 2 });
  expect((await undo(first)).json()).toMatchObject({ status: 409, code: 'changed_since' });
});

test('nor where the newer one built on a part of it', async () => {
  const id = await newVehicle();
  const vehicle = (await client.get(`/api/vehicles/${id}`)).json<Record<string, unknown>>();
  const both = { ...vehicle, note: 'a', contact: 'the keeper' };
  const first = (await client.send('PUT', `/api/vehicles/${id}`, both)).json<Changed>();
  await client.send('PUT', `/api/vehicles/${id}`, { ...both, note: 'b', version: 2 });
  expect((await undo(first)).json()).toMatchObject({ status: 409, code: 'changed_since' });
  expect((await client.get(`/api/vehicles/${id}`)).json()).toMatchObject({ note: 'b', contact: 'the keeper' });
});

test('every change stands in the trail: who, what, before and after', async () => {
  const id = await newVehicle();
  const vehicle = (await client.get(`/api/vehicles/${id}`)).json<Record<string, unknown>>();
  await client.send('PUT', `/api/vehicles/${id}`, { ...vehicle, model: 'Tillet Estate' });
  const { rows } = (await client.get(`/api/vehicles/${id}/changes`)).json<{
    rows: { by: string; summary: string; items: { before: { model: string }; after: { model: string } }[] }[];
  }>();
  expect(rows[0]).toMatchObject({
    by: 'Tove',
    items: [{ before: { model: 'Tillet' }, after: { model: 'Tillet Estate' } }],
  });
  expect(rows).toHaveLength(2);
});

test('a plate is on file once, whatever its spaces; undoing the keeping frees it', async () => {
  const kept = await client.send('POST', '/api/vehicles', {
    plate: 'PM 001 AA',
    name: null,
    model: null,
    familyId: await t.family('QV16B'),
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'mi',
    severity: 1,
    note: null,
    reading: null,
  });
  const again = {
    plate: 'pm001aa',
    name: null,
    model: null,
    familyId: await t.family('QV16B'),
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: null,
  };
  expect((await client.send('POST', '/api/vehicles', again)).json()).toMatchObject({
    status: 409,
    code: 'plate_taken',
    current: { id: kept.json<Changed>().id },
  });
  await undo(kept.json());
  expect((await client.send('POST', '/api/vehicles', again)).statusCode).toBe(200);
});

test.each([
  ['nameless', { plate: null, name: null }, 'plate'],
  ['registered tomorrow', { firstRegistered: '2026-11-25' }, 'firstRegistered'],
  ['no such date', { firstRegistered: '2026-02-31' }, 'firstRegistered'],
  ['seen first tomorrow', { firstSeen: '2026-11-25' }, 'firstSeen'],
  ['a plate of strokes', { plate: '- -' }, 'plate'],
  ['a feature that nobody knows', { features: { nope: true } }, 'features.nope'],
  ['unknown variant', { variantKey: 'nope' }, 'variantKey'],
  ['absurd use', { severity: 40 }, 'severity'],
  ['a reading to come', { reading: { day: '2027-01-01', km: 1 } }, 'day'],
  ['a negative reading', { reading: { day: '2026-01-01', km: -1 } }, 'reading.km'],
  ['no text but a null byte', { note: 'a\u0000b' }, 'note'],
  ['half a character', { note: 'a\ud800b' }, 'note'],
  ['half a character in the name of a feature', { features: { 'a\udc00': true } }, 'features.a\udc00'],
])('%s is refused, named, and nothing is written', async (_what, changes, path) => {
  const count = async () => (await t.services.source.query<{ n: string }[]>('select count(*) as n from vehicle'))[0]!.n;
  const before = await count();
  const response = await client.send('POST', '/api/vehicles', {
    plate: 'ZZ 9',
    name: null,
    model: null,
    familyId: await t.family('QV16B'),
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: null,
    ...changes,
  });
  expect(response.statusCode).toBe(400);
  expect(response.json<{ fields?: { path: string }[] }>().fields?.[0]?.path).toBe(path);
  expect(await count()).toBe(before);
});

test('a weak point of another engine is no record of this vehicle', async () => {
  const id = await newVehicle();
  const response = await client.send('POST', `/api/vehicles/${id}/findings`, {
    weakPointId: await t.point('k425n-belt'),
    day: '2026-11-01',
    result: 'sound',
    note: null,
  });
  expect(response.json()).toMatchObject({ status: 400, fields: [{ path: 'weakPointId' }] });
});

test('the list is ordered by what is most pressing, searched and paged in the database', async () => {
  const worst = await newVehicle({ plate: 'WW 1', reading: { day: '2026-11-20', km: 215_000 } });
  await client.send('POST', `/api/vehicles/${worst}/services`, {
    weakPointId: await t.point('qv16-belt'),
    certainty: 'not_done',
    day: null,
    km: null,
    grade: 'original',
    partNumber: null,
    revision: null,
    note: null,
  });
  const page = async (query: string) =>
    (await client.get(`/api/vehicles?${query}`)).json<{
      total: number;
      rows: { id: string; plate: string; pressing: { chance: number; verdict: string } }[];
    }>();
  const all = await page('pageSize=100');
  expect(all.rows[0]).toMatchObject({ id: worst, pressing: { verdict: 'renew' } });
  expect((await page('pageSize=1&page=2')).rows[0]!.id).toBe(all.rows[1]!.id);
  expect((await page('q=ww+tillet')).rows.map(({ id }) => id)).toEqual([worst]);
  expect((await page('q=%25_%5C')).total).toBe(0);
});

test('standings of an earlier day are brought up to date by the sweep, a batch at a time', async () => {
  await t.services.source.query("update vehicle_standing set as_of = '2026-01-01', chance = 0");
  await t.services.judging.sweep();
  const [row] = await t.services.source.query<{ stale: string; zero: string }[]>(
    `select count(*) filter (where as_of <> '2026-11-24') as stale, count(*) filter (where chance = 0) as zero
      from vehicle_standing`,
  );
  expect(row).toEqual({ stale: 0, zero: 0 });
});

describe('a list', () => {
  const page = async (query: string) =>
    (await client.get(`/api/vehicles?pageSize=100&${query}`)).json<{
      total: number;
      rows: { id: string; plate: string | null; name: string | null; nextVisit: string | null }[];
    }>();
  beforeAll(async () => {
    for (const [plate, km] of [
      ['LI 3', 40_000],
      ['li 1', 300_000],
      ['LI-2', 150_000],
    ] as const)
      await newVehicle({ plate, reading: { day: '2026-11-20', km } });
    await newVehicle({ plate: null, name: 'LI 4 yard car' });
    await newVehicle({ plate: 'LI 5', familyId: await t.family('QV20T'), variantKey: null });
  });
  test('by plate, or by the name of what has none, however it is written; whole or of what is searched', async () => {
    const called = ({ plate, name }: { plate: string | null; name: string | null }) => plate ?? name;
    expect((await page('q=li&order=plate')).rows.map(called)).toEqual([
      'li 1',
      'LI-2',
      'LI 3',
      'LI 4 yard car',
      'LI 5',
    ]);
    const all = (await page('order=plate')).rows
      .map(called)
      .map((name) => name!.toLowerCase().replace(/[^a-z0-9]/g, ''));
    expect(all).toEqual([...all].sort());
    expect(all.length).toBeGreaterThan(5);
  });
  test('of those with a weak point of a verdict, of a consequence, of a chance: one that is all of these', async () => {
    const wanted = async (where: string): Promise<string[]> =>
      (
        await t.services.source.query<{ id: string }[]>(
          `select v.id from vehicle v where v.retracted_at is null
            and exists (select 1 from judgement j where j.vehicle_id = v.id and ${where}) order by v.id`,
        )
      ).map(({ id }) => id);
    const found = async (query: string): Promise<string[]> => (await page(query)).rows.map(({ id }) => id).sort();
    const cases = [
      ['verdict=renew', "j.verdict = 'renew'"],
      ['consequence=leak', "j.consequence = 'leak' and j.verdict <> 'behind_it'"],
      ['least=0.2', "j.chance >= 0.2 and j.verdict <> 'behind_it'"],
      ['verdict=look&consequence=engine', "j.verdict = 'look' and j.consequence = 'engine'"],
      ['consequence=engine&least=0.1', "j.consequence = 'engine' and j.chance >= 0.1 and j.verdict <> 'behind_it'"],
    ] as const;
    const all = (await page('')).total;
    for (const [query, where] of cases) {
      const ids = await wanted(where);
      expect([query, ids.length > 0 && ids.length < all]).toEqual([query, true]);
      for (const order of ['pressing', 'chance', 'plate'])
        expect([query, order, await found(`${query}&order=${order}`)]).toEqual([query, order, ids]);
      expect((await page(query)).total).toBe(ids.length);
    }
  });
  test('says when it comes in next', async () => {
    const id = await newVehicle({ plate: 'LI 9', reading: { day: '2026-11-20', km: 90_000 } });
    const next = async () => (await page('q=li9')).rows[0]!.nextVisit;
    expect(await next()).toBeNull();
    for (const day of ['2027-02-01', '2027-01-01'])
      await client.send('POST', `/api/vehicles/${id}/visits`, {
        day,
        km: null,
        note: null,
        jobs: [{ weakPointId: await t.point('qv16-belt'), action: 'renew' }],
      });
    expect(await next()).toBe('2027-01-01');
  });
});

describe('a reading that makes no sense is asked about once, wherever it is typed', () => {
  const field = (response: { json: <T>() => T }): string =>
    response.json<{ code: string; fields: { path: string; message: string }[] }>().fields[0]!.message;
  const readings = async (id: string): Promise<number> =>
    Number(
      (
        await t.services.source.query<{ n: string }[]>(
          'select count(*) as n from meter_reading where vehicle_id = $1 and retracted_at is null',
          [id],
        )
      )[0]!.n,
    );

  test.each([
    [{ day: '2026-11-24', km: 1_480_000 }, /far more than the expected 14\d,\d{3} km/],
    [{ day: '2026-11-24', km: 14_800 }, /far less than the expected/],
    [{ day: '2026-11-24', km: 120_000 }, /below an earlier reading of 148,000 km/],
    [{ day: '2013-01-01', km: 10 }, /before the first registration/],
  ])('reading %j', async (reading, words) => {
    const id = await t.saveVehicle(client);
    await t.services.source.query("update meter_reading set day = '2026-11-20' where vehicle_id = $1", [id]);
    const before = await readings(id);
    const asked = await client.send('POST', `/api/vehicles/${id}/readings`, reading);
    expect([asked.statusCode, asked.json<{ code: string }>().code]).toEqual([422, 'doubtful']);
    expect(field(asked)).toMatch(words);
    expect(await readings(id)).toBe(before);
    expect((await client.send('POST', `/api/vehicles/${id}/readings`, { ...reading, sure: true })).statusCode).toBe(
      200,
    );
    expect(await readings(id)).toBe(before + 1);
  });
  test('what the old cluster showed, and what a visit was done at', async () => {
    const id = await t.saveVehicle(client);
    const cluster = { day: '2026-11-24', oldKm: 1_480_000, newKm: 0, note: null };
    expect(field(await client.send('POST', `/api/vehicles/${id}/meter-changes`, cluster))).toMatch(/far more/);
    const point = await t.point('vellmar-qv20t-tensioner').catch(() => null);
    const rows = (await client.get(`/api/vehicles/${id}/outlook`)).json<{
      answer: { judgements: { weakPointId: string }[] };
    }>().answer.judgements;
    const planned = await client.send('POST', `/api/vehicles/${id}/visits`, {
      day: '2026-11-24',
      km: null,
      note: null,
      jobs: [
        {
          weakPointId: point ?? rows[0]!.weakPointId,
          action: 'renew',
          grade: 'original',
          partNumber: null,
          revision: null,
        },
      ],
      tasks: [],
    });
    const done = { version: 1, day: '2026-11-24', km: 15_000 };
    const visit = planned.json<{ id: string }>().id;
    expect(field(await client.send('POST', `/api/visits/${visit}/done`, done))).toMatch(/far less/);
    expect((await client.send('POST', `/api/visits/${visit}/done`, { ...done, sure: true })).statusCode).toBe(200);
  });
});
