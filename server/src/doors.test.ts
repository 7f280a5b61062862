import { allEndpoints, ERRORS, MAY, ROLES, type Permission, type ProblemDetails, type Role } from '@crosspeen/contract';
import { DEFAULT_SETTINGS } from './app.ts';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describeApi } from './platform/openapi.ts';
import { testApp, type Account, type Client, type TestApp } from './testing/harness.ts';

const NOBODY = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';
interface Door {
  readonly method: Method;
  readonly path: string;
  readonly open: boolean;
}

let t: TestApp;
let doors: Door[];
const clients = new Map<Role, Client>();
beforeAll(async () => {
  t = await testApp();
  doors = allEndpoints().map(({ method, path, needs }) => ({
    method,
    path: path.replace(/:(\w+)/g, '{$1}'),
    open: needs === 'nothing',
  }));
  const accounts: Readonly<Record<Role, Account>> = { mechanic: 'tove', adviser: 'anselm', owner: 'ruta' };
  for (const role of ROLES) clients.set(role, await t.signIn(accounts[role]));
});
afterAll(() => t.close());

const at = (path: string): string => path.replace(/\{\w+\}/g, NOBODY);
/** Queries without which a question is none. */
const ASKED: Readonly<Record<string, string>> = {
  '/api/lookup': '?line=QV20T',
  '/api/lookup/meaning': '?line=QV20T',
  '/api/lookup/questions': '?line=QV20T',
  '/api/lookup/why/{weakPointId}': '?line=QV20T',
  '/api/library/touches': `?familyId=${NOBODY}`,
  '/api/settings/limit-picture': '?consequence=engine',
  '/api/intake/{id}/preview': '?kind=vehicles',
};

test('only what comes before a sign-in, and what the server says of itself, is open', () => {
  expect(
    doors
      .filter(({ open }) => open)
      .map(({ method, path }) => `${method} ${path}`)
      .sort(),
  ).toEqual([
    'DELETE /api/session',
    'GET /api/health',
    'GET /api/openapi.json',
    'GET /api/session',
    'GET /metrics',
    'POST /api/bay/challenge',
    'POST /api/bay/enter',
    'POST /api/links/look',
    'POST /api/links/use',
    'POST /api/session',
    'POST /api/set-up',
  ]);
});

test('nothing is read by somebody who is not signed in', async () => {
  const reading = doors.filter(({ method, open }) => method === 'GET' && !open);
  expect(reading.length).toBeGreaterThan(35);
  for (const { path } of reading) {
    const response = await t.app.inject({ method: 'GET', url: at(path) + (ASKED[path] ?? '') });
    expect([path, response.statusCode]).toEqual([path, ERRORS.sign_in_required.status]);
    expect(response.json<ProblemDetails>().code).toBe('sign_in_required');
  }
});

test('nothing is changed by somebody who is not signed in, whatever is sent', async () => {
  const changing = doors.filter(({ method, open }) => method !== 'GET' && !open);
  expect(changing.length).toBeGreaterThan(25);
  const counts = async (): Promise<unknown> =>
    t.services.source.query(
      `select (select count(*) from change) as changes, (select count(*) from library_change) as library,
          (select count(*) from fleet_run) as rounds`,
    );
  const before = await counts();
  for (const { method, path } of changing) {
    const { statusCode } = await t.app.inject({ method, url: at(path), payload: {} });
    expect([path, statusCode]).toEqual([path, 401]);
  }
  expect(await counts()).toEqual(before);
});

test('nothing is changed by a page without the session’s token', async () => {
  for (const { method, path } of doors.filter((door) => door.method !== 'GET' && !door.open)) {
    const response = await clients.get('owner')!.send(method as 'POST', at(path), {}, { 'x-csrf-token': 'another' });
    expect([path, response.json<ProblemDetails>().code]).toEqual([path, 'stale_page']);
  }
});

/** What only some may do, each with a body that would be good enough. */
const GUARDED: readonly (readonly [Permission, Exclude<Method, 'GET' | 'DELETE'>, string, object | string])[] = [
  ['editSettings', 'PUT', '/api/settings', { ...DEFAULT_SETTINGS, version: 99 }],
  ['managePeople', 'POST', '/api/people', { name: '', displayName: '', role: 'owner' }],
  ['managePeople', 'PUT', `/api/people/${NOBODY}`, { displayName: 'x', role: 'owner', active: true, version: 1 }],
  ['managePeople', 'POST', `/api/people/${NOBODY}/link`, {}],
  ['managePeople', 'POST', '/api/tablets', { name: '' }],
  ['editSettings', 'POST', '/api/backups', {}],
  ['publishLibrary', 'POST', '/api/start/example', {}],
  ['publishLibrary', 'POST', '/api/library/engines', {}],
  ['judgeFleet', 'POST', '/api/fleet/stop', {}],
  ['importFiles', 'POST', '/api/intake?name=a.csv', 'Plate,Km\n'],
  ['importFiles', 'POST', `/api/intake/${NOBODY}/stop`, {}],
  ['publishLibrary', 'POST', '/api/library/packs/preview?name=a.json', '{}'],
  ['publishLibrary', 'POST', '/api/library/packs/import', { uploadId: NOBODY, choices: {} }],
];

