import { answerRows, type Changed, type VehicleOutlook, type Visit } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
let vehicleId: string;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
});
afterAll(() => t.close());
beforeEach(async () => {
  await t.services.source.query('update vehicle set retracted_at = now()');
  vehicleId = await t.saveVehicle(client, {
    plate: 'VV 1',
    model: 'Corrow',
    variantKey: 'short-ratchet',
    firstRegistered: '2013-05-01',
    reading: { day: '2026-11-01', km: 150_000 },
  });
});

const outlook = async (): Promise<VehicleOutlook> => (await client.get(`/api/vehicles/${vehicleId}/outlook`)).json();
const visit = async (): Promise<Visit> => (await outlook()).visits[0]!;
const chance = async (key: string): Promise<number> =>
  answerRows((await outlook()).answer).find((row) => row.key === key)!.chance;
const job = async (key: string, action: 'renew' | 'look' = 'renew', more: object = {}) => ({
  weakPointId: await t.point(key),
  action,
  grade: 'original',
  partNumber: null,
  revision: null,
  ...more,
});
const plan = async (body: object = {}) =>
  client.send('POST', `/api/vehicles/${vehicleId}/visits`, {
    day: '2026-12-10',
    km: null,
    note: null,
    jobs: [
      await job('qv20t-tensioner', 'renew', { revision: 'E', partNumber: 'VL-4433-05' }),
      await job('qv20t-thermostat', 'look'),
      await job('qv20t-pump'),
    ],
    ...body,
  });

test('a planned visit stands on the vehicle and in the list of all, its reading reckoned from the use', async () => {
  expect((await plan()).statusCode).toBe(200);
  expect(await visit()).toMatchObject({
    state: 'planned',
    day: '2026-12-10',
    jobs: [{ action: 'renew' }, { action: 'look' }, { action: 'renew' }],
  });
  expect((await visit()).km).toBeGreaterThan(150_000);
  const coming = (await client.get('/api/visits')).json<{ rows: { plate: string }[] }>();
  expect(coming.rows.some(({ plate }) => plate === 'VV 1')).toBe(true);
});

test('marking it done restarts exactly the clocks renewed, in one change that undo takes back whole', async () => {
  await plan();
  const [pump, flange, thermostat] = [
    await chance('qv20t-pump'),
    await chance('qv20t-flange'),
    await chance('qv20t-thermostat'),
  ];
  const { id, version, jobs } = await visit();
  const done = await client.send('POST', `/api/visits/${id}/done`, {
    version,
    day: '2026-11-24',
    km: 150_600,
    findings: [{ weakPointId: jobs[1]!.weakPointId, result: 'sound' }],
    skipped: [],
  });
  expect(done.statusCode).toBe(200);
  const after = await outlook();
  const row = (key: string) => answerRows(after.answer).find((candidate) => candidate.key === key)!;
  expect(row('qv20t-tensioner')).toMatchObject({ verdict: 'behind_it', rule: 'revised_part' });
  expect(row('qv20t-pump').chance).toBeLessThan(pump / 100);
  expect(row('qv20t-thermostat').chance).toBeLessThan(thermostat);
  expect(row('qv20t-thermostat').looks).toHaveLength(1);
  expect(Math.abs(row('qv20t-flange').chance / flange - 1)).toBeLessThan(0.02);
  expect(after.answer.now.km).toBe(150_600);
  expect(after.visits[0]).toMatchObject({ state: 'done', doneKm: 150_600 });
  expect((await client.send('POST', `/api/changes/${done.json<Changed>().changeId}/undo`, {})).statusCode).toBe(200);
  const back = await outlook();
  expect(back.visits[0]!.state).toBe('planned');
  expect(back.notches).toEqual([]);
  expect(await chance('qv20t-pump')).toBeCloseTo(pump, 12);
});

