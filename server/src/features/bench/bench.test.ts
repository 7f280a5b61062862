import { answerRows, type BenchDetail, type BenchRow, type Changed, type VehicleOutlook } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
let thermostat: string;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
  thermostat = await t.point('qv20t-thermostat');
});
afterAll(() => t.close());

let plates = 0;
/** A car that has come to us since it was nearly new, so that its parts are watched. */
async function watched(changes: object = {}): Promise<string> {
  plates += 1;
  const id = (
    await client.send('POST', '/api/vehicles', {
      plate: `BE ${plates}`,
      name: null,
      model: 'Corrow',
      familyId: await t.family('QV20T'),
      variantKey: 'long-ratchet',
      firstRegistered: '2016-06-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2017-06-01', km: 12_000 },
      ...changes,
    })
  ).json<Changed>().id;
  await client.send('POST', `/api/vehicles/${id}/readings`, { day: '2026-10-01', km: 118_000 });
  return id;
}
const failed = (id: string, day: string, more: object = {}) =>
  client.send('POST', `/api/vehicles/${id}/findings`, {
    weakPointId: thermostat,
    day,
    result: 'failed',
    note: null,
    ...more,
  });
const row = async (): Promise<BenchRow | undefined> =>
  (await client.get('/api/bench?q=thermostat+qv20t')).json<{ rows: BenchRow[] }>().rows[0];
const chance = async (id: string): Promise<number> =>
  answerRows((await client.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>().answer).find(
    ({ key }) => key === 'qv20t-thermostat',
  )!.chance;

test('every part of a watched vehicle is counted once, and a failure moves another vehicle’s chance', async () => {
  const [one, other] = [await watched(), await watched()];
  await t.services.judging.run('test');
  expect(await row()).toMatchObject({ parts: 2, vehicles: 2, failures: 0, enough: 'few_failures', stale: false });
  const before = await chance(other);
  await failed(one, '2026-09-01');
  expect(await row()).toMatchObject({ parts: 2, failures: 1, stillFine: 1 });
  expect(await chance(other)).toBeGreaterThan(before);
});

test('taking the failure back takes back what it moved', async () => {
  const [one, other] = [await watched(), await watched()];
  await t.services.judging.run('test');
  const [was, before] = [await row(), await chance(other)];
  const done = (await failed(one, '2020-05-01')).json<Changed>();
  expect((await row())!.failures).toBe(was!.failures + 1);
  await client.send('POST', `/api/changes/${done.changeId}/undo`, {});
  expect((await row())!.failures).toBe(was!.failures);
  expect(await chance(other)).toBeCloseTo(before, 6);
});

test('what came in because it broke is listed and not counted', async () => {
  const before = await row();
  await failed(await watched(), '2022-02-02', { broughtIn: true });
  const after = await row();
  expect(after).toMatchObject({ failures: before!.failures, broughtIn: before!.broughtIn + 1 });
  const parts = (await client.get(`/api/bench/${thermostat}/parts`)).json<{
    total: number;
    rows: { broughtIn: boolean; counted: boolean }[];
  }>();
  expect(parts.rows.filter(({ broughtIn }) => broughtIn).every(({ counted }) => !counted)).toBe(true);
  expect(parts.total).toBe(after!.parts + after!.broughtIn);
});

test('a renewal with its condition ends one part and begins the next', async () => {
  const id = await watched();
  const service = (cameOut: string | null) =>
    client.send('POST', `/api/vehicles/${id}/services`, {
      weakPointId: thermostat,
      certainty: 'done',
      day: '2023-03-03',
      km: null,
      grade: 'original',
      partNumber: null,
      revision: null,
      source: 'own',
      cameOut,
      note: null,
    });
  const parts = async () =>
    (
      await t.services.source.query<{ kind: string }[]>(
        'select kind from observation where vehicle_id = $1 and weak_point_id = $2 order by ordinal',
        [id, thermostat],
      )
    ).map(({ kind }) => kind);
  const done = (await service('sound')).json<Changed>();
  expect(await parts()).toEqual(['right', 'right']);
  await client.send('POST', `/api/changes/${done.changeId}/undo`, {});
  await service('failed');
  expect(await parts()).toEqual(['exact', 'right']);
});

test('one weak point on the bench: curves that rise, failures alone beside the reckoned life, the parts paged', async () => {
  const detail = (await client.get(`/api/bench/${thermostat}`)).json<BenchDetail>();
  for (const key of ['published', 'own', 'low', 'high'] as const)
    detail.curve
      .slice(1)
      .forEach((point, i) => expect(point[key]).toBeGreaterThanOrEqual(detail.curve[i]![key] - 1e-12));
  expect(detail.curve.every(({ low, own, high }) => low <= own && own <= high)).toBe(true);
  expect(detail.failuresAlone).toBeGreaterThan(0);
  expect(detail.failuresAlone!).toBeLessThan(detail.row.ownLife.middle);
  expect(
    (await client.get(`/api/bench/${thermostat}/parts?pageSize=2&page=2`)).json<{ rows: unknown[] }>().rows,
  ).toHaveLength(2);
  expect((await client.get('/api/bench/9d34e913-67e5-4747-900f-a9e93dd2b8b1')).json()).toMatchObject({
    status: 404,
    code: 'not_found',
  });
});

test('survivors that ran on are reckoned in with the next round, and say until then that they are not', async () => {
  const id = await watched();
  await t.services.judging.run('test');
  await client.send('POST', `/api/vehicles/${id}/readings`, { day: '2026-11-20', km: 121_000 });
  expect((await row())!.stale).toBe(true);
  await t.services.judging.run('test');
  expect((await row())!.stale).toBe(false);
});

test('a vehicle taken back takes its parts with it', async () => {
  const before = (await row())!.vehicles;
  const made = (
    await client.send('POST', '/api/vehicles', {
      plate: 'BE 999',
      name: null,
      model: 'Corrow',
      familyId: await t.family('QV20T'),
      variantKey: 'long-ratchet',
      firstRegistered: '2018-06-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2019-06-01', km: 12_000 },
    })
  ).json<Changed>();
  await client.send('POST', `/api/vehicles/${made.id}/readings`, { day: '2026-10-01', km: 88_000 });
  await t.services.judging.run('test');
  expect((await row())!.vehicles).toBe(before + 1);
  await client.send('POST', `/api/changes/${made.changeId}/undo`, {});
  expect(await t.services.source.query('select 1 from observation where vehicle_id = $1', [made.id])).toEqual([]);
  await t.services.judging.run('test');
  expect((await row())!.vehicles).toBe(before);
});

