import type { SignedInAt } from '@crosspeen/contract';
import { testApp, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
beforeEach(async () => {
  t = await testApp();
});
afterEach(() => t.close());

const code = (response: { json: <T>() => T }): string => response.json<{ code: string }>().code;
const rows = (response: { json: <T>() => T }): SignedInAt[] => response.json<{ rows: SignedInAt[] }>().rows;

test('one’s own password is changed with the old one, and every other sign-in ends', async () => {
  const [here, there] = [await t.signIn('tove'), await t.signIn('tove')];
  const wrong = await here.send('PUT', '/api/me/password', { current: 'oen', password: 'gravel tuesday mast' });
  expect(wrong.json()).toMatchObject({ code: 'bad_input', fields: [{ path: 'current' }] });
  const weak = await here.send('PUT', '/api/me/password', { current: 'one', password: 'tovetovetove' });
  expect(weak.json()).toMatchObject({ code: 'bad_input', fields: [{ path: 'password' }] });
  expect((await there.get('/api/vehicles')).statusCode).toBe(200);
  expect(
    (await here.send('PUT', '/api/me/password', { current: 'one', password: 'gravel tuesday mast' })).statusCode,
  ).toBe(200);
  expect((await here.get('/api/vehicles')).statusCode).toBe(200);
  expect(code(await there.get('/api/vehicles'))).toBe('sign_in_required');
  const signIn = (password: string) =>
    t.app.inject({ method: 'POST', url: '/api/session', payload: { name: 'tove', password } });
  expect((await signIn('one')).statusCode).toBe(401);
  expect((await signIn('gravel tuesday mast')).statusCode).toBe(200);
});

test('an old password is guessed no faster by its own session', async () => {
  const here = await t.signIn('tove');
  const answers: string[] = [];
  for (let i = 0; i < 8; i += 1)
    answers.push(code(await here.send('PUT', '/api/me/pin', { current: `guess ${i}`, pin: '4821' })));
  expect(answers).toContain('too_many_tries');
});

test('everybody sees his own sign-ins, ends one or all others, and no one else’s', async () => {
  const [a, b, c] = [await t.signIn('tove'), await t.signIn('tove'), await t.signIn('tove')];
  const other = await t.signIn('anselm');
  const own = rows(await a.get('/api/me/sign-ins'));
  expect(own).toHaveLength(3);
  expect(own.filter(({ here }) => here)).toHaveLength(1);
  const bHere = rows(await b.get('/api/me/sign-ins')).find(({ here }) => here)!;
  // What tells a sign-in from another is not what its cookie holds.
  const sids = await t.services.source.query<{ sid: string }[]>('select sid from session');
  expect(sids.map(({ sid }) => sid)).not.toContain(bHere.id);
  expect(code(await other.send('DELETE', `/api/me/sign-ins/${bHere.id}`))).toBe('not_found');
  expect(rows(await a.send('DELETE', `/api/me/sign-ins/${bHere.id}`))).toHaveLength(2);
  expect((await b.get('/api/vehicles')).statusCode).toBe(401);
  expect((await c.get('/api/vehicles')).statusCode).toBe(200);
  expect(rows(await a.send('DELETE', '/api/me/sign-ins/others'))).toHaveLength(1);
  expect((await c.get('/api/vehicles')).statusCode).toBe(401);
  expect((await other.get('/api/vehicles')).statusCode).toBe(200);
});
