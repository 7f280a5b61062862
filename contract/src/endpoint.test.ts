import { z } from 'zod';
import { addressOf, type Endpoint, errorsOf, get, queryText } from './endpoint.ts';
import { allEndpoints } from './endpoint-list.ts';
import * as endpoints from './endpoints/index.ts';
import { ERRORS } from './errors.ts';

const all = allEndpoints();

test('every endpoint stands under a method and path of its own', () => {
  const at = all.map(({ method, path }) => `${method} ${path}`);
  expect(all.length).toBeGreaterThan(130);
  expect(new Set(at).size).toBe(at.length);
});

test('no address fits two paths, each of which is plainer than the other at one place', () => {
  const paths = [...new Set(all.map(({ path }) => path))].map((path) => path.split('/'));
  const isOpen = (part: string): boolean => part.startsWith(':');
  const ambiguous = paths.flatMap((one, at) =>
    paths.slice(at + 1).flatMap((other) => {
      if (one.length !== other.length) return [];
      const fits = one.every((part, i) => part === other[i] || isOpen(part) || isOpen(other[i]!));
      const onlyHere = one.some((part, i) => isOpen(part) && !isOpen(other[i]!));
      const onlyThere = one.some((part, i) => !isOpen(part) && isOpen(other[i]!));
      return fits && onlyHere && onlyThere ? [`${one.join('/')} and ${other.join('/')}`] : [];
    }),
  );
  expect(ambiguous).toEqual([]);
});

test('the parameters of every path are those of its schema', () => {
  const named = ({ path }: Endpoint): string[] => [...path.matchAll(/:(\w+)/g)].map(([, name]) => name!).sort();
  for (const endpoint of all)
    expect([endpoint.path, named(endpoint)]).toEqual([endpoint.path, Object.keys(endpoint.params?.shape ?? {}).sort()]);
});

test('whatever only reads is a GET, and a GET has no body', () => {
  for (const { method, path, body } of all)
    expect([path, method === 'GET' && body !== undefined]).toEqual([path, false]);
});

test('every change but signing in and out needs a permission or a sign-in', () => {
  const open = all.filter(({ method, needs }) => method !== 'GET' && needs === 'nothing').map(({ path }) => path);
  expect(new Set(open)).toEqual(
    new Set([
      '/api/session',
      '/api/set-up',
      '/api/links/look',
      '/api/links/use',
      '/api/bay/challenge',
      '/api/bay/enter',
    ]),
  );
});

describe('an address', () => {
  test('has its parameters and its query filled in', () => {
    expect(addressOf(endpoints.vehicles.history, { params: { id: 'a' }, query: { page: 2 } })).toBe(
      '/api/vehicles/a/history?page=2',
    );
  });
  test('keeps what a parameter holds out of the path', () => {
    expect(addressOf(endpoints.session.endSignIn, { params: { id: 'a/../b?c' } })).toBe(
      '/api/me/sign-ins/a%2F..%2Fb%3Fc',
    );
  });
  test('is refused without a parameter that it needs', () => {
    expect(() => addressOf(endpoints.vehicles.get as Endpoint, {})).toThrow(
      '/api/vehicles/:id is asked for without id',
    );
  });
  test.each([
    [{}, ''],
    [{ q: '', page: 1 }, '?page=1'],
    [{ q: 'a & b', order: null, least: 0, verdict: undefined }, '?q=a+%26+b&least=0'],
  ] as const)('of %j has the query %j', (values, text) => expect(queryText(values)).toBe(text));
});

describe('the failures of an endpoint', () => {
  const plain = { ...get('/x', { summary: 'A test', answer: z.object({}) }), tag: 'test' };
  test('are those of the server, and a sign-in that is missing', () => {
    const codes = errorsOf(plain);
    expect([codes.has('busy'), codes.has('sign_in_required'), codes.has('not_allowed')]).toEqual([true, true, false]);
    expect([codes.has('not_found'), codes.has('stale_page'), codes.has('taken')]).toEqual([false, false, false]);
  });
  test('follow from what it takes and needs', () => {
    const changing = { ...plain, method: 'PUT', needs: 'editVehicles', body: z.object({}), errors: ['taken'] } as const;
    for (const code of ['not_allowed', 'stale_page', 'not_found', 'unsupported_media', 'no_space', 'taken'] as const)
      expect([code, errorsOf(changing).has(code)]).toEqual([code, true]);
    expect(errorsOf({ ...plain, needs: 'nothing' }).has('sign_in_required')).toBe(false);
  });
  test('every failure of the catalogue is one that some endpoint names', () => {
    const named = new Set(all.flatMap((endpoint) => [...errorsOf(endpoint)]));
    expect(Object.keys(ERRORS).filter((code) => !named.has(code as keyof typeof ERRORS))).toEqual([]);
  });
});
