import { spawn } from 'node:child_process';
import { request, type IncomingMessage } from 'node:http';
import { join } from 'node:path';
import type { AddressInfo } from 'node:net';
import type { ProblemDetails } from '@crosspeen/contract';
import { buildServices, shopClock } from './app.ts';
import { connectDatabase } from './store/database.ts';
import { databaseProblem, rowsAtFault } from './platform/database-problem.ts';
import { Turns } from './platform/turns.ts';
import { NOW, testApp, type Client, type TestApp } from './testing/harness.ts';

const NOBODY = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
let t: TestApp;
let owner: Client;
let port: number;
let cookie: string;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn();
  await t.app.listen({ host: '127.0.0.1', port: 0 });
  ({ port } = t.app.server.address() as AddressInfo);
  cookie = String(
    (await t.app.inject({ method: 'POST', url: '/api/session', payload: { name: 'ruta', password: 'two' } })).headers[
      'set-cookie'
    ],
  ).split(';')[0]!;
});
afterAll(() => t.close());

/** A request over a real connection, answered as far as its head. */
const over = (path: string, headers: Record<string, string> = {}): Promise<IncomingMessage> =>
  new Promise((answered, failed) => {
    request({ host: '127.0.0.1', port, path, headers: { cookie, ...headers } }, answered)
      .once('error', failed)
      .end();
  });
const idle = async (): Promise<number> =>
  Number(
    (
      await t.services.source.query<{ n: string }[]>(
        `select count(*) as n
          from pg_stat_activity
          where datname = current_database() and state like 'idle in transaction%'`,
      )
    )[0]!.n,
  );
const answers = async (): Promise<boolean> => (await owner.get('/api/health')).statusCode === 200;

describe('downloads', () => {
  test.each([
    ['/api/lists/vehicles.csv?q=%00', 'bad_input'],
    [`/api/lists/campaign/${NOBODY}.csv`, 'not_found'],
    [`/api/lists/notice/${NOBODY}.csv`, 'not_found'],
  ])('%s is answered with %s before anything is sent', async (path, code) => {
    const response = await owner.get(path);
    expect(response.json<ProblemDetails>().code).toBe(code);
    expect(await answers()).toBe(true);
  });

  test('what fails on the way ends the download, not the server', async () => {
    await t.services.source.query(
      `insert into vehicle (plate, plate_key, family_id, odometer_unit, search_text)
        select 'OL ' || n, 'ol' || n, f.id, 'km', repeat('x', 400) || ' ol ' || n
        from generate_series(1, 4000) n, engine_family f
        where f.code = 'QV20T'`,
    );
    await t.services.source.query(
      `insert into vehicle_standing (vehicle_id, rank, as_of, model_version)
        select id, 1, '2026-11-24', 1
        from vehicle
        where plate_key like 'ol%'`,
    );
    const response = await over('/api/lists/vehicles.csv?q=ol&order=plate');
    expect(response.statusCode).toBe(200);
    await t.services.source.query('alter table vehicle_standing rename to hidden_away');
    const ended = await new Promise<'whole' | 'broken'>((done) => {
      response
        .once('end', () => done('whole'))
        .once('error', () => done('broken'))
        .once('aborted', () => done('broken'))
        .resume();
    });
    await t.services.source.query('alter table hidden_away rename to vehicle_standing');
    expect(ended).toBe('broken');
    expect(await answers()).toBe(true);
  });

  test('thirty archives broken off leave no transaction behind, and short requests never wait for one', async () => {
    for (let round = 0; round < 10; round += 1) {
      await Promise.all(
        Array.from({ length: 3 }, async () => {
          const response = await over('/api/archive');
          response.once('error', () => undefined).destroy();
        }),
      );
    }
    for (let tries = 0; tries < 50 && (await idle()) > 0; tries += 1)
      await new Promise((later) => {
        setTimeout(later, 100);
      });
    expect(await idle()).toBe(0);
    expect(await answers()).toBe(true);
  });

  test('downloads have connections of their own: what holds all of those leaves the others alone', async () => {
    const { url } = t.services.source.options as { url: string };
    // Long enough to connect on a busy machine, and then as long as the held connection is waited for.
    const aside = await connectDatabase(url, 1, { acquireMs: 3000 });
    const services = buildServices(t.services.source, shopClock(NOW), { aside });
    const held = aside.createQueryRunner();
    await held.connect();
    await expect(services.aside.query('select 1')).rejects.toMatchObject({
      message: expect.stringContaining('timeout'),
    });
    expect(databaseProblem(await services.aside.query('select 1').catch((error: unknown) => error))?.code).toBe('busy');
    await held.release();
    await aside.destroy();
    expect(await answers()).toBe(true);
  });
});

