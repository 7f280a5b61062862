import { ERRORS, problemDetails } from '@crosspeen/contract';
import Fastify from 'fastify';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { buildApp } from '../app.ts';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';
import { shopClock } from './clock.ts';
import { answersChecked, problems } from './http.ts';
import { badField, Problem } from './problem.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn();
});
afterAll(() => t.close());

const NOBODY = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';

test.each([
  ['GET', '/api/nothing', undefined, 'not_found'],
  ['POST', '/api/nothing', {}, 'not_found'],
  ['GET', `/api/vehicles/${NOBODY}`, undefined, 'not_found'],
  ['GET', '/api/vehicles/not-an-id', undefined, 'bad_input'],
  ['GET', '/api/vehicles?page=0', undefined, 'bad_input'],
  ['GET', '/api/vehicles?pageSize=1000000', undefined, 'bad_input'],
  ['GET', '/api/vehicles?page=x', undefined, 'bad_input'],
  ['GET', '/api/vehicles?order=colour', undefined, 'bad_input'],
  ['POST', `/api/visits/${NOBODY}/call-off`, { version: 1 }, 'not_found'],
  ['POST', `/api/visits/${NOBODY}/call-off`, { version: 0 }, 'bad_input'],
  ['POST', `/api/changes/${NOBODY}/undo`, {}, 'not_found'],
  ['POST', `/api/vehicles/${NOBODY}/readings`, { day: '2026-01-01', km: 1 }, 'not_found'],
  ['POST', '/api/vehicles', { plate: 'x'.repeat(30) }, 'bad_input'],
] as const)('%s %s answers problem details of the catalogue: %#', async (method, url, body, code) => {
  const response = method === 'GET' ? await client.get(url) : await client.send(method, url, body);
  const details = problemDetails.parse(response.json());
  expect([details.code, details.status, response.statusCode]).toEqual([code, ERRORS[code].status, ERRORS[code].status]);
  expect(response.headers['content-type']).toContain('application/problem+json');
  expect(details.detail.length).toBeGreaterThan(10);
  expect(JSON.stringify(details)).not.toMatch(/at \w+ \(|node_modules|select |SQL/);
});

test('a body over a mebibyte is too large, one that is no JSON is bad input', async () => {
  expect((await client.send('POST', '/api/vehicles', { note: 'x'.repeat(1_200_000) })).json()).toMatchObject({
    status: 413,
    code: 'too_large',
  });
  expect(
    (await client.send('POST', '/api/vehicles', '{"plate": ', { 'content-type': 'application/json' })).json(),
  ).toMatchObject({ status: 400, code: 'bad_input' });
});

test('only what passes with time says when to ask again', async () => {
  const gone = await client.get(`/api/vehicles/${NOBODY}`);
  expect(gone.headers['retry-after']).toBeUndefined();
});

test('the interface’s own files: what has its hash in its name is kept for ever, the page never; every path is the page', async () => {
  const root = mkdtempSync(join(tmpdir(), 'crosspeen-web-'));
  mkdirSync(join(root, 'assets'));
  writeFileSync(join(root, 'index.html'), '<title>Page</title>');
  writeFileSync(join(root, 'assets', 'a-1b2c.js'), 'export {};');
  const app = await buildApp({
    services: t.services,
    cookieSecret: 'only-for-tests-only-for-tests-only',
    webRoot: root,
    checkAnswers: true,
  });
  const get = (url: string) => app.inject({ method: 'GET', url });
  expect((await get('/assets/a-1b2c.js')).headers['cache-control']).toBe('public, max-age=31536000, immutable');
  for (const url of ['/', '/index.html', '/vehicles/1/outlook']) {
    const page = await get(url);
    expect([page.statusCode, page.body, page.headers['cache-control']]).toEqual([
      200,
      '<title>Page</title>',
      'no-cache',
    ]);
  }
  for (const url of ['/assets/gone.js', '/api/gone']) {
    const gone = await get(url);
    expect([gone.statusCode, gone.json<{ code: string }>().code]).toEqual([404, 'not_found']);
  }
  expect((await app.inject({ method: 'POST', url: '/vehicles' })).statusCode).toBe(404);
  await app.close();
  rmSync(root, { recursive: true });
});

test('an unexpected failure is told without its cause', async () => {
  const broken = await testApp();
  const asker = await broken.signIn();
  await broken.services.source.query('alter table vehicle_standing rename to hidden_away');
  const response = await asker.get('/api/vehicles');
  expect(response.json()).toMatchObject({ status: 500, code: 'unexpected', detail: ERRORS.unexpected.message });
  expect(response.body).not.toContain('vehicle_standing');
  await broken.close();
});

test('nothing may be asked of another machine, and the page cannot be framed by one', async () => {
  const { headers } = await client.get('/api/health');
  expect(String(headers['content-security-policy']).split(';')).toEqual([
    "default-src 'self'",
    "base-uri 'self'",
    "connect-src 'self'",
    "font-src 'self'",
    "form-action 'self'",
    "frame-ancestors 'self'",
    "img-src 'self' data: blob:",
    "object-src 'none'",
    "script-src 'self'",
    "script-src-attr 'none'",
    "style-src 'self' 'unsafe-inline'",
    "worker-src 'self'",
  ]);
  expect(headers['x-frame-options']).toBe('SAMEORIGIN');
});

test('messages of fields are plain words', async () => {
  const response = await client.send('POST', `/api/vehicles/${NOBODY}/readings`, { day: 7 });
  expect(response.json<{ fields: { path: string; message: string }[] }>().fields).toEqual([
    { path: 'day', message: 'must be text, not a number' },
    { path: 'km', message: 'is missing' },
  ]);
});

test('a choice that is none is told with those there are', async () => {
  const response = await client.send('POST', `/api/vehicles/${NOBODY}/findings`, {
    weakPointId: NOBODY,
    day: '2026-01-01',
    result: 'fine',
    note: null,
  });
  expect(response.json<{ fields: { path: string; message: string }[] }>().fields).toEqual([
    { path: 'result', message: 'must be one of sound, worn, failed' },
  ]);
});

test('the API describes every route it has', async () => {
  const { paths } = (await client.get('/api/openapi.json')).json<{
    paths: Record<string, Record<string, { responses: object }>>;
  }>();
  expect((await client.get('/api/openapi.json')).json()).toMatchObject({
    openapi: '3.1.0',
    info: { title: 'Crosspeen', license: { identifier: 'MIT' } },
    servers: [{ url: '/', description: 'The workshop this description was read from' }],
  });
  const operations = Object.values(paths).flatMap((methods) => Object.values(methods));
  expect(operations.length).toBeGreaterThanOrEqual(20);
  expect(operations.every(({ responses }) => Object.keys(responses).includes('200'))).toBe(true);
});

describe('the clock', () => {
  test('stands still where it is told to', () => {
    const clock = shopClock('2026-11-24');
    expect(clock.todayIso()).toBe('2026-11-24');
    expect(clock.today()).toBe(20_781);
  });
  test('else it is the real one', () => expect(Math.abs(shopClock().now().getTime() - Date.now())).toBeLessThan(5000));
  test('a day that is none is refused at the start', () => expect(() => shopClock('someday')).toThrow(/CROSSPEEN_NOW/));
});

test('a problem carries its field and its mend', () => {
  const details = badField('km', 'must not be negative').toDetails();
  expect(details).toMatchObject({
    code: 'bad_input',
    status: 400,
    detail: 'km: must not be negative',
    fields: [{ path: 'km', message: 'must not be negative' }],
  });
  expect(new Problem('not_found').message).toBe(ERRORS.not_found.message);
});

describe('answers held to their schemas', () => {
  const answering = async (answer: unknown, raw: boolean): Promise<number> => {
    const app = Fastify();
    app.setValidatorCompiler(validatorCompiler);
    app.setSerializerCompiler(serializerCompiler);
    await app.register(problems);
    await app.register(answersChecked);
    app.get(
      '/it',
      { schema: { response: { 200: z.object({ chance: z.number() }) } }, config: { asMade: raw } },
      () => answer,
    );
    const { statusCode } = await app.inject('/it');
    await app.close();
    return statusCode;
  };
  test.each([
    [{ chance: 0.2 }, true, 200],
    [{ chance: Number.NaN }, true, 500],
    [{ chance: '0.2' }, true, 500],
    [{ chance: 0.2, more: 1 }, true, 500],
    [{ chance: 0.2, more: 1 }, false, 200],
    [{}, false, 500],
  ])('%j, written as it is made: %s, is answered with %i', async (answer, raw, status) => {
    expect(await answering(answer, raw)).toBe(status);
  });
});
