import { testApp, type TestApp } from '../../testing/harness.ts';
import type { Problem } from '../../platform/problem.ts';
import { SessionService } from './service.ts';
import { afterTry, THROTTLE } from './throttle.ts';

let t: TestApp;
beforeAll(async () => {
  t = await testApp();
});
afterAll(() => t.close());

const signIn = (name: string, password: string) =>
  t.app.inject({ method: 'POST', url: '/api/session', payload: { name, password } });

test('nothing is read without signing in', async () => {
  for (const url of ['/api/lookup?line=QV20T', '/api/vehicles', '/api/settings', '/api/visits', '/api/engines']) {
    const response = await t.app.inject({ method: 'GET', url });
    expect({ url, status: response.statusCode, code: response.json<{ code: string }>().code }).toEqual({
      url,
      status: 401,
      code: 'sign_in_required',
    });
    expect(response.headers['content-type']).toContain('application/problem+json');
  }
});

test('the cookie is out of reach of scripts and other sites, and the password is kept as argon2id', async () => {
  const response = await signIn('RUTA', 'two');
  expect(response.statusCode).toBe(200);
  expect(String(response.headers['set-cookie'])).toMatch(/HttpOnly.*SameSite=Strict|SameSite=Strict.*HttpOnly/i);
  const [row] = await t.services.source.query<{ password_hash: string }[]>(
    "select password_hash from app_user where name = 'ruta'",
  );
  expect(row!.password_hash).toMatch(/^\$argon2id\$/);
});

test('wrong name and wrong password answer alike', async () => {
  const [name, password] = [await signIn('nobody', 'two'), await signIn('ruta', 'wrong')];
  expect([name.statusCode, name.body]).toEqual([password.statusCode, password.body]);
  expect(name.json()).toMatchObject({ status: 401, code: 'wrong_sign_in' });
});

