import {
  answerRows,
  USUAL_PLANNING,
  type Changed,
  type PurchaseView,
  type Vehicle,
  type VehicleOutlook,
  type Visit,
  type WeekLoads,
} from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let tove: Client;
beforeAll(async () => {
  t = await testApp();
  tove = await t.signIn('tove');
});
afterAll(() => t.close());

const outlook = async (id: string): Promise<VehicleOutlook> => (await tove.get(`/api/vehicles/${id}/outlook`)).json();
const job = async (key: string, action: 'renew' | 'look' = 'renew') => ({ weakPointId: await t.point(key), action });
const planned = async (id: string): Promise<Visit[]> =>
  (await outlook(id)).visits.filter(({ state }) => state === 'planned').sort((a, b) => a.day.localeCompare(b.day));

describe('a plan that is accepted', () => {
  test('makes its visits and adds to one that stands, as one change that one undo takes back', async () => {
    const id = await t.saveVehicle(tove);
    await tove.send('POST', `/api/vehicles/${id}/visits`, {
      day: '2026-12-10',
      km: null,
      note: null,
      jobs: [await job('qv20t-pump')],
    });
    const [standing] = await planned(id);
    const done = await tove.send('POST', `/api/vehicles/${id}/plan`, {
      visits: [{ day: '2027-06-01', km: null, note: null, jobs: [await job('qv20t-coil')] }],
      joins: [
        {
          id: standing!.id,
          version: standing!.version,
          // The pump stands on it already: it is not put on it twice.
          jobs: [await job('qv20t-thermostat'), await job('qv20t-pump')],
        },
      ],
    });
    expect(done.json()).toMatchObject({ summary: '1 visit planned, 1 visit added to' });
    const [first, second] = await planned(id);
    expect(first!.jobs.map(({ title }) => title)).toEqual([
      expect.stringMatching(/Water pump/),
      expect.stringMatching(/Thermostat/),
    ]);
    // Coolant comes out once for both.
    expect(first!.minutes).toBe(first!.jobs.reduce((sum, { minutes }) => sum + minutes, 0) - 35);
    expect(second).toMatchObject({ day: '2027-06-01' });
    await tove.send('POST', `/api/changes/${done.json<Changed>().changeId}/undo`, {});
    const back = await planned(id);
    expect(back).toHaveLength(1);
    expect(back[0]!.jobs).toHaveLength(1);
  });

  test('says how much it came to, and puts what joins after what stands, jobs and tasks alike', async () => {
    const id = await t.saveVehicle(tove);
    const tasks = (
      await t.services.source.query<{ id: string }[]>(
        `select k.id from upkeep_task k join engine_family f on f.id = k.family_id
          where f.code = 'QV20T' and k.state = 'current' order by k.position limit 3`,
      )
    ).map((row) => row.id) as [string, string, string];
    const plan = async (visits: object[], joins: object[]): Promise<string> =>
      (await tove.send('POST', `/api/vehicles/${id}/plan`, { visits, joins })).json<Changed>().summary;
    const visit = async (day: string, more: object = {}) => ({
      day,
      km: null,
      note: null,
      jobs: [await job('qv20t-pump')],
      ...more,
    });
    expect(await plan([await visit('2026-12-10', { tasks: [tasks[0]] }), await visit('2027-03-10')], [])).toBe(
      '2 visits planned',
    );
    const [first, second] = await planned(id);
    const joins = await Promise.all(
      [first!, second!].map(async (on) => ({
        id: on.id,
        version: on.version,
        jobs: [await job('qv20t-coil'), await job('qv20t-thermostat', 'look')],
        tasks: [tasks[0], tasks[2], tasks[1]],
      })),
    );
    expect(await plan([await visit('2027-06-10')], joins)).toBe('1 visit planned, 2 visits added to');
    const placed = (table: string, what: string) =>
      t.services.source.query<{ at: number; of: string }[]>(
        `select j.position as at, j.${what} as of from ${table} j
          where j.visit_id = $1 and j.retracted_at is null order by j.position`,
        [first!.id],
      );
    const points = await Promise.all(['qv20t-pump', 'qv20t-coil', 'qv20t-thermostat'].map((key) => t.point(key)));
    expect(await placed('visit_job', 'weak_point_id')).toEqual(points.map((of, at) => ({ at, of })));
    expect(await placed('visit_task', 'task_id')).toEqual([tasks[0], tasks[2], tasks[1]].map((of, at) => ({ at, of })));
    const [now] = await planned(id);
    expect(now!.version).toBe(first!.version + 1);
    expect(await plan([], [{ ...joins[0]!, version: now!.version }])).toBe('1 visit added to');
  });

  test('is refused whole where the visit it adds to was changed meanwhile, is none of this vehicle, or lies in the past', async () => {
    const id = await t.saveVehicle(tove);
    const other = await t.saveVehicle(tove);
    for (const on of [id, other])
      await tove.send('POST', `/api/vehicles/${on}/visits`, {
        day: '2026-12-10',
        km: null,
        note: null,
        jobs: [await job('qv20t-pump')],
      });
    const [[mine], [theirs]] = [await planned(id), await planned(other)];
    const add = async (body: object, day = '2027-06-01') =>
      tove.send('POST', `/api/vehicles/${id}/plan`, {
        visits: [{ day, km: null, note: null, jobs: [await job('qv20t-coil')] }],
        joins: [{ jobs: [await job('qv20t-thermostat')], ...body }],
      });
    expect((await add({ id: mine!.id, version: 99 })).statusCode).toBe(409);
    expect((await add({ id: theirs!.id, version: theirs!.version })).statusCode).toBe(404);
    expect((await add({ id: mine!.id, version: mine!.version }, '2026-11-01')).json()).toMatchObject({
      fields: [{ path: 'visits.0.day' }],
    });
    expect(await planned(id)).toHaveLength(1);
    expect((await tove.send('POST', `/api/vehicles/${id}/plan`, { visits: [] })).statusCode).toBe(400);
  });
});

