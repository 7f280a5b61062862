import { ERRORS } from '@crosspeen/contract';
import { z } from 'zod';
import { ProblemError, query, rememberCsrfToken, send, sendFile } from './client.ts';

const ANSWER = z.object({ ok: z.boolean() });
const real = globalThis.fetch;
let asked: { path: string; init: RequestInit }[] = [];

/** The network answers with this, or fails with it. */
function network(answer: Response | Error): void {
  globalThis.fetch = (path, init) => {
    asked.push({ path: path as string, init: init! });
    return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
  };
}
const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
const failure = async (work: Promise<unknown>): Promise<ProblemError> => {
  const error: unknown = await work.then(
    () => null,
    (reason: unknown) => reason,
  );
  expect(error).toBeInstanceOf(ProblemError);
  return error as ProblemError;
};
beforeEach(() => {
  asked = [];
  rememberCsrfToken('a token');
});
afterAll(() => {
  globalThis.fetch = real;
});

describe('what is sent', () => {
  test('a change carries the session’s token and its body as JSON, with the session’s cookie', async () => {
    network(json({ ok: true }));
    expect(await send(ANSWER, 'PUT', '/api/x', { body: { a: 1 } })).toEqual({ ok: true });
    expect(asked).toEqual([
      {
        path: '/api/x',
        init: {
          method: 'PUT',
          credentials: 'same-origin',
          headers: { 'content-type': 'application/json', 'x-csrf-token': 'a token' },
          body: '{"a":1}',
        },
      },
    ]);
  });
  test('reading carries no token, and a change without a body no type', async () => {
    network(json({ ok: true }));
    await send(ANSWER, 'GET', '/api/x');
    network(json({ ok: true }));
    await send(ANSWER, 'DELETE', '/api/x');
    expect(asked.map(({ init: { headers, body } }) => [headers, body])).toEqual([
      [{}, undefined],
      [{ 'x-csrf-token': 'a token' }, undefined],
    ]);
  });
  test('nobody signed in has no token to send', async () => {
    rememberCsrfToken(null);
    network(json({ ok: true }));
    await send(ANSWER, 'POST', '/api/session', { body: {} });
    expect(asked[0]!.init.headers).toEqual({ 'content-type': 'application/json' });
  });
  test('a file goes as it is', async () => {
    network(json({ ok: true }));
    const file = new Blob(['Plate;Km\n']);
    await sendFile(ANSWER, '/api/intake', file);
    expect(asked[0]!.init).toMatchObject({
      method: 'POST',
      body: file,
      headers: { 'content-type': 'application/octet-stream', 'x-csrf-token': 'a token' },
    });
  });
});

describe('what comes back', () => {
  test('a refusal is a problem with its fields and the row as it is now', async () => {
    const details = {
      type: 'about:blank',
      title: 'Changed',
      status: 409,
      code: 'changed_meanwhile',
      detail: 'Somebody was faster.',
      fields: [{ path: 'plate', message: 'is taken' }],
      current: { version: 4 },
    };
    network(json(details, 409));
    const error = await failure(send(ANSWER, 'PUT', '/api/x', { body: {} }));
    expect(error.details).toEqual(details);
    expect(error.message).toBe('Somebody was faster.');
  });
  test.each([
    ['a page of something in between', new Response('<html>', { status: 502 })],
    ['JSON of another kind', json({ error: 'no' }, 500)],
  ])('%s is told as unexpected, in the catalogue’s words, with its status', async (_what, answer) => {
    const { status } = answer;
    network(answer);
    expect((await failure(send(ANSWER, 'GET', '/api/x'))).details).toMatchObject({
      code: 'unexpected',
      status,
      detail: ERRORS.unexpected.message,
    });
  });
  test('no connection says that what was typed is kept', async () => {
    network(new TypeError('Failed to fetch'));
    const { details } = await failure(send(ANSWER, 'POST', '/api/x', { body: {} }));
    expect(details).toMatchObject({ status: 0 });
    expect(details.detail).toContain('What you typed is kept');
  });
  test('a question given up is no failure of the connection', async () => {
    const given = new AbortController();
    given.abort();
    const reason = Object.assign(new Error('given up'), { name: 'AbortError' });
    network(reason);
    await expect(send(ANSWER, 'GET', '/api/x', { signal: given.signal })).rejects.toBe(reason);
  });
  test('an answer of another shape is refused, not shown', async () => {
    network(json({ ok: 'yes' }));
    await expect(send(ANSWER, 'GET', '/api/x')).rejects.toBeInstanceOf(z.ZodError);
  });
});

test.each([
  [{}, ''],
  [{ q: '', page: 1 }, '?page=1'],
  [{ q: 'a & b', order: null, least: 0, verdict: undefined }, '?q=a+%26+b&least=0'],
] as const)('%j as a query is %j', (values, text) => expect(query(values)).toBe(text));
