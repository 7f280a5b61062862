import { testApp, type TestApp } from '../../testing/harness.ts';
import { THROTTLE } from './service.ts';

let t: TestApp;
beforeAll(async () => { t = await testApp(); });
afterAll(() => t.close());

const signIn = (name: string, password: string) => t.app.inject({ method: 'POST', url: '/api/session', payload: { name, password } });

test('nothing is read without signing in', async () => {
  for (const url of ['/api/lookup?line=QV20T', '/api/vehicles', '/api/settings', '/api/visits', '/api/engines']) {
    const response = await t.app.inject({ method: 'GET', url });
    expect({ url, status: response.statusCode, code: response.json<{ code: string }>().code }).toEqual({ url, status: 401, code: 'sign_in_required' });
    expect(response.headers['content-type']).toContain('application/problem+json');
  }
});

test('the cookie is out of reach of scripts and other sites, and the password is kept as argon2id', async () => {
  const response = await signIn('RUTA', 'two');
  expect(response.statusCode).toBe(200);
  expect(String(response.headers['set-cookie'])).toMatch(/HttpOnly.*SameSite=Strict|SameSite=Strict.*HttpOnly/i);
  const [row] = await t.services.source.query<{ password_hash: string }[]>("select password_hash from app_user where name = 'ruta'");
  expect(row!.password_hash).toMatch(/^\$argon2id\$/);
});

test('wrong name and wrong password answer alike', async () => {
  const [name, password] = [await signIn('nobody', 'two'), await signIn('ruta', 'wrong')];
  expect([name.statusCode, name.body]).toEqual([password.statusCode, password.body]);
  expect(name.json()).toMatchObject({ status: 401, code: 'wrong_sign_in' });
});

test(`after ${THROTTLE.tries} wrong passwords even the right one has to wait`, async () => {
  for (let i = 0; i < THROTTLE.tries; i += 1) expect((await signIn('tove', `guess ${i}`)).statusCode).toBe(401);
  expect((await signIn('tove', 'one')).json()).toMatchObject({ status: 429, code: 'too_many_tries' });
  await t.services.source.query('delete from sign_in_try');
  expect((await signIn('tove', 'one')).statusCode).toBe(200);
});

test('a change without the session’s token is refused', async () => {
  const client = await t.signIn();
  const body = { day: '2026-11-24', km: 1 };
  for (const token of ['', 'x'.repeat(32)]) expect((await client.send('POST', '/api/vehicles/9d34e913-67e5-4747-900f-a9e93dd2b8b1/readings', body, { 'x-csrf-token': token })).json()).toMatchObject({ status: 403, code: 'stale_page' });
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
  expect((await mechanic.send('PUT', '/api/settings', settings)).json()).toMatchObject({ status: 403, code: 'not_allowed' });
  expect((await owner.send('PUT', '/api/settings', { ...settings, labourRateMinor: 5000 })).json()).toMatchObject({ labourRateMinor: 5000, version: settings.version + 1 });
  expect((await owner.send('PUT', '/api/settings', { ...settings, labourRateMinor: 1 })).json()).toMatchObject({ status: 409, code: 'changed_meanwhile', current: { version: settings.version + 1, labourRateMinor: 5000 } });
  expect((await owner.send('PUT', '/api/settings', { ...settings, serviceKm: 5, currency: 'euro' })).json<{ fields: { path: string }[] }>().fields.map(({ path }) => path).sort()).toEqual(['currency', 'serviceKm']);
});