test('a job left out keeps its clock running', async () => {
  await plan();
  const { id, version, jobs } = await visit();
  await client.send('POST', `/api/visits/${id}/done`, {
    version,
    day: '2026-11-24',
    km: 150_600,
    findings: [],
    skipped: [jobs[2]!.weakPointId],
  });
  const { notches, visits } = await outlook();
  expect(notches.map(({ componentKey }) => componentKey)).toEqual(['qv-tensioner']);
  // The look was said nothing of: it was not made, and does not stand there as if it had been.
  expect(visits[0]!.jobs).toHaveLength(1);
});

test('a part that came out worn is a finding of the day; one that came out sound is none', async () => {
  await plan();
  const { id, version, jobs } = await visit();
  const answer = await client.send('POST', `/api/visits/${id}/done`, {
    version,
    day: '2026-11-24',
    km: 150_600,
    findings: [],
    cameOut: [
      { weakPointId: jobs[0]!.weakPointId, result: 'worn' },
      { weakPointId: jobs[2]!.weakPointId, result: 'sound' },
    ],
    skipped: [],
  });
  expect(answer.statusCode).toBe(200);
  const found = await t.services.source.query<{ id: string; result: string; day: string; visit: string }[]>(
    `select weak_point_id as id, result, day::text, visit_id as visit
      from finding
      where vehicle_id = $1 and retracted_at is null`,
    [vehicleId],
  );
  expect(found).toEqual([{ id: jobs[0]!.weakPointId, result: 'worn', day: '2026-11-24', visit: id }]);
});

test('upkeep goes on a visit and off it again with the jobs; what stays the same keeps its rows', async () => {
  await plan();
  const [one, two] = await t.services.source.query<{ id: string }[]>(
    "select id from upkeep_task where family_id = $1 and state = 'current' order by key limit 2",
    [await t.family('QV20T')],
  );
  const put = async (tasks: string[]) => {
    const { id, version, day, km, note, jobs } = await visit();
    const bare = jobs.map(({ weakPointId, action, grade, partNumber, revision }) => ({
      weakPointId,
      action,
      grade,
      partNumber,
      revision,
    }));
    const answer = await client.send('PUT', `/api/visits/${id}`, { version, day, km, note, jobs: bare, tasks });
    expect(answer.statusCode).toBe(200);
    return t.services.source.query<{ id: string; task: string }[]>(
      'select id, task_id as task from visit_task where visit_id = $1 and retracted_at is null order by position',
      [id],
    );
  };
  const first = await put([one!.id, two!.id]);
  expect(first.map(({ task }) => task)).toEqual([one!.id, two!.id]);
  expect(await put([one!.id, two!.id])).toEqual(first);
  expect((await put([two!.id])).map(({ task }) => task)).toEqual([two!.id]);
});

test('a visit is neither moved into the past nor done before its day has come', async () => {
  await plan();
  const { id, version } = await visit();
  const moved = { version, day: '2026-11-23', km: null, note: null, jobs: [await job('qv20t-pump')] };
  expect((await client.send('PUT', `/api/visits/${id}`, moved)).json()).toMatchObject({ fields: [{ path: 'day' }] });
  const early = { version, day: '2026-11-25', km: 150_600, findings: [], skipped: [] };
  expect((await client.send('POST', `/api/visits/${id}/done`, early)).json()).toMatchObject({
    fields: [{ path: 'day' }],
  });
  expect(await visit()).toMatchObject({ state: 'planned', version });
});

test('moving and re-jobbing go over the version that was read; the later writer is told', async () => {
  await plan();
  const before = await visit();
  const body = { version: before.version, day: '2027-01-20', km: null, note: 'moved', jobs: [await job('qv20t-pump')] };
  const moved = await client.send('PUT', `/api/visits/${before.id}`, body);
  expect(await visit()).toMatchObject({ day: '2027-01-20', jobs: [{ component: 'Water pump' }] });
  expect((await client.send('PUT', `/api/visits/${before.id}`, { ...body, note: 'again' })).json()).toMatchObject({
    status: 409,
    code: 'changed_meanwhile',
  });
  await client.send('POST', `/api/changes/${moved.json<Changed>().changeId}/undo`, {});
  expect(await visit()).toMatchObject({ day: before.day, note: null, jobs: before.jobs });
});