test('reading all vehicles anew comes to the same figures', async () => {
  const before = (await client.get('/api/bench?pageSize=100&order=parts')).json<{ rows: BenchRow[] }>().rows;
  await t.services.source.query(
    'insert into observation_due select id from vehicle where retracted_at is null on conflict do nothing',
  );
  await t.services.experience.catchUp();
  expect((await client.get('/api/bench?pageSize=100&order=parts')).json<{ rows: BenchRow[] }>().rows).toEqual(before);
});

test('a figure that is due and taken up by a round never blocks a finding that reckons it', async () => {
  const { source } = t.services;
  const car = await watched();
  await t.services.judging.run('test');
  await source.query('insert into experience_due values ($1) on conflict do nothing', [thermostat]);
  // A round has taken the figure up, and is about to hold it.
  const round = source.createQueryRunner();
  await round.startTransaction();
  try {
    await round.query('select 1 from experience_due where weak_point_id = $1 for update', [thermostat]);
    const finding = failed(car, '2026-09-20');
    for (let waiting = 0; waiting === 0;) {
      const settled = await Promise.race([
        finding.then(() => true),
        new Promise<boolean>((resolve) => {
          setTimeout(() => resolve(false), 20);
        }),
      ]);
      expect(settled).toBe(false);
      [{ waiting }] = await source.query<[{ waiting: number }]>(
        `select count(*)::int as waiting
          from pg_stat_activity
          where datname = current_database() and wait_event_type = 'Lock'`,
      );
    }
    // The finding waits for what is due and holds no figure yet: the round gets it at once.
    await round.query('select pg_advisory_xact_lock(hashtextextended($1, 7))', [thermostat]);
    await round.commitTransaction();
    expect((await finding).statusCode).toBe(200);
  } finally {
    if (round.isTransactionActive) await round.rollbackTransaction();
    await round.release();
  }
});
