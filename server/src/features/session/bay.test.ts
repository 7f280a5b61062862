import { BAY_REST_MINUTES, type BayTablet, type Person, type SessionState } from '@crosspeen/contract';
import { buildApp, buildServices, shopClock } from '../../app.ts';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { THROTTLE } from './throttle.ts';

let t: TestApp;
let owner: Client;
let tablet: string;
let tove: string;
beforeEach(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  const made = await owner.send('POST', '/api/tablets', { name: 'Bay 1' });
  tablet = String(made.headers['set-cookie']).split(';')[0]!;
  const mechanic = await t.signIn('tove');
  await mechanic.send('PUT', '/api/me/pin', { current: 'one', pin: '4821' });
  tove = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.find(({ name }) => name === 'tove')!.id;
});
afterEach(() => t.close());

const enter = (personId: string, pin: string, cookie = tablet) =>
  t.app.inject({ method: 'POST', url: '/api/bay/enter', headers: { cookie }, payload: { personId, pin } });
const code = (response: { json: <T>() => T }): string => response.json<{ code: string }>().code;
const cookieOf = (response: { headers: Record<string, unknown> }): string =>
  `${tablet}; ${String(response.headers['set-cookie']).split(';')[0]!}`;

test('the tablet’s secret is out of reach of scripts and other sites, and only its digest is kept', async () => {
  const made = await owner.send('POST', '/api/tablets', { name: 'Bay 2' });
  expect(String(made.headers['set-cookie'])).toMatch(/crosspeen_tablet=.*HttpOnly.*SameSite=Strict/);
  const secret = String(made.headers['set-cookie']).split(';')[0]!.split('=')[1]!;
  const [row] = await t.services.source.query<{ hash: string }[]>(
    "select token_hash as hash from bay_tablet where name = 'Bay 2'",
  );
  expect(row!.hash).not.toContain(secret);
});

test('it says who can change over: those with a PIN who work here', async () => {
  const state = (
    await t.app.inject({ method: 'GET', url: '/api/session', headers: { cookie: tablet } })
  ).json<SessionState>();
  expect(state).toMatchObject({
    user: null,
    byPin: false,
    bay: { tablet: 'Bay 1', people: [{ displayName: 'Tove' }] },
  });
  const elsewhere = (await t.app.inject({ method: 'GET', url: '/api/session' })).json<SessionState>();
  expect(elsewhere.bay).toBeNull();
});

test('a PIN lets in at the tablet alone, for what a mechanic may do', async () => {
  expect(code(await enter(tove, '4821', 'crosspeen_tablet=another'))).toBe('no_tablet');
  expect(code(await enter(tove, '4822'))).toBe('wrong_pin');
  await owner.send('PUT', '/api/me/pin', { current: 'two', pin: '7153' });
  const ruta = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.find(({ name }) => name === 'ruta')!.id;
  const inside = await enter(ruta, '7153');
  expect(inside.json<SessionState>()).toMatchObject({ user: { name: 'ruta', role: 'mechanic' }, byPin: true });
  const headers = { cookie: cookieOf(inside), 'x-csrf-token': inside.json<SessionState>().csrfToken! };
  expect(code(await t.app.inject({ method: 'GET', url: '/api/people', headers }))).toBe('not_allowed');
  const own = await t.app.inject({
    method: 'PUT',
    url: '/api/me/password',
    headers,
    payload: { current: 'two', password: 'gravel tuesday mast' },
  });
  expect(code(own)).toBe('not_at_tablet');
});

test('a PIN is guessed slowly, from all tablets together', async () => {
  const answers: string[] = [];
  for (let i = 0; i < THROTTLE.pin.free + 2; i += 1) answers.push(code(await enter(tove, `90${10 + i}`)));
  expect(answers.filter((answer) => answer === 'wrong_pin')).toHaveLength(THROTTLE.pin.free);
  const second = await owner.send('POST', '/api/tablets', { name: 'Bay 2' });
  const refused = await enter(tove, '4821', String(second.headers['set-cookie']).split(';')[0]);
  expect(code(refused)).toBe('too_many_tries');
  // Its owner signs in with the password all the same, and a new PIN is not held back by guesses at the old.
  const mechanic = await t.signIn('tove');
  await mechanic.send('PUT', '/api/me/pin', { current: 'one', pin: '6302' });
  expect((await enter(tove, '6302')).statusCode).toBe(200);
});

test.each(['123', '1111', '2345', '9876', '123456789', '12a4'])('the PIN %s is refused', async (pin) => {
  expect((await owner.send('PUT', '/api/me/pin', { current: 'two', pin })).json()).toMatchObject({
    code: 'bad_input',
    fields: [{ path: 'pin' }],
  });
});

test('after a rest it knows nobody; a touch keeps it awake; put away it knows nobody either', async () => {
  let at = Date.parse('2026-11-24T12:00:00Z');
  const clock = { ...shopClock('2026-11-24'), now: () => new Date(at) };
  const source = t.services.source;
  const app = await buildApp({
    services: buildServices(source, clock),
    cookieSecret: 'only-for-tests-only-for-tests-only',
    webRoot: null,
  });
  const inside = await app.inject({
    method: 'POST',
    url: '/api/bay/enter',
    headers: { cookie: tablet },
    payload: { personId: tove, pin: '4821' },
  });
  const headers = { cookie: cookieOf(inside), 'x-csrf-token': inside.json<SessionState>().csrfToken! };
  const reads = async (): Promise<number> =>
    (await app.inject({ method: 'GET', url: '/api/vehicles', headers })).statusCode;
  const minutes = BAY_REST_MINUTES * 60_000;
  at += minutes - 1000;
  expect(await reads()).toBe(200);
  expect((await app.inject({ method: 'POST', url: '/api/bay/awake', headers })).statusCode).toBe(200);
  at += minutes - 1000;
  expect(await reads()).toBe(200);
  // Reading by itself, as pages do, is no touch.
  at += 2000;
  expect(await reads()).toBe(401);
  await app.close();
  const again = await enter(tove, '4821');
  const other = { cookie: cookieOf(again) };
  expect((await t.app.inject({ method: 'GET', url: '/api/vehicles', headers: other })).statusCode).toBe(200);
  const [row] = (await owner.get('/api/tablets')).json<{ rows: BayTablet[] }>().rows;
  await owner.send('DELETE', `/api/tablets/${row!.id}`);
  expect((await t.app.inject({ method: 'GET', url: '/api/vehicles', headers: other })).statusCode).toBe(401);
  expect(code(await enter(tove, '4821'))).toBe('no_tablet');
});