describe('guessing', () => {
  const counts = () =>
    t.services.source.query<{ what: string; tries: number }[]>('select what, tries from sign_in_try order by what');
  beforeEach(() => t.services.source.query('delete from sign_in_try'));

  test(`after ${THROTTLE.pair.free} wrong passwords even the right one has to wait, as long as is said`, async () => {
    for (let i = 0; i < THROTTLE.pair.free; i += 1) expect((await signIn('tove', `guess ${i}`)).statusCode).toBe(401);
    const refused = await signIn('tove', 'one');
    expect(refused.json()).toMatchObject({ status: 429, code: 'too_many_tries' });
    expect(Number(refused.headers['retry-after'])).toBe(1);
    await t.services.source.query('update sign_in_try set next_at = last_at');
    expect((await signIn('tove', 'one')).statusCode).toBe(200);
    expect((await counts()).map(({ what }) => what)).toEqual(['address']);
  });

  test('a hundred at once are counted before any is checked', async () => {
    const answers = await Promise.all(Array.from({ length: 100 }, (_, i) => signIn('tove', `guess ${i}`)));
    expect(answers.filter(({ statusCode }) => statusCode === 401)).toHaveLength(THROTTLE.pair.free);
    expect(answers.every(({ statusCode }) => [401, 429].includes(statusCode))).toBe(true);
  });

  test('neither does it help that time goes on between them', async () => {
    let at = Date.parse('2026-11-24T12:00:00Z');
    const service = new SessionService({
      source: t.services.source,
      clock: { ...t.services.clock, now: () => new Date((at += 1)) },
    });
    const outcomes = await Promise.all(
      Array.from({ length: 100 }, (_, i) =>
        service.signIn('tove', `guess ${i}`, '127.0.0.9').catch((error: unknown) => (error as Problem).code),
      ),
    );
    expect(outcomes.filter((code) => code === 'wrong_sign_in')).toHaveLength(THROTTLE.pair.free);
  });

  test('made-up names run out as well: one address has only so many tries', async () => {
    const answers = await Promise.all(Array.from({ length: 60 }, (_, i) => signIn(`nobody ${i}`, 'x')));
    expect(answers.filter(({ statusCode }) => statusCode === 401).length).toBeLessThanOrEqual(THROTTLE.address.free);
  });

  test('a try that is refused counts nowhere', async () => {
    for (let i = 0; i < THROTTLE.pair.free + 20; i += 1) await signIn('tove', `guess ${i}`);
    expect(new Set((await counts()).map(({ tries }) => tries))).toEqual(new Set([THROTTLE.pair.free]));
  });

  test('while strangers guess at a name, its owner comes in from an address that has done nothing wrong', async () => {
    const from = (address: string, password: string) =>
      t.app.inject({
        method: 'POST',
        url: '/api/session',
        payload: { name: 'tove', password },
        remoteAddress: address,
      });
    const strangers = Array.from({ length: 60 }, (_, i) => from(`203.0.113.${i + 1}`, `guess ${i}`));
    await Promise.all(strangers);
    const [name] = (await counts()).filter(({ what }) => what === 'name');
    expect(name!.tries).toBeGreaterThanOrEqual(THROTTLE.name.free);
    await t.services.source.query("update sign_in_try set next_at = now() + interval '1 hour' where what = 'name'");
    // One that has guessed waits for the name like the others.
    expect((await from('203.0.113.1', 'one')).statusCode).toBe(429);
    expect((await from('198.51.100.7', 'one')).statusCode).toBe(200);
  });

  const row = (changes: object = {}) => ({
    what: 'pair' as const,
    who: 'x',
    tries: 9,
    lastAt: new Date(10_000_000),
    nextAt: new Date(10_016_000),
    ...changes,
  });
  test('one that comes too early is refused and makes no wait longer', () => {
    expect(afterTry(row(), new Date(10_010_000))).toEqual({ ...row(), waitSeconds: 6 });
  });
  test('each wait is twice the one before, up to the longest', () => {
    const waits = [5, 6, 9, 40].map(
      (tries) => (afterTry(row({ tries: tries - 1 }), new Date(10_020_000)).nextAt.getTime() - 10_020_000) / 1000,
    );
    expect(waits).toEqual([1, 2, 16, THROTTLE.pair.longestSeconds]);
  });
  test('what was long ago is forgotten; a clock that was set back holds nobody', () => {
    expect(afterTry(row(), new Date(10_000_000 + 3_600_000))).toMatchObject({ tries: 1, waitSeconds: 0 });
    expect(afterTry(row(), new Date(5_000_000))).toMatchObject({ tries: 1, waitSeconds: 0 });
  });
  test('tries and sessions that are over are let go', async () => {
    await signIn('tove', 'wrong');
    await t.services.source.query("update sign_in_try set last_at = last_at - interval '1 hour'");
    await t.services.source.query("insert into session (sid, data, expires_at) values ('old', '{}', '2026-01-01')");
    await t.services.sessions.purge();
    expect(await counts()).toEqual([]);
    expect(await t.services.source.query("select 1 from session where sid = 'old'")).toEqual([]);
  });
});

test('a session that has expired is none', async () => {
  const client = await t.signIn('anselm');
  expect((await client.get('/api/settings')).statusCode).toBe(200);
  await t.services.source.query("update session set expires_at = '2026-11-01' where data #>> '{user,name}' = 'anselm'");
  expect((await client.get('/api/settings')).statusCode).toBe(401);
});

test('another role counts at once, and so does being no user any more', async () => {
  const client = await t.signIn('ruta');
  const fleet = () => client.send('POST', '/api/fleet/stop', {});
  expect((await fleet()).statusCode).toBe(200);
  await t.services.source.query("update app_user set role = 'mechanic' where name = 'ruta'");
  expect((await fleet()).json()).toMatchObject({ status: 403, code: 'not_allowed' });
  await t.services.source.query("update app_user set role = 'owner' where name = 'ruta'");
  await t.services.source.query(
    `insert into app_user (name, display_name, role, password_hash)
      select 'leaver', 'Leaver', 'mechanic', password_hash
      from app_user
      where name = 'tove'`,
  );
  const cookie = String((await signIn('leaver', 'one')).headers['set-cookie']).split(';')[0]!;
  const asked = () => t.app.inject({ method: 'GET', url: '/api/settings', headers: { cookie } });
  expect((await asked()).statusCode).toBe(200);
  await t.services.source.query("delete from app_user where name = 'leaver'");
  expect((await asked()).statusCode).toBe(401);
});