test.each(GUARDED)('%s: %s %s is for those roles alone', async (permission, method, path, body) => {
  for (const role of ROLES) {
    const response = await clients
      .get(role)!
      .send(method, path, body, typeof body === 'string' ? { 'content-type': 'application/octet-stream' } : {});
    const refused = response.statusCode === 403 && response.json<ProblemDetails>().code === 'not_allowed';
    expect([role, refused]).toEqual([role, !(MAY[permission] as readonly Role[]).includes(role)]);
  }
});

test.each(['/api/archive', '/api/people', '/api/people/changes', '/api/tablets', '/api/backups'])(
  '%s is read by the owner alone',
  async (path) => {
    for (const role of ROLES)
      expect([role, (await clients.get(role)!.get(path)).statusCode]).toEqual([role, role === 'owner' ? 200 : 403]);
  },
);

test('a file that was not sent is refused as an empty one', async () => {
  const photo = `/api/photos/${NOBODY}?vehicleId=${NOBODY}&day=2026-11-24`;
  for (const [method, path] of [
    ['PUT', photo],
    ['POST', '/api/library/packs/preview'],
    ['POST', '/api/intake'],
  ] as const) {
    const response = await clients.get('owner')!.send(method, path);
    expect([path, response.statusCode, response.json<ProblemDetails>().code]).toEqual([path, 400, 'bad_file']);
  }
});

test('what is asked about somebody who is not there is not there, and never an unexpected failure', async () => {
  for (const { path } of doors.filter(
    ({ method, path: each }) => method === 'GET' && each.includes('{') && !each.includes('/lists/'),
  )) {
    const { statusCode } = await clients.get('owner')!.get(at(path) + (ASKED[path] ?? ''));
    expect([path, [200, 404, 422].includes(statusCode)]).toEqual([path, true]);
  }
});

/** A schema of what may be sent, as the API describes it. */
interface Sendable {
  readonly $ref?: string;
  readonly type?: string | readonly string[];
  readonly enum?: unknown;
  readonly const?: unknown;
  readonly format?: string;
  readonly pattern?: string;
  readonly maxLength?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly maxItems?: number;
  readonly items?: Sendable;
  readonly properties?: Record<string, Sendable>;
  readonly additionalProperties?: Sendable | boolean;
  readonly propertyNames?: Sendable;
  readonly anyOf?: readonly Sendable[];
  readonly allOf?: readonly Sendable[];
  readonly oneOf?: readonly Sendable[];
}
interface Described {
  readonly parameters?: readonly { readonly name: string; readonly in: string; readonly schema: Sendable }[];
  readonly requestBody?: { readonly content: Record<string, { readonly schema: Sendable }> };
}

/** Places of a schema that may hold anything of any length or size. */
function boundless(schema: Sendable, at: string): string[] {
  const inside = [...(schema.anyOf ?? []), ...(schema.allOf ?? []), ...(schema.oneOf ?? [])].flatMap((one) =>
    boundless(one, at),
  );
  const types = schema.type === undefined ? [] : [schema.type].flat();
  if (schema.enum !== undefined || schema.const !== undefined) return inside;
  const own: string[] = [];
  if (
    types.includes('string') &&
    schema.maxLength === undefined &&
    schema.format === undefined &&
    schema.pattern === undefined
  )
    own.push(`${at}: text`);
  if (
    (types.includes('number') || types.includes('integer')) &&
    (schema.maximum === undefined || (schema.minimum === undefined && schema.exclusiveMinimum === undefined))
  )
    own.push(`${at}: number`);
  if (types.includes('array') && schema.maxItems === undefined) own.push(`${at}: list`);
  return [
    ...own,
    ...inside,
    ...(schema.items ? boundless(schema.items, `${at}[]`) : []),
    ...Object.entries(schema.properties ?? {}).flatMap(([name, one]) => boundless(one, `${at}.${name}`)),
    ...(typeof schema.additionalProperties === 'object' ? boundless(schema.additionalProperties, `${at}.*`) : []),
    ...(schema.propertyNames ? boundless(schema.propertyNames, `${at} names`) : []),
  ];
}

test('the published description is the one that the server prints', async () => {
  const published: unknown = JSON.parse(readFileSync(join(import.meta.dirname, '../../docs/openapi.json'), 'utf8'));
  expect(await describeApi()).toEqual(published);
});