test('what nobody waits for or listens to is logged, and the process lives on', async () => {
  const script = `
    import { outlive } from './server/src/platform/outlive.ts';
    import { EventEmitter } from 'node:events';
    outlive({ error: (_about, words) => process.stdout.write(words + '\\n') });
    void Promise.reject(new Error('first'));
    setTimeout(() => new EventEmitter().emit('error', new Error('second')), 10);
    setTimeout(() => { throw new Error('third'); }, 20);
    setTimeout(() => process.stdout.write('alive\\n'), 60);
  `;
  const child = spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '--eval', script], {
    cwd: join(import.meta.dirname, '../..'),
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  child.stdout.on('data', (data: Buffer) => {
    said += data.toString();
  });
  const code = await new Promise((ended) => {
    child.once('exit', ended);
  });
  expect(said.trim().split('\n')).toEqual([
    'nobody waited for this and it failed; the server goes on',
    ...Array<string>(2).fill('nobody caught this; the server goes on'),
    'alive',
  ]);
  expect(code).toBe(0);
});

describe('a form that is sent twice writes once', () => {
  const body = (plate: string) => ({
    plate,
    name: null,
    model: null,
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: { day: '2026-11-01', km: 90_000 },
  });
  const keyed = (key: string): Record<string, string> => ({ 'idempotency-key': key });
  let vehicleId: string;
  beforeAll(async () => {
    vehicleId = (
      await owner.send('POST', '/api/vehicles', { ...body('ON 1'), familyId: await t.family('QV20T') })
    ).json<{ id: string }>().id;
  });
  const count = async (table: string): Promise<number> =>
    Number(
      (
        await t.services.source.query<{ n: string }[]>(`select count(*) as n from ${table} where vehicle_id = $1`, [
          vehicleId,
        ])
      )[0]!.n,
    );

  test.each([
    ['a reading', 'readings', 'meter_reading', () => ({ day: '2026-11-02', km: 90_100 })],
    [
      'a renewal',
      'services',
      'service_record',
      async () => ({
        weakPointId: await t.point('qv20t-pump'),
        certainty: 'done',
        day: '2026-11-02',
        km: 90_100,
        grade: 'original',
        partNumber: null,
        revision: null,
        note: null,
      }),
    ],
    [
      'a finding',
      'findings',
      'finding',
      async () => ({ weakPointId: await t.point('qv20t-chain'), day: '2026-11-02', result: 'sound', note: null }),
    ],
    [
      'a visit',
      'visits',
      'visit',
      async () => ({
        day: '2026-12-02',
        km: null,
        note: null,
        jobs: [{ weakPointId: await t.point('qv20t-pump'), action: 'renew' }],
      }),
    ],
  ] as const)('%s, twenty times at once: the same answer, one row', async (_what, path, table, made) => {
    const before = await count(table);
    const sent = await made();
    const all = await Promise.all(
      Array.from({ length: 20 }, () =>
        owner.send('POST', `/api/vehicles/${vehicleId}/${path}`, sent, keyed(`form-${path}`)),
      ),
    );
    expect(all.map(({ statusCode }) => statusCode)).toEqual(Array(20).fill(200));
    expect(new Set(all.map(({ body: said }) => said)).size).toBe(1);
    expect(await count(table)).toBe(before + 1);
  });

  test('corrected and sent again it is another; so is the same from another form, and without a key every one counts', async () => {
    const before = await count('meter_reading');
    const reading = (km: number, headers: Record<string, string> = {}) =>
      owner.send('POST', `/api/vehicles/${vehicleId}/readings`, { day: '2026-11-03', km }, headers);
    await reading(91_000, keyed('a'));
    await reading(91_000, keyed('a'));
    await reading(91_001, keyed('a'));
    await reading(91_001, keyed('b'));
    expect(await count('meter_reading')).toBe(before + 3);
  });

  test('what failed is not remembered: mended on the other side, the same form goes through', async () => {
    const twice = { ...body('ON 2'), familyId: await t.family('QV20T') };
    expect((await owner.send('POST', '/api/vehicles', { ...twice, plate: 'ON 1' }, keyed('taken'))).statusCode).toBe(
      409,
    );
    const first = await owner.send('POST', '/api/vehicles', twice, keyed('taken'));
    expect([first.statusCode, (await owner.send('POST', '/api/vehicles', twice, keyed('taken'))).body]).toEqual([
      200,
      first.body,
    ]);
  });

  test('twenty equal new weak points at once: each is one of its own, and none is an unexpected failure', async () => {
    const [component] = await t.services.source.query<{ id: string }[]>('select id from component limit 1');
    const draft = {
      familyId: await t.family('QV20T'),
      title: 'Dip stick rattles',
      componentId: component!.id,
      newComponent: null,
      consequence: 'cosmetic',
      safety: false,
      effect: 'A rattle.',
      signs: 'A rattle.',
      share: 'some',
      causes: ['60-140k km'],
      look: null,
      renewMinutes: 20,
      variants: [],
      producedFrom: null,
      producedTo: null,
      retiredByRevision: null,
      statement: { words: 'Press it home.', interval: null },
    };
    const all = await Promise.all(Array.from({ length: 20 }, () => owner.send('POST', '/api/library/points', draft)));
    expect(all.map(({ statusCode }) => statusCode)).toEqual(Array(20).fill(200));
    expect(new Set(all.map((one) => one.json<{ id: string }>().id)).size).toBe(20);
    const once = await Promise.all(
      Array.from({ length: 20 }, () => owner.send('POST', '/api/library/points', draft, keyed('new-point'))),
    );
    expect(new Set(once.map((one) => one.json<{ id: string }>().id)).size).toBe(1);
  });
});