describe('what visits are planned by', () => {
  const told = {
    ...USUAL_PLANNING,
    keepUntil: '2027-07-27',
    worthMinor: 320_000,
    trip: { day: '2027-07-03', km: 2400 },
  };
  const save = async (id: string, planning: object, version: number) =>
    tove.send('PUT', `/api/vehicles/${id}/planning`, { planning, version });

  test('is kept on the vehicle, over the version that was read, and taken back', async () => {
    const id = await t.saveVehicle(tove);
    const get = async (): Promise<Vehicle> => (await tove.get(`/api/vehicles/${id}`)).json();
    const { version, planning } = await get();
    expect(planning).toBeNull();
    await save(id, told, version);
    expect((await get()).planning).toEqual(told);
    expect((await save(id, told, version)).json()).toMatchObject({ code: 'changed_meanwhile' });
    // A correction of the vehicle, whose form does not show it, leaves it as it is.
    const { engine: _engine, id: _id, planning: _planning, version: now, ...fields } = await get();
    const corrected = await tove.send('PUT', `/api/vehicles/${id}`, { ...fields, note: 'blue', version: now });
    expect(corrected.statusCode).toBe(200);
    expect((await get()).planning).toEqual(told);
  });

  test('is taken back with one undo', async () => {
    const id = await t.saveVehicle(tove);
    const done = await save(id, told, 1);
    await tove.send('POST', `/api/changes/${done.json<Changed>().changeId}/undo`, {});
    expect((await tove.get(`/api/vehicles/${id}`)).json<Vehicle>().planning).toBeNull();
  });

  test.each([
    [{ keepUntil: '2026-11-01' }, 'planning.keepUntil'],
    [{ trip: { day: '2020-01-01', km: 5 } }, 'planning.trip.day'],
    [{ inspection: '2026-11-24' }, 'planning.inspection'],
    [{ worthMinor: 0 }, 'planning.worthMinor'],
    [{ lossPerYear: 2 }, 'planning.lossPerYear'],
    [{ visitMinutes: 3 }, 'planning.visitMinutes'],
  ])('%j is refused, naming the field', async (wrong, path) => {
    const id = await t.saveVehicle(tove);
    const refused = await save(id, { ...USUAL_PLANNING, ...wrong }, 1);
    expect(refused.statusCode).toBe(400);
    expect(refused.json()).toMatchObject({ fields: [{ path }] });
  });
});

