import type { DEFAULT_SETTINGS } from '../app.ts';
import {
  answerRows,
  type Changed,
  type FleetProgress,
  type LimitPicture,
  type VehicleListRow,
  type VehicleOutlook,
} from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  const families = await Promise.all(['QV20T', 'QV16B', 'OD420K'].map((code) => t.family(code)));
  for (let i = 0; i < 12; i += 1) {
    await owner.send('POST', '/api/vehicles', {
      plate: `JU ${i}`,
      name: null,
      model: null,
      familyId: families[i % 3],
      variantKey: null,
      firstRegistered: `20${10 + i}-05-01`,
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-01', km: 40_000 + 15_000 * i },
    });
  }
  await t.services.judging.run('test');
});
afterAll(() => t.close());

const progress = async (): Promise<FleetProgress> => (await owner.get('/api/fleet')).json();
const list = async (query: string) =>
  (await owner.get(`/api/vehicles?pageSize=100&${query}`)).json<{ total: number; rows: VehicleListRow[] }>();
const stamps = (where = 'true') =>
  t.services.source.query<{ judged_at: Date }[]>(
    `select s.judged_at
      from vehicle_standing s
      join vehicle v on v.id = s.vehicle_id
      join engine_family f on f.id = v.family_id
      where ${where}
      order by s.vehicle_id`,
  );

test('nothing is behind when all are judged, and a round that finds nothing leaves no trace', async () => {
  const before = await progress();
  expect(before).toMatchObject({ vehicles: 12, stale: 0 });
  await t.services.judging.run('nothing');
  expect((await progress()).run).toEqual(before.run);
});

