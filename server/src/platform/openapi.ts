import { jsonSchemaTransformObject } from 'fastify-type-provider-zod';

type Operation = Record<string, unknown> & { readonly summary?: string; responses?: Record<string, unknown> };
type Document = { paths?: Record<string, Record<string, Operation>>; components?: Record<string, unknown> };

const PROBLEM = {
  description: 'What is wrong and the mend, as problem details (RFC 9457)',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};
const BYTES = { type: 'string', contentMediaType: 'application/octet-stream' } as const;

/** What is sent as a file, and what comes as one, by the path's own words. */
const UPLOADS: readonly string[] = ['/api/intake', '/api/library/packs/preview'];
function downloadType(path: string, method: string): string | null {
  if (path.endsWith('.csv')) return 'text/csv';
  if (path.endsWith('.pdf')) return 'application/pdf';
  if (path === '/api/photos/{id}' && method === 'get') return 'image/jpeg';
  if (path === '/api/archive') return 'application/gzip';
  return path === '/api/library/export' || path === '/api/library/pack.schema.json' ? 'application/json' : null;
}

/** Nobody has signed in yet, or asks whether anybody has. */
const OPEN: readonly string[] = ['/api/session'];

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

/** The description of the API made whole: what every operation has is said once here, so that none can forget it. */
export function describeWhole(
  description: Parameters<typeof jsonSchemaTransformObject>[0],
): ReturnType<typeof jsonSchemaTransformObject> {
  const document = jsonSchemaTransformObject(description) as Document;
  document.components = {
    ...document.components,
    responses: { Problem: PROBLEM },
    securitySchemes: {
      session: { type: 'apiKey', in: 'cookie', name: 'crosspeen', description: 'The session, from POST /api/session' },
      page: {
        type: 'apiKey',
        in: 'header',
        name: 'x-csrf-token',
        description: 'The token of the session, with everything that changes something',
      },
    },
  };
  const problem = { $ref: '#/components/responses/Problem' };
  for (const [path, operations] of Object.entries(document.paths ?? {})) {
    for (const [method, operation] of Object.entries(operations)) {
      const download = downloadType(path, method);
      Object.assign(operation, {
        operationId: operationId(method, path),
        security: OPEN.includes(path) ? [] : method === 'get' ? [{ session: [] }] : [{ session: [], page: [] }],
        ...(method === 'post' && UPLOADS.includes(path)
          ? {
              requestBody: {
                required: true,
                description: 'The file as it is',
                content: { 'application/octet-stream': { schema: BYTES } },
              },
            }
          : {}),
        responses: {
          ...operation.responses,
          ...(download === null
            ? {}
            : {
                200: {
                  description: 'The file',
                  content: { [download]: { schema: download === 'application/json' ? { type: 'object' } : BYTES } },
                },
              }),
          '4XX': problem,
          default: problem,
        },
      });
    }
  }
  dropUnused(document);
  return document;
}