test('minutes are those of the variant, in the answer and on the visit', async () => {
  const minutesOf = async (variantKey: string): Promise<[number, number]> => {
    const id = await t.saveVehicle(tove, { code: 'OD420K', variantKey, firstRegistered: '2015-05-05' });
    await tove.send('POST', `/api/vehicles/${id}/visits`, {
      day: '2026-12-10',
      km: null,
      note: null,
      jobs: [await job('od420k-tensioner')],
    });
    const { answer, visits } = await outlook(id);
    return [answer.operations.find(({ key }) => key === 'od420k-tensioner-renew')!.minutes, visits[0]!.minutes];
  };
  const [[usual, usualVisit], [manual, manualVisit]] = [
    await minutesOf('auto-tensioner'),
    await minutesOf('manual-tensioner'),
  ];
  expect([usual, manual]).toEqual([30, 50]);
  expect(manualVisit - usualVisit).toBe(20);
});

test('the weeks hold what is planned, and what falls due on vehicles without a visit for it', async () => {
  await t.services.source.query('update vehicle set retracted_at = now()');
  await t.services.source.query('update visit set retracted_at = now()');
  const id = await t.saveVehicle(tove, { code: 'QV16B', km: 190_000, firstRegistered: '2009-04-01' });
  const weeks = async (): Promise<WeekLoads> => (await tove.get('/api/visits/weeks')).json();
  const dueOf = ({ weeks: all, overdue }: WeekLoads): number =>
    all.reduce((sum, { due }) => sum + due, 0) + overdue.minutes;
  const before = await weeks();
  expect(before.weeks).toHaveLength(12);
  // 24 November 2026 is a Tuesday.
  expect(before.weeks[0]!.from).toBe('2026-11-23');
  expect(before.capacity).toBe(4800);
  const rows = answerRows((await outlook(id)).answer).filter(
    ({ verdict, due }) => ['hold', 'renew', 'look'].includes(verdict) && due !== null && due.day < 20_781 + 84 - 1,
  );
  expect(rows.length).toBeGreaterThan(0);
  expect(dueOf(before)).toBeGreaterThan(0);
  await tove.send('POST', `/api/vehicles/${id}/visits`, {
    day: '2026-12-08',
    km: null,
    note: null,
    jobs: rows.map(({ weakPointId, verdict, look }) => ({
      weakPointId,
      action: verdict === 'look' && look ? 'look' : 'renew',
    })),
  });
  const after = await weeks();
  expect(dueOf(after)).toBe(0);
  const [visit] = await planned(id);
  expect(after.weeks[2]).toMatchObject({ from: '2026-12-07', visits: 1, planned: visit!.minutes });
});

describe('before a purchase', () => {
  const ask = async (line: string, more = ''): Promise<PurchaseView> =>
    (await tove.get(`/api/lookup/purchase?line=${encodeURIComponent(line)}${more}`)).json();

  test('says what two years cost with their spread, what to look at, and what to ask', async () => {
    const view = await ask('QV16B 165k 2011', '&price=420000');
    expect(view).toMatchObject({ price: 420_000, months: 24, engine: { code: 'QV16B' } });
    expect(view.jobs.map(({ title }) => title)).toContain('Timing belt breaks or strips');
    expect(view.years).toHaveLength(2);
    const whole = view.total.visits + view.total.failures;
    expect(view.total.low).toBeLessThanOrEqual(whole);
    expect(view.total.high).toBeGreaterThanOrEqual(view.total.low);
    expect(view.total.failures).toBeGreaterThan(0);
    expect(Math.abs(view.years.reduce((sum, { visits }) => sum + visits, 0) - view.total.visits)).toBeLessThan(3);
    expect(view.looks.length).toBeGreaterThan(3);
    expect(view.questions[0]).toMatchObject({ ask: expect.stringMatching(/renewed/) as string, proof: true });
    // Of upkeep nobody knows anything: it is done soon.
    expect(view.jobs.some(({ kind }) => kind === 'task')).toBe(true);
  });

  test('the same line has the same answer', async () => {
    expect(await ask('QV20T 148k 2013')).toEqual(await ask('QV20T 148k 2013'));
  });

  test('is a sheet as well; a line without an answer, and a price that is none, are refused', async () => {
    const sheet = await tove.get('/api/lookup/purchase.pdf?line=QV16B%20165k%202011&price=420000');
    expect(sheet.headers['content-type']).toBe('application/pdf');
    expect(sheet.rawPayload.subarray(0, 5).toString()).toBe('%PDF-');
    expect((await tove.get('/api/lookup/purchase?line=nothing')).json()).toMatchObject({ code: 'line_incomplete' });
    expect((await tove.get('/api/lookup/purchase?line=QV16B&price=-3')).json()).toMatchObject({
      fields: [{ path: 'price' }],
    });
  });
});
