import { readFileSync } from 'node:fs';
import https from 'node:https';
import { join } from 'node:path';
import type { FastifyInstance } from 'fastify';
import { problemDetails, type ProblemDetails } from '@crosspeen/contract';
import { generate } from 'selfsigned';
import { buildApp, buildServices, openDatabase, serverSecret, shopClock } from './app.ts';
import { NOW, ownDatabase, testApp, type TestApp } from './testing/harness.ts';

let t: TestApp;
beforeAll(async () => {
  t = await testApp();
});
afterAll(() => t.close());

const served = (options: Partial<Parameters<typeof buildApp>[0]>): Promise<FastifyInstance> =>
  buildApp({
    services: t.services,
    cookieSecret: 'only-for-tests-only-for-tests-only',
    webRoot: null,
    hostNames: ['shop.example'],
    ...options,
  });

test('over TLS it answers with its own certificate, and its cookie stays on TLS', async () => {
  const { cert, private: key } = await generate([{ name: 'commonName', value: 'shop.example' }], {
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: 'shop.example' }] }],
  });
  const app = await served({ tls: { cert, key } });
  const at = new URL(await app.listen({ host: '127.0.0.1', port: 0 }));
  const answer = await new Promise<{ status: number | undefined; headers: Record<string, unknown> }>(
    (resolve, reject) => {
      const request = https.request(
        {
          host: '127.0.0.1',
          port: at.port,
          path: '/api/session',
          method: 'POST',
          ca: cert,
          servername: 'shop.example',
          headers: { host: 'shop.example', 'content-type': 'application/json' },
        },
        (response) => {
          response.resume();
          response.on('end', () => resolve({ status: response.statusCode, headers: response.headers }));
        },
      );
      request.on('error', reject);
      request.end(JSON.stringify({ name: 'ruta', password: 'two' }));
    },
  );
  expect(answer.status).toBe(200);
  expect(String(answer.headers['set-cookie'])).toMatch(/Secure/);
  expect(answer.headers['strict-transport-security']).toBeDefined();
  await app.close();
});

test('a proxy that is named is believed when it says who asks and how; another is not', async () => {
  const headers = { host: 'shop.example', 'x-forwarded-for': '203.0.113.9', 'x-forwarded-proto': 'https' };
  const signIn = (app: FastifyInstance) =>
    app.inject({ method: 'POST', url: '/api/session', headers, payload: { name: 'ruta', password: 'wrong' } });
  const who = async (): Promise<string[]> =>
    (await t.services.source.query<{ who: string }[]>("select who from sign_in_try where what = 'address'")).map(
      (row) => row.who,
    );
  await t.services.source.query('delete from sign_in_try');
  const behind = await served({ proxy: '127.0.0.1' });
  await signIn(behind);
  expect(await who()).toEqual(['203.0.113.9']);
  const right = await behind.inject({
    method: 'POST',
    url: '/api/session',
    headers,
    payload: { name: 'ruta', password: 'two' },
  });
  expect(String(right.headers['set-cookie'])).toMatch(/Secure/);
  await behind.close();
  await t.services.source.query('delete from sign_in_try');
  const plain = await served({});
  await signIn(plain);
  expect(await who()).toEqual(['127.0.0.1']);
  await plain.close();
});

test('figures are for a collector with the token; no address and no header stands in for it', async () => {
  const app = await served({ proxy: '127.0.0.1', metricsToken: 'a token for tests' });
  const ask = (headers: Record<string, string>) => app.inject({ method: 'GET', url: '/metrics', headers });
  await app.inject({ method: 'GET', url: '/api/health' });
  const own = await ask({ host: 'localhost', authorization: 'Bearer a token for tests' });
  expect(own.headers['content-type']).toMatch(/^text\/plain/);
  expect(own.body).toMatch(/crosspeen_request_seconds_count\{[^}]*route="\/api\/health"[^}]*\} 1/);
  expect(own.body).toMatch(/^crosspeen_vehicles_behind \d+$/m);
  expect(own.body).toMatch(/^process_cpu_seconds_total /m);
  expect((await ask({ host: 'localhost' })).statusCode).toBe(404);
  expect((await ask({ host: 'localhost', authorization: 'Bearer another' })).statusCode).toBe(404);
  expect(
    (await ask({ host: 'localhost', 'x-forwarded-for': '127.0.0.1', 'x-forwarded-host': 'localhost' })).statusCode,
  ).toBe(404);
  await app.close();
  const off = await served({});
  expect(
    (await off.inject({ method: 'GET', url: '/metrics', headers: { authorization: 'Bearer null' } })).statusCode,
  ).toBe(404);
  await off.close();
});

