import type { Changed } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
let id: string;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
  id = (
    await client.send('POST', '/api/vehicles', {
      plate: 'CH 1',
      name: null,
      model: null,
      familyId: await t.family('QV20T'),
      variantKey: 'long-ratchet',
      firstRegistered: '2016-01-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-01', km: 90_000 },
    })
  ).json<Changed>().id;
});
afterAll(() => t.close());

const reading = (day: string, km: number) => client.send('POST', `/api/vehicles/${id}/readings`, { day, km });
const undo = (change: Changed) => client.send('POST', `/api/changes/${change.changeId}/undo`, {});
const trail = async (query = '') =>
  (await client.get(`/api/vehicles/${id}/changes${query}`)).json<{
    total: number;
    rows: {
      id: string;
      summary: string;
      undone: boolean;
      undoable: boolean;
      items: { entity: string; before: object | null; after: object | null }[];
    }[];
  }>();

test('an undo is a change of its own, and is not undone again', async () => {
  const added = (await reading('2026-10-01', 88_000)).json<Changed>();
  const undone = (await undo(added)).json<Changed>();
  const { rows } = await trail();
  expect(rows[0]).toMatchObject({ summary: 'Undone: Reading added', undoable: false });
  expect(rows.find((row) => row.id === added.changeId)).toMatchObject({ undone: true, undoable: false });
  expect((await undo(undone)).json()).toMatchObject({ status: 409, code: 'already_undone' });
});

test('what was taken back stays in the database, marked', async () => {
  const [row] = await t.services.source.query<{ kept: number; standing: number }[]>(
    `select count(*) as kept, count(*) filter (where retracted_at is null) as standing
      from meter_reading
      where vehicle_id = $1`,
    [id],
  );
  expect(Number(row!.kept)).toBeGreaterThan(Number(row!.standing));
});

test('two undos at once: one wins', async () => {
  const added = (await reading('2026-09-01', 87_000)).json<Changed>();
  const answers = await Promise.all([undo(added), undo(added)]);
  expect(answers.map(({ statusCode }) => statusCode).sort()).toEqual([200, 409]);
});

test('a failure half-way writes neither rows nor a change', async () => {
  const before = (await trail()).total;
  const services = async () =>
    (await t.services.source.query<{ n: number }[]>('select count(*) as n from visit'))[0]!.n;
  const visits = await services();
  const good = { weakPointId: await t.point('qv20t-pump'), action: 'renew' };
  const foreign = { weakPointId: await t.point('k425n-belt'), action: 'renew' };
  const response = await client.send('POST', `/api/vehicles/${id}/visits`, {
    day: '2027-01-01',
    km: null,
    note: null,
    jobs: [good, foreign],
  });
  expect(response.json()).toMatchObject({ status: 400, fields: [{ path: 'weakPointId' }] });
  expect([(await trail()).total, await services()]).toEqual([before, visits]);
});

test('the trail is paged, latest first', async () => {
  const all = await trail('?pageSize=100');
  expect(all.rows.at(-1)).toMatchObject({
    summary: 'CH 1 saved',
    items: [
      { entity: 'vehicle', before: null },
      { entity: 'meter_reading', before: null },
    ],
  });
  const second = await trail('?pageSize=1&page=2');
  expect(second.rows[0]!.id).toBe(all.rows[1]!.id);
  expect(second.total).toBe(all.total);
});

test('undoing that a vehicle was saved takes it from list and lookup, and its own changes are told apart', async () => {
  const made = (
    await client.send('POST', '/api/vehicles', {
      plate: 'CH 2',
      name: null,
      model: null,
      familyId: await t.family('QV20T'),
      variantKey: null,
      firstRegistered: null,
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: null,
    })
  ).json<Changed>();
  expect((await client.get('/api/vehicles?q=ch2')).json()).toMatchObject({ total: 1 });
  await undo(made);
  expect((await client.get('/api/vehicles?q=ch2')).json()).toMatchObject({ total: 0, rows: [] });
  expect((await client.get(`/api/vehicles/${made.id}/outlook`)).statusCode).toBe(404);
  expect((await client.get('/api/lookup?line=ch2')).json<{ vehicles: unknown[] }>().vehicles).toEqual([]);
  expect(
    (await client.send('POST', `/api/vehicles/${made.id}/readings`, { day: '2026-01-01', km: 5 })).statusCode,
  ).toBe(404);
});
