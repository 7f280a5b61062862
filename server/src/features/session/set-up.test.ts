import { CAUTIONS, limitsOf, type Caution, type SessionState, type Settings } from '@crosspeen/contract';
import { DEFAULT_LIMITS, SAFETY_LIMIT } from '@crosspeen/core';
import type { FastifyInstance } from 'fastify';
import { buildApp, buildServices, makeSetUpCode, openDatabase, shopClock, type Services } from '../../app.ts';
import { ownDatabase } from '../../testing/harness.ts';

let app: FastifyInstance;
let services: Services;
let drop: () => Promise<void>;
beforeEach(async () => {
  const database = await ownDatabase('empty');
  ({ drop } = database);
  const source = await openDatabase(database.url, 4);
  // Half past eleven in the evening of the 23rd in London is the 24th in Athens already.
  services = buildServices(source, shopClock('2026-11-23T23:30:00Z'));
  await services.settings.ensure();
  app = await buildApp({
    services,
    cookieSecret: 'only-for-tests-only-for-tests-only',
    webRoot: null,
    checkAnswers: true,
  });
});
afterEach(async () => {
  await app.close();
  await services.judging.close();
  await services.source.destroy();
  await drop();
});

const body = (code: string, changes: { shop?: object; owner?: object } = {}) => ({
  code,
  shop: {
    workshopName: 'Tarred Quay Garage',
    currency: 'GBP',
    taxRate: 0.21,
    distanceUnit: 'mi',
    timeZone: 'Europe/Athens',
    firstWeekday: 0,
    numberFormat: 'de-CH',
    dateFormat: 'sv-SE',
    labourRateMinor: 8800,
    caution: 'careful',
    ...changes.shop,
  },
  owner: { name: 'Marit', displayName: 'Marit Dunne', password: 'quay lantern forty ropes', ...changes.owner },
});
const setUp = (payload: object) => app.inject({ method: 'POST', url: '/api/set-up', payload });
const state = async (): Promise<SessionState> =>
  (await app.inject({ method: 'GET', url: '/api/session' })).json<SessionState>();

test('a new workshop says that it is to be set up; then the owner is in, and everything is as he said', async () => {
  expect(await state()).toMatchObject({ setUp: 'needed', user: null, demoAccounts: [], today: '2026-11-23' });
  const code = (await makeSetUpCode(services.source))!;
  const done = await setUp(body(code.toLowerCase().replace('-', ' ')));
  expect(done.json<SessionState>()).toMatchObject({
    user: { name: 'marit', role: 'owner' },
    setUp: 'done',
    workshopName: 'Tarred Quay Garage',
    formats: { numberFormat: 'de-CH', dateFormat: 'sv-SE', timeZone: 'Europe/Athens' },
    today: '2026-11-24',
  });
  const cookie = String(done.headers['set-cookie']).split(';')[0]!;
  const settings = (await app.inject({ method: 'GET', url: '/api/settings', headers: { cookie } })).json<Settings>();
  expect(settings).toMatchObject({ currency: 'GBP', taxRate: 0.21, distanceUnit: 'mi', labourRateMinor: 8800 });
  expect(settings.limits.engine).toBeCloseTo(DEFAULT_LIMITS.engine / 2, 12);
  expect(settings.safetyLimit).toBeCloseTo(SAFETY_LIMIT / 2, 12);
});

test('a second attempt is told, whatever code it has', async () => {
  const code = (await makeSetUpCode(services.source))!;
  expect((await setUp(body(code))).statusCode).toBe(200);
  expect((await setUp(body(code, { owner: { name: 'other' } }))).json()).toMatchObject({ code: 'set_up_already' });
  expect(await makeSetUpCode(services.source)).toBeNull();
  expect(await services.people.list()).toHaveLength(1);
});

test('of two at once one is the owner', async () => {
  const code = (await makeSetUpCode(services.source))!;
  const answers = await Promise.all([
    setUp(body(code)),
    setUp(body(code, { owner: { name: 'other', displayName: 'Somebody' } })),
  ]);
  expect(answers.map(({ statusCode }) => statusCode).sort()).toEqual([200, 409]);
  expect(await services.people.list()).toHaveLength(1);
});

test('a wrong code, or one that a newer replaced, sets nothing up; guessing has to wait', async () => {
  const old = (await makeSetUpCode(services.source))!;
  const code = (await makeSetUpCode(services.source))!;
  expect((await setUp(body(old))).json()).toMatchObject({ code: 'wrong_code', fields: [{ path: 'code' }] });
  const codes: string[] = [];
  for (let i = 0; i < 6; i += 1) codes.push((await setUp(body(`GUES-S00${i}`))).json<{ code: string }>().code);
  expect(codes).toContain('too_many_tries');
  await services.source.query('delete from sign_in_try');
  expect((await setUp(body(code))).statusCode).toBe(200);
});

test.each<[string, { shop?: object; owner?: object }, string]>([
  ['a password of the list', { owner: { password: 'password1234' } }, 'owner.password'],
  ['a password out of the names', { owner: { password: 'maritdunne' } }, 'owner.password'],
  ['a short password', { owner: { password: 'ropes' } }, 'owner.password'],
  ['a sign-in name of two words', { owner: { name: 'marit dunne' } }, 'owner.name'],
  ['no name of the shop', { shop: { workshopName: ' ' } }, 'shop.workshopName'],
  ['a time zone that is none', { shop: { timeZone: 'Harbour/Quay' } }, 'shop.timeZone'],
  ['a currency that is none', { shop: { currency: 'POUNDS' } }, 'shop.currency'],
])('%s is refused with its field, and nothing is half done', async (_words, changes, path) => {
  const code = (await makeSetUpCode(services.source))!;
  const refused = await setUp(body(code, changes));
  expect(refused.json()).toMatchObject({ code: 'bad_input', fields: [{ path }] });
  expect(await state()).toMatchObject({ setUp: 'needed', workshopName: 'Our workshop' });
  await services.source.query('delete from sign_in_try');
  expect((await setUp(body(code))).statusCode).toBe(200);
});

test.each(Object.keys(CAUTIONS) as Caution[])('%s: limits are shares, the engine’s below a leak’s', (caution) => {
  const { limits } = limitsOf(caution);
  expect(limits.cosmetic).toBeNull();
  expect(limits.engine!).toBeLessThan(limits.leak!);
  for (const limit of Object.values(limits)) expect(limit === null || (limit > 0 && limit <= 1)).toBe(true);
});