test('the health of the server is that of its database too', async () => {
  const { url, drop } = await ownDatabase('empty');
  const source = await openDatabase(url, 1);
  const services = buildServices(source, shopClock(NOW));
  const app = await served({ services });
  expect((await app.inject({ method: 'GET', url: '/api/health' })).json()).toEqual({ ok: true });
  await drop();
  const away = await app.inject({ method: 'GET', url: '/api/health' });
  expect([away.statusCode, away.json<{ code: string }>().code]).toEqual([503, 'database_away']);
  await app.close();
  await source.destroy().catch(() => undefined);
});

test('several server processes sign cookies alike', async () => {
  const { source } = t.services;
  const secrets = await Promise.all([serverSecret(source), serverSecret(source), serverSecret(source)]);
  expect(new Set(secrets).size).toBe(1);
  expect(secrets[0].length).toBeGreaterThanOrEqual(32);
});

test('a workshop that begins takes the example in, and lets it go again', async () => {
  const { url, drop } = await ownDatabase('empty');
  const source = await openDatabase(url, 4);
  const services = buildServices(source, shopClock(NOW), {
    example: join(import.meta.dirname, '../../demo/packs/harbour.json'),
  });
  await services.settings.ensure();
  const userId = await services.sessions.ensureUser({
    name: 'marit',
    displayName: 'Marit',
    role: 'owner',
    password: 'x',
    demo: false,
  });
  expect(await services.start.beginnings()).toMatchObject({
    engines: 0,
    vehicles: 0,
    people: 1,
    example: { state: 'offered' },
  });
  const { changeId } = await services.start.takeExample({ userId });
  const begun = await services.start.beginnings();
  expect(begun.engines).toBe(
    (
      JSON.parse(readFileSync(join(import.meta.dirname, '../../demo/packs/harbour.json'), 'utf8')) as {
        families: unknown[];
      }
    ).families.length,
  );
  expect(begun.example).toMatchObject({ state: 'taken', changeId });
  await services.desk.undo({ userId, role: 'owner' }, changeId!);
  expect(await services.start.beginnings()).toMatchObject({ engines: 0, example: { state: 'offered' } });
  await services.judging.close();
  await source.destroy();
  await drop();
});

test.each([
  ['GET', '/api/vehicles/%E0%A4%A', 400],
  ['GET', '/api', 404],
  ['GET', '/api?x=1', 404],
  ['GET', '/api/', 404],
  ['GET', '/api/nothing/here', 404],
  ['POST', '/api/intake?name=a.csv', 400],
  ['PATCH', '/api/vehicles', 404],
] as const)('%s %s is answered as a problem document', async (method, url, status) => {
  const client = await t.signIn('ruta');
  const answer = await (method === 'GET' ? client.get(url) : client.send(method as 'POST', url));
  expect({ url, status: answer.statusCode, type: String(answer.headers['content-type']).split(';')[0] }).toEqual({
    url,
    status,
    type: 'application/problem+json',
  });
  expect(problemDetails.safeParse(answer.json()).success).toBe(true);
});

test.each(['walk', 'walk.pdf', 'purchase', 'purchase.pdf'])(
  'a line without a mileage is answered by %s with what it lacks',
  async (page) => {
    const client = await t.signIn('ruta');
    const answer = await client.get(`/api/lookup/${page}?line=QV20T`);
    expect(answer.json()).toMatchObject({ status: 422, code: 'line_incomplete' });
    const [field] = answer.json<ProblemDetails>().fields!;
    expect(field).toMatchObject({ path: 'line', message: expect.stringContaining('reading') });
  },
);