describe('the description of the API', () => {
  let described: {
    paths: Record<
      string,
      Record<
        string,
        Described & {
          operationId: string;
          summary: string;
          tags?: string[];
          security: unknown[];
          responses: Record<string, unknown>;
        }
      >
    >;
    info: object;
    servers: object[];
    components: { schemas: Record<string, Sendable>; securitySchemes: object; responses: object };
  };
  beforeAll(async () => {
    described = (await t.app.inject({ method: 'GET', url: '/api/openapi.json' })).json();
  });

  test('every text, number and list that may be sent has its limits', () => {
    const whole = (schema: Sendable): Sendable =>
      schema.$ref === undefined ? schema : described.components.schemas[schema.$ref.split('/').at(-1)!]!;
    const faults = Object.entries(described.paths).flatMap(([path, operations]) =>
      Object.entries(operations).flatMap(([method, { parameters = [], requestBody }]) => [
        ...parameters.flatMap(({ name, schema }) => boundless(whole(schema), `${method} ${path} ?${name}`)),
        ...Object.entries(requestBody?.content ?? {})
          .filter(([type]) => type === 'application/json')
          .flatMap(([, { schema }]) => boundless(whole(schema), `${method} ${path} `)),
      ]),
    );
    expect(faults).toEqual([]);
  });

  test('every operation has a name of its own, says what it does, who may, and how it fails', () => {
    const operations = Object.values(described.paths).flatMap((methods) => Object.values(methods));
    expect(new Set(operations.map(({ operationId }) => operationId)).size).toBe(operations.length);
    for (const { operationId, summary, security, responses } of operations) {
      expect([operationId, typeof summary, Array.isArray(security), 'default' in responses]).toEqual([
        operationId,
        'string',
        true,
        true,
      ]);
    }
  });

  test('every operation says so in a sentence, under its list, with what comes back', () => {
    const silent = Object.entries(described.paths).flatMap(([path, operations]) =>
      Object.entries(operations).flatMap(([method, { summary, tags = [], responses }]) => {
        const good = responses['200'] as { content?: Record<string, { schema?: object }> } | undefined;
        const contents = Object.values(good?.content ?? {});
        const comes = contents.length > 0 && contents.every(({ schema }) => Object.keys(schema ?? {}).length > 0);
        const told =
          /^[A-Z].{5,}[^.]$/.test(summary) && tags.length > 0 && tags.every((tag) => /^[a-z ]{3,}$/.test(tag));
        return told && comes ? [] : [`${method} ${path}`];
      }),
    );
    expect(silent).toEqual([]);
  });

  test('it says whose it is, how one signs in, and what a problem looks like', () => {
    expect(described.info).toEqual({
      title: 'Crosspeen',
      version: '0.1.0',
      description: 'What gives way next on this engine, at this mileage, with this history.',
      license: { name: 'MIT', identifier: 'MIT' },
    });
    expect(described.servers).toEqual([{ url: '/', description: expect.stringMatching(/workshop/) as string }]);
    const { securitySchemes, responses, schemas } = described.components;
    expect(securitySchemes).toMatchObject({
      session: { type: 'apiKey', in: 'cookie', name: 'crosspeen' },
      page: { type: 'apiKey', in: 'header', name: 'x-csrf-token' },
    });
    expect(responses).toMatchObject({
      Problem: { content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } } },
    });
    expect(schemas['Problem']).toMatchObject({ type: 'object' });
    // Nothing stands there that nothing refers to.
    const text = JSON.stringify(described);
    for (const name of Object.keys(schemas)) expect(text).toContain(`"#/components/schemas/${name}"`);
  });

  test('to read one is signed in; to change something the page’s token goes along; signing in needs neither', () => {
    const { paths } = described;
    expect(paths['/api/session']!['post']!.security).toEqual([]);
    expect(paths['/api/vehicles']!['get']!.security).toEqual([{ session: [] }]);
    expect(paths['/api/vehicles']!['post']!.security).toEqual([{ session: [], page: [] }]);
    expect(paths['/api/vehicles/{id}/outlook']!['get']!.operationId).toBe('getVehiclesByIdOutlook');
  });

  test('files have their kinds, going and coming', () => {
    expect(Object.keys(described.paths['/api/intake']!['post']!.requestBody!.content)).toEqual([
      'application/octet-stream',
    ]);
    expect(described.paths['/api/lists/vehicles.csv']!['get']!.responses).toMatchObject({
      200: { content: { 'text/csv': {} } },
    });
    expect(described.paths['/api/photos/{id}']!['get']!.responses).toMatchObject({
      200: { content: { 'image/jpeg': {} } },
    });
    expect(described.paths['/api/vehicles/{id}/walk.pdf']!['get']!.responses).toMatchObject({
      200: { content: { 'application/pdf': {} } },
    });
    expect(described.paths['/api/archive']!['get']!.responses).toMatchObject({
      200: { content: { 'application/gzip': {} } },
    });
  });
});
