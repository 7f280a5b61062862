import type { Changed, HistoryEntry, LibraryTask, VehicleOutlook, WireUpkeep } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
  owner = await t.signIn('ruta');
});
afterAll(() => t.close());

let plates = 0;
async function newVehicle(firstRegistered = '2016-03-01'): Promise<string> {
  plates += 1;
  const response = await client.send('POST', '/api/vehicles', {
    plate: `UP ${plates}`,
    name: null,
    model: 'Corrow',
    familyId: await t.family('QV20T'),
    variantKey: null,
    firstRegistered,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: { day: '2026-11-20', km: 132_000 },
  });
  return response.json<Changed>().id;
}
const outlook = async (id: string): Promise<VehicleOutlook> => (await client.get(`/api/vehicles/${id}/outlook`)).json();
const task = async (id: string, title = 'Engine oil and filter'): Promise<WireUpkeep> =>
  (await outlook(id)).answer.upkeep.find((row) => row.title === title)!;
const say = async (id: string, body: object) =>
  client.send('POST', `/api/vehicles/${id}/upkeep`, { taskId: (await task(id)).taskId, ...body });
const undo = (done: Changed) => client.send('POST', `/api/changes/${done.changeId}/undo`, {});

test('a task that nobody wrote down is not known; done today it is due again by its interval, and undo takes it back', async () => {
  const id = await newVehicle();
  const before = await outlook(id);
  expect(await task(id)).toMatchObject({ standing: 'unknown', due: null, lastDay: null });
  const today = before.answer.today;
  const written = (await say(id, { certainty: 'done', day: '2026-11-24', km: null })).json<Changed>();
  const row = await task(id);
  expect(row).toMatchObject({ standing: 'due', lastDay: dayFromIso('2026-11-24'), by: 'The Chain Loft' });
  expect(row.due!.day).toBeLessThanOrEqual(today + 366);
  const history = (await client.get(`/api/vehicles/${id}/history`)).json<{ rows: HistoryEntry[] }>().rows;
  expect(history[0]).toMatchObject({ kind: 'upkeep', title: 'Engine oil and filter', certainty: 'done' });
  expect((await undo(written)).statusCode).toBe(200);
  expect((await outlook(id)).answer).toEqual(before.answer);
});

test('a reading stands for the date; never done is overdue since new, and wears what it protects', async () => {
  const id = await newVehicle();
  expect((await say(id, { day: null, km: 120_000 })).statusCode).toBe(200);
  expect((await task(id)).lastDay).toBeLessThan(dayFromIso('2026-11-24')!);
  const neglected = await newVehicle();
  const chances = async (): Promise<Record<string, number>> =>
    Object.fromEntries(
      (await outlook(neglected)).answer.judgements.map(({ weakPointId, chance }) => [weakPointId, chance]),
    );
  const was = await chances();
  expect((await say(neglected, { certainty: 'never', day: '2026-11-24', km: null })).statusCode).toBe(200);
  const row = await task(neglected);
  expect(row.standing).toBe('overdue');
  expect(row.neglected).toHaveLength(1);
  const now = await chances();
  const chain = await t.point('qv20t-chain');
  expect(now[chain]!).toBeGreaterThan(1.2 * was[chain]!);
  const coil = await t.point('qv20t-coil');
  expect(now[coil]!).toBe(was[coil]!);
  await t.services.judging.run('a test');
  const [standing] = await t.services.source.query<{ upkeep_overdue: number; upkeep_title: string }[]>(
    'select upkeep_overdue, upkeep_title from vehicle_standing where vehicle_id = $1',
    [neglected],
  );
  expect(standing).toEqual({ upkeep_overdue: 1, upkeep_title: 'Engine oil and filter' });
});

test.each([
  [{ day: null, km: null }, 'day'],
  [{ day: '2027-01-01', km: null }, 'day'],
  [{ day: '2026-02-31', km: null }, 'day'],
  [{ day: null, km: 900_000 }, 'km'],
  [{ day: '2026-11-01', km: -1 }, 'km'],
  [{ day: '2026-11-01', km: null, certainty: 'perhaps' }, 'certainty'],
  [{ day: '2026-11-01', km: null, note: 'x'.repeat(301) }, 'note'],
])('what is no record of upkeep is refused, and nothing is written: %j', async (body, field) => {
  const id = await newVehicle();
  const refused = await say(id, body);
  expect(refused.statusCode).toBe(400);
  expect(refused.json<{ fields: { path: string }[] }>().fields.map(({ path }) => path)).toContain(field);
  expect((await task(id)).lastDay).toBeNull();
});

test('another engine’s task is refused', async () => {
  const id = await newVehicle();
  const other = (await owner.get(`/api/library/families/${await t.family('QV16B')}/upkeep`)).json<{
    rows: LibraryTask[];
  }>().rows[0]!;
  expect((await say(id, { taskId: other.taskId, day: '2026-11-01', km: null })).json()).toMatchObject({
    status: 400,
    fields: [{ path: 'taskId' }],
  });
});

test('on a visit: planned, left out or done with it, each as it was said', async () => {
  const id = await newVehicle();
  const [oil, plugs] = [await task(id), await task(id, 'Spark plugs')];
  const planned = (
    await client.send('POST', `/api/vehicles/${id}/visits`, {
      day: '2026-12-10',
      km: null,
      note: null,
      jobs: [],
      tasks: [oil.taskId, plugs.taskId],
    })
  ).json<Changed>();
  const [visit] = (await outlook(id)).visits;
  expect(visit!.tasks.map(({ title }) => title)).toEqual(['Engine oil and filter', 'Spark plugs']);
  const finished = await client.send('POST', `/api/visits/${planned.id}/done`, {
    version: visit!.version,
    day: '2026-11-24',
    km: 132_400,
    skippedTasks: [plugs.taskId],
  });
  expect(finished.statusCode).toBe(200);
  expect((await task(id)).lastDay).toBe(dayFromIso('2026-11-24'));
  expect((await task(id, 'Spark plugs')).lastDay).toBeNull();
  expect((await outlook(id)).visits[0]!.tasks).toHaveLength(1);
  expect((await undo(finished.json())).statusCode).toBe(200);
  expect((await task(id)).lastDay).toBeNull();
  expect((await outlook(id)).visits[0]).toEqual({ ...visit, version: expect.any(Number) });
});

