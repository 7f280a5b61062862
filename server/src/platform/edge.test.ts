import { ERRORS, SAID } from '@crosspeen/contract';
import Fastify, { type FastifyInstance } from 'fastify';
import { hosts, onLoopback } from './hosts.ts';
import { answerBrokenRequest, problems } from './http.ts';
import { sendingOf } from './once.ts';
import { badField, Problem } from './problem.ts';

describe('a failure on its way out', () => {
  let app: FastifyInstance;
  let thrown: unknown;
  beforeAll(async () => {
    app = Fastify();
    await app.register(problems);
    app.get('/it', () => {
      throw thrown as Error;
    });
    app.post('/it', () => ({}));
  });
  afterAll(() => app.close());
  const answered = async (error: unknown) => {
    thrown = error;
    const { headers, json } = await app.inject('/it');
    return { ...json<{ code: string; detail: string; fields?: unknown }>(), wait: headers['retry-after'] };
  };
  const framework = (code: string, statusCode?: number) =>
    Object.assign(new Error('inner words'), { code, statusCode });

  test.each([
    ['FST_ERR_CTP_INVALID_MEDIA_TYPE', 'unsupported_media', ERRORS.unsupported_media.message],
    ['FST_ERR_CTP_BODY_TOO_LARGE', 'too_large', ERRORS.too_large.message],
    ['FST_ERR_CTP_EMPTY_JSON_BODY', 'bad_input', SAID.emptyJson.detail],
    ['FST_ERR_CTP_INVALID_JSON_BODY', 'bad_input', SAID.brokenJson.detail],
    ['FST_ERR_CTP_INVALID_CONTENT_LENGTH', 'bad_input', SAID.wrongLength.detail],
    ['FST_ERR_BAD_URL', 'bad_input', SAID.unreadableAddress.detail],
  ])('%s is %s, in our words', async (code, means, detail) =>
    expect(await answered(framework(code))).toMatchObject({ code: means, detail }),
  );

  test.each([
    [400, 'bad_input'],
    [404, 'not_found'],
    [413, 'too_large'],
    [415, 'unsupported_media'],
    [431, 'headers_too_large'],
    [418, 'bad_input'],
    [499, 'bad_input'],
    [399, 'unexpected'],
    [500, 'unexpected'],
    [undefined, 'unexpected'],
  ])('of what nobody expected, the status %s is %s', async (status, code) =>
    expect((await answered(framework('FST_SOMETHING', status))).code).toBe(code),
  );

  test.each([
    [new Problem('busy'), '2'],
    [new Problem('database_away'), '3'],
    [new Problem('no_space'), '30'],
    [new Problem('too_many_tries', { retryAfterSeconds: 12.2 }), '13'],
    [new Problem('busy', { retryAfterSeconds: 9 }), '9'],
    [new Problem('not_found'), undefined],
  ])('%s may be asked again after %s s', async (problem, wait) => {
    const said = await answered(problem);
    expect([said.code, said.wait]).toEqual([problem.code, wait]);
  });

  test('of many fields as much is said as anybody reads; one without a place is the request itself', async () => {
    const fields = Array.from({ length: 60 }, (_, i) => ({ path: `rows.${i}`, message: 'is missing' }));
    const long = await answered(new Problem('bad_input', { fields }));
    expect([long.detail.length, long.fields]).toEqual([600, fields]);
    expect((await answered(badField('', 'carries nothing'))).detail).toBe('request: carries nothing');
    const two = [
      { path: 'day', message: 'is missing' },
      { path: 'km', message: 'is missing' },
    ];
    expect((await answered(new Problem('taken', { fields: two }))).detail).toBe('day: is missing; km: is missing');
    expect((await answered(new Problem('not_found', { fields: two }))).detail).toBe(ERRORS.not_found.message);
  });

  test('where nothing is, that is said with its address, as much of it as is read', async () => {
    const asked = async (method: 'GET' | 'POST', url: string) => (await app.inject({ method, url })).json<object>();
    expect(await asked('GET', '/api/nothing')).toMatchObject({ detail: 'There is nothing at /api/nothing.' });
    expect(await asked('POST', '/nothing')).toMatchObject({ code: 'not_found' });
    expect(await asked('GET', `/api/${'x'.repeat(300)}`)).toMatchObject({
      detail: `There is nothing at ${`/api/${'x'.repeat(300)}`.slice(0, 200)}.`,
    });
  });
});