test('what is stored is what the page shows', async () => {
  const { rows } = await list('');
  for (const { id, pressing } of rows.slice(0, 4)) {
    const { answer } = (await owner.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>();
    const stored = await t.services.source.query<{ id: string; verdict: string; chance: number }[]>(
      'select weak_point_id as id, verdict, chance from judgement where vehicle_id = $1 order by weak_point_id',
      [id],
    );
    expect(stored).toEqual(
      answerRows(answer)
        .map(({ weakPointId, verdict, chance }) => ({ id: weakPointId, verdict, chance }))
        .sort((a, b) => a.id.localeCompare(b.id)),
    );
    expect(pressing!.title).toBe(answerRows(answer).find(({ verdict }) => verdict !== 'behind_it')!.title);
  }
});

test('a weak point that changes leaves only its own engine’s vehicles behind, and only they are judged again', async () => {
  const before = await stamps("f.code <> 'QV20T'");
  await t.services.source.query("update weak_point set share = 0.9 where key = 'qv20t-chain'");
  const { rows } = await list('q=qv20t');
  expect(rows.every(({ pressing }) => pressing!.stale)).toBe(true);
  expect((await list('q=qv16b')).rows.some(({ pressing }) => pressing!.stale)).toBe(false);
  expect((await progress()).stale).toBe(4);
  await t.services.judging.run('the library');
  expect(await progress()).toMatchObject({
    stale: 0,
    run: { reason: 'the library', state: 'done', total: 4, done: 4 },
  });
  expect(await stamps("f.code <> 'QV20T'")).toEqual(before);
});

test('new settings leave all behind; the answer of the save does not wait for them', async () => {
  const settings = (await owner.get('/api/settings')).json<typeof DEFAULT_SETTINGS & { version: number }>();
  const saved = await owner.send('PUT', '/api/settings', { ...settings, limits: { ...settings.limits, engine: 0.5 } });
  expect(saved.statusCode).toBe(200);
  await t.services.judging.idle();
  expect(await progress()).toMatchObject({ stale: 0, run: { reason: 'new settings', state: 'done' } });
});

test('a round that was cut off is gone on with: what was judged is not judged again', async () => {
  await t.services.source.query("update vehicle_standing set as_of = '2026-01-01'");
  await t.services.source.query(
    "insert into fleet_run (reason, state, total, done) values ('cut off', 'running', 12, 5)",
  );
  const first = (
    await t.services.source.query<{ id: string }[]>(
      'select vehicle_id as id from vehicle_standing order by vehicle_id limit 5',
    )
  ).map(({ id }) => id);
  await t.services.source.query("update vehicle_standing set as_of = '2026-11-24' where vehicle_id = any($1::uuid[])", [
    first,
  ]);
  const before = await t.services.source.query(
    'select judged_at from vehicle_standing where vehicle_id = any($1::uuid[]) order by vehicle_id',
    [first],
  );
  await t.services.judging.run('a new day');
  expect(await progress()).toMatchObject({ stale: 0, run: { reason: 'cut off', state: 'done', done: 12 } });
  expect(
    await t.services.source.query(
      'select judged_at from vehicle_standing where vehicle_id = any($1::uuid[]) order by vehicle_id',
      [first],
    ),
  ).toEqual(before);
});

test('a round that somebody stopped today is left stopped by the sweep, and gone on with when asked', async () => {
  await t.services.source.query("update vehicle_standing set as_of = '2026-01-01'");
  await t.services.source.query("insert into fleet_run (reason, state, total) values ('long', 'running', 12)");
  expect((await owner.send('POST', '/api/fleet/stop', {})).json()).toMatchObject({ run: { state: 'stopped' } });
  await t.services.judging.sweep();
  expect((await progress()).stale).toBe(12);
  await owner.send('POST', '/api/fleet/judge', {});
  await t.services.judging.idle();
  expect((await progress()).stale).toBe(0);
});

test('a mechanic may watch, not start or stop it', async () => {
  const mechanic = await t.signIn('tove');
  expect((await mechanic.get('/api/fleet')).statusCode).toBe(200);
  for (const what of ['judge', 'stop'])
    expect((await mechanic.send('POST', `/api/fleet/${what}`, {})).json()).toMatchObject({
      status: 403,
      code: 'not_allowed',
    });
});

test('lists sort and filter by what is judged', async () => {
  const chances = (await list('order=chance')).rows.map(({ id }) => id);
  const stored = (
    await t.services.source.query<{ id: string }[]>(
      'select vehicle_id as id from vehicle_standing order by most_chance desc, vehicle_id',
    )
  ).map(({ id }) => id);
  expect(chances).toEqual(stored);
  const over = await list('consequence=engine&least=0.03');
  const wanted = await t.services.source.query<{ n: number }[]>(
    `select count(distinct vehicle_id) as n
      from judgement
      where consequence = 'engine' and chance >= 0.03 and verdict <> 'behind_it'`,
  );
  expect(over.total).toBe(Number(wanted[0]!.n));
  expect((await list('verdict=renew')).rows.length).toBe((await list('verdict=renew')).total);
  expect((await owner.get('/api/vehicles?verdict=maybe')).json()).toMatchObject({ status: 400 });
});

test('the picture of a limit counts the vehicles it calls in, fewer the looser it is', async () => {
  const { vehicles, classes } = (await owner.get('/api/settings/limit-picture')).json<LimitPicture>();
  expect(vehicles).toBe(12);
  for (const { atLimit } of classes)
    atLimit.slice(1).forEach((entry, i) => expect(entry.vehicles).toBeLessThanOrEqual(atLimit[i]!.vehicles));
  const engine = classes
    .find(({ consequence }) => consequence === 'engine')!
    .atLimit.find(({ limit }) => limit === 0.03)!;
  expect(engine.vehicles).toBe((await list('consequence=engine&least=0.03')).total);
});

test('a vehicle taken back loses its judgement', async () => {
  const made = (
    await owner.send('POST', '/api/vehicles', {
      plate: 'JU 99',
      name: null,
      model: null,
      familyId: await t.family('QV16B'),
      variantKey: null,
      firstRegistered: '2014-01-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-01', km: 90_000 },
    })
  ).json<Changed>();
  const count = async () =>
    Number(
      (
        await t.services.source.query<{ n: number }[]>('select count(*) as n from judgement where vehicle_id = $1', [
          made.id,
        ])
      )[0]!.n,
    );
  expect(await count()).toBeGreaterThan(3);
  await owner.send('POST', `/api/changes/${made.changeId}/undo`, {});
  expect(await count()).toBe(0);
});
