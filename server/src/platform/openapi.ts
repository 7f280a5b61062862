import { allEndpoints, type Endpoint, type ErrorCode, ERRORS, isFile, isUpload } from '@crosspeen/contract';
import Fastify from 'fastify';
import {
  jsonSchemaTransform,
  jsonSchemaTransformObject,
  serializerCompiler,
  validatorCompiler,
} from 'fastify-type-provider-zod';
import { schemaOf } from './mount.ts';

type Operation = Record<string, unknown> & { readonly summary?: string; responses?: Record<string, unknown> };
type Document = { paths?: Record<string, Record<string, Operation>>; components?: Record<string, unknown> };

const PROBLEM = {
  description: 'What is wrong and the mend, as problem details (RFC 9457)',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};
const BYTES = { type: 'string', contentMediaType: 'application/octet-stream' } as const;

/** `GET /api/vehicles/{id}/outlook` as a name: getVehiclesByIdOutlook. */
function operationId(method: string, path: string): string {
  const words = path
    .replace(/^\/api\//, '')
    .replace(/\{(\w+)\}/g, 'by/$1')
    .split(/[^a-zA-Z0-9]+/)
    .filter(Boolean);
  return method + words.map((word) => word[0]!.toUpperCase() + word.slice(1)).join('');
}

/** Names of the schemas that a text of the description refers to. */
const referredTo = (text: string): Set<string> =>
  new Set([...text.matchAll(/"#\/components\/schemas\/(\w+)"/g)].map(([, name]) => name!));

/** Leaves out the schemas that nothing refers to any more, and what only those referred to. */
function dropUnused(document: Document): void {
  const schemas = document.components?.['schemas'] as Record<string, unknown> | undefined;
  for (let left = -1; schemas && left !== Object.keys(schemas).length;) {
    left = Object.keys(schemas).length;
    const used = referredTo(JSON.stringify(document));
    for (const name of Object.keys(schemas)) if (!used.has(name)) delete schemas[name];
  }
}

const SECURITY_SCHEMES = {
  session: { type: 'apiKey', in: 'cookie', name: 'crosspeen', description: 'The session, from POST /api/session' },
  page: {
    type: 'apiKey',
    in: 'header',
    name: 'x-csrf-token',
    description: 'The token of the session, with everything that changes something',
  },
} as const;

/** What an operation needs: nothing, the session, or the session and the token of its page. */
function securityOf({ method, needs }: Endpoint): readonly object[] {
  if (needs === 'nothing') return [];
  return method === 'GET' ? [{ session: [] }] : [{ session: [], page: [] }];
}

const problem = { $ref: '#/components/responses/Problem' };

/** Failures of one endpoint in particular, by status, each with its codes. */
function failuresOf({ errors = [] }: Endpoint): Record<string, object> {
  const byStatus = new Map<number, ErrorCode[]>();
  for (const code of errors) {
    const { status } = ERRORS[code];
    byStatus.set(status, [...(byStatus.get(status) ?? []), code]);
  }
  return Object.fromEntries(
    [...byStatus].map(([status, codes]) => [status, { ...PROBLEM, description: codes.join(', ') }]),
  );
}

function fileAnswer(mediaType: string): object {
  const schema = mediaType === 'application/json' ? { type: 'object' } : BYTES;
  return { description: 'The file', content: { [mediaType]: { schema } } };
}

const FILE_BODY = {
  required: true,
  description: 'The file as it is',
  content: { 'application/octet-stream': { schema: BYTES } },
};

/** Adds to an operation what the table says of its endpoint beyond the schemas. */
function complete(operation: Operation, path: string, endpoint: Endpoint): void {
  Object.assign(operation, {
    operationId: operationId(endpoint.method.toLowerCase(), path),
    security: securityOf(endpoint),
    ...(isUpload(endpoint.body) ? { requestBody: FILE_BODY } : {}),
    responses: {
      ...operation.responses,
      ...(isFile(endpoint.answer) ? { 200: fileAnswer(endpoint.answer.mediaType) } : {}),
      ...failuresOf(endpoint),
      '4XX': problem,
      default: problem,
    },
  });
}

/** The endpoints as the framework's own documents have them: by method and path with braces. */
const byOperation = (): ReadonlyMap<string, Endpoint> =>
  new Map(
    allEndpoints().map((endpoint) => [
      `${endpoint.method.toLowerCase()} ${endpoint.path.replace(/:(\w+)/g, '{$1}')}`,
      endpoint,
    ]),
  );

function describeWhole(
  description: Parameters<typeof jsonSchemaTransformObject>[0],
): ReturnType<typeof jsonSchemaTransformObject> {
  const document = jsonSchemaTransformObject(description) as Document;
  document.components = { ...document.components, responses: { Problem: PROBLEM }, securitySchemes: SECURITY_SCHEMES };
  const endpoints = byOperation();
  for (const [path, operations] of Object.entries(document.paths ?? {}))
    for (const [method, operation] of Object.entries(operations))
      complete(operation, path, endpoints.get(`${method} ${path}`)!);
  dropUnused(document);
  return document;
}

const INFO = {
  title: 'Crosspeen',
  version: '0.1.0',
  description: 'What gives way next on this engine, at this mileage, with this history.',
  license: { name: 'MIT', identifier: 'MIT' },
};

/**
 * The description of the API (OpenAPI 3.1), printed from the table of endpoints. It needs neither services nor
 * database: the endpoints are mounted without handlers on an application that nobody reaches.
 */
export async function describeApi(): Promise<object> {
  const { default: swagger } = await import('@fastify/swagger');
  const app = Fastify();
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  await app.register(swagger, {
    openapi: {
      openapi: '3.1.0',
      info: INFO,
      servers: [{ url: '/', description: 'The workshop this description was read from' }],
    },
    transform: jsonSchemaTransform,
    transformObject: describeWhole,
  });
  for (const endpoint of allEndpoints())
    app.route({ method: endpoint.method, url: endpoint.path, schema: schemaOf(endpoint), handler: () => null });
  await app.ready();
  const document = app.swagger();
  await app.close();
  return document;
}
