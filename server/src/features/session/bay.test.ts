import {
  BAY_REST_MINUTES,
  WRONG_PINS,
  type BayTablet,
  type PeopleChange,
  type Person,
  type SessionState,
} from '@crosspeen/contract';
import { buildApp, buildServices, shopClock } from '../../app.ts';
import { webcrypto } from 'node:crypto';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { TestTablet } from '../../testing/tablet.ts';
import { THROTTLE } from './throttle.ts';

let t: TestApp;
let owner: Client;
let tablet: TestTablet;
let tove: string;
beforeEach(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  tablet = await TestTablet.made(t.app, owner, 'Bay 1');
  const mechanic = await t.signIn('tove');
  await mechanic.send('PUT', '/api/me/pin', { current: 'one', pin: '4821' });
  tove = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.find(({ name }) => name === 'tove')!.id;
});
afterEach(() => t.close());

const enter = (personId: string, pin: string, at = tablet) => at.enter(personId, pin);
const anyKey = async (): Promise<string> => {
  const { publicKey } = await webcrypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, true, ['sign']);
  return Buffer.from(await webcrypto.subtle.exportKey('spki', publicKey)).toString('base64url');
};
const code = (response: { json: <T>() => T }): string => response.json<{ code: string }>().code;
const cookieOf = (response: { headers: Record<string, unknown> }): string =>
  `${tablet.cookie}; ${String(response.headers['set-cookie']).split(';')[0]!}`;

test('the tablet’s secret is out of reach of scripts and other sites, and only its digest is kept', async () => {
  const made = await owner.send('POST', '/api/tablets', { name: 'Bay 2', publicKey: await anyKey() });
  expect(String(made.headers['set-cookie'])).toMatch(/crosspeen_tablet=.*HttpOnly.*SameSite=Strict/);
  const secret = String(made.headers['set-cookie']).split(';')[0]!.split('=')[1]!;
  const [row] = await t.services.source.query<{ hash: string }[]>(
    "select token_hash as hash from bay_tablet where name = 'Bay 2'",
  );
  expect(row!.hash).not.toContain(secret);
});

test('it says who can change over: those with a PIN who work here', async () => {
  const state = (
    await t.app.inject({ method: 'GET', url: '/api/session', headers: { cookie: tablet.cookie } })
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
  expect(code(await enter(tove, '4821', tablet.with({ cookie: 'crosspeen_tablet=another' })))).toBe('no_tablet');
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
  const second = await TestTablet.made(t.app, owner, 'Bay 2');
  const refused = await enter(tove, '4821', second);
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
  const inside = await tablet.with({ app }).enter(tove, '4821');
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

test('a stolen cookie is worth nothing without the key, and a signature is used once, for one person', async () => {
  const thief = await TestTablet.made(t.app, owner, 'Bay 2');
  expect(code(await enter(tove, '4821', thief.with({ cookie: tablet.cookie })))).toBe('no_tablet');
  const { challenge } = (await tablet.challenge()).json<{ challenge: string }>();
  const signature = await tablet.signed(challenge, tove);
  const ruta = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.find(({ name }) => name === 'ruta')!.id;
  expect(code(await tablet.enterWith({ personId: ruta, pin: '4821', challenge, signature }))).toBe('no_tablet');
  expect((await tablet.enterWith({ personId: tove, pin: '4821', challenge, signature })).statusCode).toBe(200);
  expect(code(await tablet.enterWith({ personId: tove, pin: '4821', challenge, signature }))).toBe('stale_page');
  const made = await owner.send('POST', '/api/tablets', { name: 'Bay 3', publicKey: 'AAAA' });
  expect(made.json()).toMatchObject({ code: 'bad_input', fields: [{ path: 'publicKey' }] });
});

test('five wrong PINs, of whoever, lock the tablet until somebody signs in there with a password', async () => {
  const people = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.map(({ id }) => id);
  const answers: string[] = [];
  for (let i = 0; i < WRONG_PINS; i += 1) answers.push(code(await enter(people[i % people.length]!, '9035')));
  expect(answers).toEqual([...Array<string>(WRONG_PINS - 1).fill('wrong_pin'), 'tablet_locked']);
  expect(code(await enter(tove, '4821'))).toBe('tablet_locked');
  const state = async (): Promise<SessionState> =>
    (await t.app.inject({ method: 'GET', url: '/api/session', headers: { cookie: tablet.cookie } })).json();
  expect((await state()).bay).toMatchObject({ locked: true });
  expect((await owner.get('/api/tablets')).json()).toMatchObject({ rows: [{ name: 'Bay 1', locked: true }] });
  // Signing in elsewhere opens nothing.
  await t.signIn('anselm');
  expect((await state()).bay).toMatchObject({ locked: true });
  await t.app.inject({
    method: 'POST',
    url: '/api/session',
    headers: { cookie: tablet.cookie },
    payload: { name: 'anselm', password: 'three' },
  });
  expect((await state()).bay).toMatchObject({ locked: false });
  expect((await enter(tove, '4821')).statusCode).toBe(200);
  const trail = (await owner.get('/api/people/changes')).json<{ rows: PeopleChange[] }>().rows;
  expect(trail.slice(0, 2)).toMatchObject([
    { kind: 'tablet_opened', by: 'Anselm', after: 'Bay 1' },
    { kind: 'tablet_locked', by: null, before: 'Bay 1' },
  ]);
});

test('a right PIN clears what its owner mistyped, and of many tries at once none is free', async () => {
  for (let i = 0; i < 3; i += 1) {
    expect(code(await enter(tove, '4822'))).toBe('wrong_pin');
    expect(code(await enter(tove, '4822'))).toBe('wrong_pin');
    expect((await enter(tove, '4821')).statusCode).toBe(200);
  }
  const people = (await owner.get('/api/people')).json<{ rows: Person[] }>().rows.map(({ id }) => id);
  const tries = await Promise.all(Array.from({ length: 30 }, (_, i) => enter(people[i % people.length]!, '9035')));
  const codes = tries.map(code);
  expect(codes.filter((one) => one === 'wrong_pin').length).toBeLessThan(WRONG_PINS);
  expect(codes.every((one) => ['wrong_pin', 'tablet_locked', 'stale_page', 'too_many_tries'].includes(one))).toBe(true);
});