describe('what never becomes a request', () => {
  const answered = (code: string | undefined, writable: boolean): { said: string | null; ended: boolean } => {
    const heard = { said: null as string | null, ended: false };
    answerBrokenRequest(code === undefined ? {} : { code }, {
      writable,
      end: ((text: string) => (heard.said = text)) as never,
      destroy: (() => (heard.ended = true)) as never,
    });
    return heard;
  };
  test.each([
    ['HPE_HEADER_OVERFLOW', '431', 'headers_too_large'],
    ['HPE_INVALID_METHOD', '400', 'bad_input'],
    [undefined, '400', 'bad_input'],
  ])('%s is answered %s %s', (code, status, means) => {
    const { said, ended } = answered(code, true);
    const [head, body] = said!.split('\r\n\r\n') as [string, string];
    expect(head.split('\r\n')).toEqual([
      `HTTP/1.1 ${status} ${means}`,
      'content-type: application/problem+json',
      `content-length: ${Buffer.byteLength(body)}`,
      'connection: close',
    ]);
    expect([JSON.parse(body), ended]).toEqual([new Problem(means as 'bad_input').toDetails(), false]);
  });
  test('nobody is there any more: it is let go', () => {
    expect(answered('ECONNRESET', true)).toEqual({ said: null, ended: true });
    expect(answered('HPE_INVALID_METHOD', false)).toEqual({ said: null, ended: true });
  });
});

describe('one sending of a form', () => {
  const form = { method: 'POST', url: '/api/vehicles', headers: { 'idempotency-key': 'k' }, body: { km: 1 } };
  test('is known by its key, where it went and what it said', () => {
    const known = sendingOf(form);
    expect(known).toMatch(/^[\w-]{43}$/);
    expect(sendingOf({ ...form })).toBe(known);
    const others = [
      { ...form, method: 'PUT' },
      { ...form, url: '/api/visits' },
      { ...form, body: { km: 2 } },
      { ...form, body: undefined },
      { ...form, headers: { 'idempotency-key': 'l' } },
    ].map(sendingOf);
    expect(new Set([known, ...others]).size).toBe(6);
    expect(sendingOf({ ...form, body: undefined })).toBe(sendingOf({ ...form, body: null }));
  });
  test('without a key of a hundred signs at most is none', () => {
    const keyed = (key: string | string[] | undefined) => sendingOf({ ...form, headers: { 'idempotency-key': key } });
    expect([keyed(undefined), keyed(''), keyed(['k']), keyed('k'.repeat(101))]).toEqual([null, null, null, null]);
    expect(keyed('k'.repeat(100))).not.toBeNull();
  });
});

describe('the names the workshop is known under', () => {
  test('this machine’s own', () => {
    const asked = (headers: object, remoteAddress = '127.0.0.1') =>
      onLoopback({ headers, raw: { socket: { remoteAddress } } } as never);
    const own = ['localhost', 'LOCALHOST:8400', '127.0.0.1:8400', '[::1]:8400', 'localhost.'];
    expect(own.map((host) => asked({ host }))).toEqual(own.map(() => true));
    const others = ['workshop.lan', '127.0.0.1.example:80', 'localhost:84x', '10.0.0.1'];
    expect(others.map((host) => asked({ host }))).toEqual(others.map(() => false));
    // Neither a name that is sent along nor a proxy on this machine makes a stranger one of us.
    expect(asked({ host: 'localhost' }, '10.0.0.7')).toBe(false);
    expect(asked({ host: 'localhost', 'x-forwarded-for': '127.0.0.1' })).toBe(false);
  });
  test('and those that are told; nobody else’s', async () => {
    const app = Fastify();
    await app.register(problems);
    await app.register(hosts, { names: [' Bench.LAN:8400 ', ''] });
    app.get('/it', () => 'here');
    const status = async (host: string): Promise<number> =>
      (await app.inject({ url: '/it', headers: { host } })).statusCode;
    expect(
      await Promise.all(['bench.lan', 'BENCH.lan:9000', 'localhost', 'other.lan', 'bench.lan.other.lan'].map(status)),
    ).toEqual([200, 200, 200, ERRORS.wrong_host.status, ERRORS.wrong_host.status]);
    await app.close();
  });
});