test('a visit with nothing to do on it is refused', async () => {
  const id = await newVehicle();
  const refused = await client.send('POST', `/api/vehicles/${id}/visits`, {
    day: '2026-12-10',
    km: null,
    note: null,
    jobs: [],
  });
  expect(refused.json()).toMatchObject({ status: 400, fields: [{ path: 'jobs' }] });
});

describe('in the library', () => {
  const draft = async (changes: object = {}) => ({
    familyId: await t.family('QV20T'),
    title: 'Look at the charge hoses',
    kind: 'look',
    how: 'Soft or oily: renew.',
    minutes: 10,
    ownerCan: false,
    season: null,
    protects: [{ weakPointId: await t.point('qv20t-wastegate'), factor: 1.2 }],
    statement: { words: 'We see them burst.', interval: '30k km | 2y' },
    ...changes,
  });
  const tasks = async (): Promise<LibraryTask[]> =>
    (await owner.get(`/api/library/families/${await t.family('QV20T')}/upkeep?pageSize=100`)).json<{
      rows: LibraryTask[];
    }>().rows;

  test('written by the owner, it is asked of every vehicle; changed, what others say stays; taken out, nobody is asked', async () => {
    const id = await newVehicle();
    const written = (await owner.send('POST', '/api/library/upkeep', await draft())).json<Changed>();
    expect(await task(id, 'Look at the charge hoses')).toMatchObject({ standing: 'unknown', by: 'Our own bench' });
    const [mine] = (await tasks()).filter(({ taskId }) => taskId === written.id);
    expect(mine).toMatchObject({ version: 1, inUse: true, pack: null, done: 0, protects: [{ factor: 1.2 }] });
    const oil = (await tasks()).find(({ key }) => key === 'qv20t-care-oil')!;
    const changed = await owner.send('PUT', `/api/library/upkeep/${oil.taskId}`, {
      version: oil.version,
      draft: await draft({
        title: oil.title,
        kind: oil.kind,
        how: oil.how,
        minutes: oil.minutes,
        protects: oil.protects.map(({ weakPointId, factor }) => ({ weakPointId, factor })),
        statement: { words: 'Ours is dusty.', interval: '8k km' },
      }),
    });
    expect(changed.statusCode).toBe(200);
    const now = (await tasks()).find(({ key }) => key === 'qv20t-care-oil')!;
    expect(now.statements.map(({ authority }) => authority)).toEqual([
      ...oil.statements.map(({ authority }) => authority),
      'Our own bench',
    ]);
    expect(now.cautions).toEqual(oil.cautions);
    expect((await task(id)).by).toBe('Our own bench');
    const { changeId } = changed.json<Changed>();
    expect((await owner.send('POST', `/api/changes/${changeId}/undo`, {})).statusCode).toBe(200);
    expect((await tasks()).find(({ key }) => key === 'qv20t-care-oil')!.statements).toEqual(oil.statements);
    await owner.send('PUT', `/api/library/upkeep/${written.id}`, { version: 1, draft: await draft({ inUse: false }) });
    expect(await task(id, 'Look at the charge hoses')).toBeUndefined();
  });

  test('two who edit it: the later one is told', async () => {
    const oil = (await tasks()).find(({ key }) => key === 'qv20t-care-plugs')!;
    const send = async (title: string) =>
      owner.send('PUT', `/api/library/upkeep/${oil.taskId}`, { version: oil.version, draft: await draft({ title }) });
    expect((await send('Plugs, ours')).statusCode).toBe(200);
    expect((await send('Plugs, mine')).json()).toMatchObject({ status: 409, code: 'changed_meanwhile' });
  });

  test('only the owner writes', async () =>
    expect((await client.send('POST', '/api/library/upkeep', await draft())).statusCode).toBe(403));

  test.each([
    [{ minutes: 0 }, 'minutes'],
    [{ title: ' ' }, 'title'],
    [{ statement: { words: 'x', interval: 'soon' } }, 'statement.interval'],
    [{ kind: 'pray' }, 'kind'],
  ])('bad input names its field: %j', async (changes, field) => {
    const refused = (await owner.send('POST', '/api/library/upkeep', await draft(changes))).json<{
      status: number;
      fields: { path: string }[];
    }>();
    expect(refused.status).toBe(400);
    expect(refused.fields.map(({ path }) => path)).toContain(field);
  });
  test('neglect neither mends nor multiplies without end, and keeps only this engine’s', async () => {
    const send = async (weakPoint: string, factor: number) =>
      (
        await owner.send(
          'POST',
          '/api/library/upkeep',
          await draft({ protects: [{ weakPointId: await t.point(weakPoint), factor }] }),
        )
      ).json<{ status: number; fields: { path: string }[] }>();
    expect((await send('qv20t-chain', 0.9)).fields[0]!.path).toBe('protects.0.factor');
    expect((await send('qv20t-chain', 5.1)).fields[0]!.path).toBe('protects.0.factor');
    expect((await send('qv16-belt', 1.3)).fields[0]!.path).toBe('protects.0.weakPointId');
  });
});