test('a visit called off is gone from the list, and a closed one takes no more changes', async () => {
  await plan();
  const { id, version } = await visit();
  expect((await client.send('POST', `/api/visits/${id}/call-off`, { version })).statusCode).toBe(200);
  expect((await outlook()).visits).toEqual([]);
  expect((await client.send('POST', `/api/visits/${id}/call-off`, { version: version + 1 })).json()).toMatchObject({
    status: 409,
    code: 'visit_closed',
  });
});

test('two at the same visit at once: one wins, the other is told, nothing is written twice', async () => {
  await plan();
  const { id, version } = await visit();
  const done = () =>
    client.send('POST', `/api/visits/${id}/done`, {
      version,
      day: '2026-11-24',
      km: 150_600,
      findings: [],
      skipped: [],
    });
  const answers = await Promise.all([done(), done(), done()]);
  expect(answers.map(({ statusCode }) => statusCode).sort()).toEqual([200, 409, 409]);
  const [row] = await t.services.source.query<{ n: number }[]>(
    'select count(*) as n from service_record where vehicle_id = $1',
    [vehicleId],
  );
  expect(Number(row!.n)).toBe(2);
});

test.each([
  ['in the past', { day: '2026-11-23' }, 'day'],
  ['without jobs', { jobs: [] }, 'jobs'],
  ['far too far', { km: 9e9 }, 'km'],
])('a visit %s is refused and named', async (_what, changes, path) => {
  expect((await plan(changes)).json()).toMatchObject({ status: 400, fields: [{ path }] });
});

test('a plan is accepted as one change, and one undo takes all of its visits back', async () => {
  const id = vehicleId;
  const [pump, thermostat] = [await t.point('qv20t-pump'), await t.point('qv20t-thermostat')];
  const visits = [
    { day: '2027-01-10', km: null, note: null, jobs: [{ weakPointId: pump, action: 'renew' }], tasks: [] },
    { day: '2027-09-01', km: null, note: null, jobs: [{ weakPointId: thermostat, action: 'look' }], tasks: [] },
  ];
  const planned = await client.send('POST', `/api/vehicles/${id}/plan`, { visits });
  expect(planned.json<Changed>().summary).toBe('2 visits planned');
  const standing = async (): Promise<number> =>
    (await client.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>().visits.length;
  expect(await standing()).toBe(2);
  await client.send('POST', `/api/changes/${planned.json<Changed>().changeId}/undo`, {});
  expect(await standing()).toBe(0);
  for (const [wrong, field] of [
    [[], 'visits'],
    [[visits[0], { ...visits[1], day: '2026-01-01' }], 'visits.1.day'],
    [[{ ...visits[0], jobs: [] }], 'visits.0.jobs'],
  ] as const) {
    const refused = await client.send('POST', `/api/vehicles/${id}/plan`, { visits: wrong });
    expect(refused.statusCode).toBe(400);
    expect(refused.json<{ fields: { path: string }[] }>().fields.map(({ path }) => path)).toContain(field);
  }
  expect(await standing()).toBe(0);
});

test('minutes of a visit count shared access once, and say what comes off for which job', async () => {
  const id = vehicleId;
  const jobs = [
    { weakPointId: await t.point('qv20t-pump'), action: 'renew' },
    { weakPointId: await t.point('qv20t-thermostat'), action: 'renew' },
  ];
  await client.send('POST', `/api/vehicles/${id}/visits`, { day: '2027-01-10', km: null, note: null, jobs, tasks: [] });
  const planned = await visit();
  // Pump 105 and thermostat 75 behind the same draining of 35.
  expect(planned).toMatchObject({ minutes: 215, jobs: [{ minutes: 140 }, { minutes: 110 }] });
  expect(planned.steps.map(({ name, for: of }) => [name, of])).toContainEqual(['Coolant out, filled and bled', [0, 1]]);
});