describe('what the database says, as people are told it', () => {
  test.each([
    [{ code: '53100' }, 'no_space'],
    [{ code: '58030' }, 'no_space'],
    [{ code: '57014' }, 'took_too_long'],
    [{ code: '57P01' }, 'database_away'],
    [{ code: 'ECONNREFUSED' }, 'database_away'],
    [{ message: 'Connection terminated unexpectedly' }, 'database_away'],
    [{ message: 'timeout exceeded when trying to connect' }, 'busy'],
    [{ code: '40P01' }, 'busy'],
    [{ code: '23505', constraint: 'vehicle_plate' }, 'plate_taken'],
    [{ code: '23505', constraint: 'notice_number' }, 'taken'],
    [{ code: '23505', constraint: 'never_heard_of' }, 'taken'],
    [{ code: '23503' }, 'not_found'],
    [{ code: '22003' }, 'bad_input'],
    [{ code: '22P05' }, 'bad_input'],
    [{ code: '42P01' }, undefined],
    [null, undefined],
    ['words', undefined],
  ])('%j is %s', (error, code) => {
    expect(databaseProblem(error)?.code).toBe(code);
    expect(databaseProblem({ driverError: error })?.code).toBe(code);
  });
  test('a row that cannot be kept is told from a database that is away', () =>
    expect([{ code: '22003' }, { code: '23514' }, { code: '57P01' }, {}].map(rowsAtFault)).toEqual([
      true,
      true,
      false,
      false,
    ]));
});

test('work that is done in turns: no more at once than may be, in order, and too many are told', async () => {
  const turns = new Turns(2, 3);
  let [running, most] = [0, 0];
  const order: number[] = [];
  const work = (n: number): Promise<void> =>
    turns.run(async () => {
      running += 1;
      most = Math.max(most, running);
      await new Promise((later) => {
        setTimeout(later, 5);
      });
      order.push(n);
      running -= 1;
      if (n === 1) throw new Error('one that fails gives its place on');
    });
  const all = await Promise.allSettled([0, 1, 2, 3, 4, 5, 6].map(work));
  expect(most).toBe(2);
  expect(order).toEqual([0, 1, 2, 3, 4]);
  expect(all.map(({ status }) => status)).toEqual([
    'fulfilled',
    'rejected',
    'fulfilled',
    'fulfilled',
    'fulfilled',
    'rejected',
    'rejected',
  ]);
  await expect(turns.run(() => Promise.resolve('again'))).resolves.toBe('again');
});

test('headers that are too long, and bytes that are no request, are answered', async () => {
  const long = await over('/api/health', { 'x-long': 'x'.repeat(20_000) });
  expect([long.statusCode, long.headers['content-type']]).toEqual([431, 'application/problem+json']);
  long.resume();
  expect(await answers()).toBe(true);
});

test('what is not there, or is of another kind, is said with its own status', async () => {
  expect((await owner.get('/assets/nothing.js')).statusCode).toBe(404);
  expect(
    (
      await owner.send('POST', `/api/vehicles/${NOBODY}/readings`, '<day/>', { 'content-type': 'application/xml' })
    ).json(),
  ).toMatchObject({ status: 415, code: 'unsupported_media' });
  expect((await t.app.inject({ method: 'POST', url: '/api/vehicles', payload: { nonsense: true } })).statusCode).toBe(
    401,
  );
  const tove = await t.signIn('tove');
  expect((await tove.send('PUT', '/api/settings', { nonsense: true })).statusCode).toBe(403);
});
