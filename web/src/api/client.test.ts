import { type Endpoint, ERRORS, type ValueEndpoint } from '@crosspeen/contract';
import { z } from 'zod';
import { call, ProblemError, rememberCsrfToken } from './client.ts';

/** An endpoint of its own for these tests. */
const at = (method: Endpoint['method'], path: string): ValueEndpoint => ({
  method,
  path,
  summary: 'A test',
  tag: 'test',
  needs: 'sign_in',
  answer: z.object({ ok: z.boolean() }),
});
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
    expect(
      await call({ ...at('PUT', '/api/x'), body: z.object({ a: z.number().optional() }) }, { body: { a: 1 } }),
    ).toEqual({ ok: true });
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
    await call(at('GET', '/api/x'));
    network(json({ ok: true }));
    await call(at('DELETE', '/api/x'));
    expect(asked.map(({ init: { headers, body } }) => [headers, body])).toEqual([
      [{}, undefined],
      [{ 'x-csrf-token': 'a token' }, undefined],
    ]);
  });
  test('nobody signed in has no token to send', async () => {
    rememberCsrfToken(null);
    network(json({ ok: true }));
    await call({ ...at('POST', '/api/session'), body: z.object({ a: z.number().optional() }) }, { body: {} });
    expect(asked[0]!.init.headers).toEqual({ 'content-type': 'application/json' });
  });
  test('a file goes as it is', async () => {
    network(json({ ok: true }));
    const file = new Blob(['Plate;Km\n']);
    await call({ ...at('POST', '/api/intake'), body: { mostBytes: 100, read: 'bytes' } }, { body: file });
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
    const error = await failure(
      call({ ...at('PUT', '/api/x'), body: z.object({ a: z.number().optional() }) }, { body: {} }),
    );
    expect(error.details).toEqual(details);
    expect(error.message).toBe('Somebody was faster.');
  });
  test.each([
    ['a page of something in between', new Response('<html>', { status: 502 })],
    ['JSON of another kind', json({ error: 'no' }, 500)],
  ])('%s is told as unexpected, in the catalogue’s words, with its status', async (_what, answer) => {
    const { status } = answer;
    network(answer);
    expect((await failure(call(at('GET', '/api/x')))).details).toMatchObject({
      code: 'unexpected',
      status,
      detail: ERRORS.unexpected.message,
    });
  });
  test('no connection says that what was typed is kept', async () => {
    network(new TypeError('Failed to fetch'));
    const { details } = await failure(
      call({ ...at('POST', '/api/x'), body: z.object({ a: z.number().optional() }) }, { body: {} }),
    );
    expect(details).toMatchObject({ status: 0 });
    expect(details.detail).toContain('What you typed is kept');
  });
  test('a question given up is no failure of the connection', async () => {
    const given = new AbortController();
    given.abort();
    const reason = Object.assign(new Error('given up'), { name: 'AbortError' });
    network(reason);
    await expect(call(at('GET', '/api/x'), { signal: given.signal })).rejects.toBe(reason);
  });
  test('an answer of another shape is refused, not shown', async () => {
    network(json({ ok: 'yes' }));
    await expect(call(at('GET', '/api/x'))).rejects.toBeInstanceOf(z.ZodError);
  });
});