test('names this workshop is not reached under are not answered, and the demo’s passwords are told on this machine alone', async () => {
  const asked = (host: string, url = '/api/session') => t.app.inject({ method: 'GET', url, headers: { host } });
  for (const host of ['evil.example', 'localhost.evil.example', '10.0.0.1:8460'])
    expect((await asked(host)).json()).toMatchObject({ status: 421, code: 'wrong_host' });
  for (const host of ['localhost', 'LOCALHOST:8460', '127.0.0.1:1', '[::1]:8460'])
    expect((await asked(host)).statusCode).toBe(200);
  expect((await asked('evil.example', '/')).statusCode).toBe(421);
});

test('a change without the session’s token is refused', async () => {
  const client = await t.signIn();
  const body = { day: '2026-11-24', km: 1 };
  for (const token of ['', 'x'.repeat(32), 'ü'.repeat(32)])
    expect(
      (
        await client.send('POST', '/api/vehicles/9d34e913-67e5-4747-900f-a9e93dd2b8b1/readings', body, {
          'x-csrf-token': token,
        })
      ).json(),
    ).toMatchObject({ status: 403, code: 'stale_page' });
});

test('signing out ends the session on the server', async () => {
  const client = await t.signIn();
  expect((await client.get('/api/settings')).statusCode).toBe(200);
  await client.send('DELETE', '/api/session');
  expect((await client.get('/api/settings')).statusCode).toBe(401);
});

test('settings are the owner’s; an old version is told, not overwritten', async () => {
  const [owner, mechanic] = [await t.signIn('ruta'), await t.signIn('tove')];
  const settings = (await owner.get('/api/settings')).json<{ version: number; limits: object }>();
  expect((await mechanic.send('PUT', '/api/settings', settings)).json()).toMatchObject({
    status: 403,
    code: 'not_allowed',
  });
  expect((await owner.send('PUT', '/api/settings', { ...settings, labourRateMinor: 5000 })).json()).toMatchObject({
    labourRateMinor: 5000,
    version: settings.version + 1,
  });
  expect((await owner.send('PUT', '/api/settings', { ...settings, labourRateMinor: 1 })).json()).toMatchObject({
    status: 409,
    code: 'changed_meanwhile',
    current: { version: settings.version + 1, labourRateMinor: 5000 },
  });
  expect(
    (await owner.send('PUT', '/api/settings', { ...settings, serviceKm: 5, currency: 'euro' }))
      .json<{ fields: { path: string }[] }>()
      .fields.map(({ path }) => path)
      .sort(),
  ).toEqual(['currency', 'serviceKm']);
});

test('of a password that is taken away while it is checked, no sign-in is left', async () => {
  const { source, people } = t.services;
  const [{ id }] = (await source.query<{ id: string }[]>(
    `insert into app_user (name, display_name, role, password_hash)
      select 'stolen', 'Stolen', 'mechanic', password_hash
      from app_user
      where name = 'tove'
      returning id`,
  )) as [{ id: string }];
  for (let round = 0; round < 12; round += 1) {
    await source.query('delete from sign_in_try');
    await source.query(
      "update app_user set password_hash = (select password_hash from app_user where name = 'tove') where id = $1",
      [id],
    );
    const [answer] = await Promise.all([
      signIn('stolen', 'one'),
      new Promise((after) => setTimeout(after, round * 4)).then(() => people.reset(null, id)),
    ]);
    expect([200, 401]).toContain(answer.statusCode);
    expect(await source.query('select 1 from session where person_id = $1', [id])).toEqual([]);
  }
});
