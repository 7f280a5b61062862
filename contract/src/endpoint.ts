import type { z } from 'zod';
import type { ErrorCode } from './problem.ts';
import type { Permission } from './roles.ts';
import type { Said } from './said.ts';

/** Permission that an endpoint needs; `nothing` is open to everybody. */
export type Needs = Permission | 'sign_in' | 'nothing';

/** A file as an answer: its media type. */
export interface FileAnswer {
  readonly mediaType: string;
}

/** A file as a body: how large it may be, and whether it is read as it comes or whole. */
export interface Upload {
  readonly mostBytes: number;
  readonly read: 'stream' | 'bytes';
  /** Words about a larger file; without them the catalogue's own words are used. */
  readonly tooLarge?: Said;
}

/** Description of an endpoint beside its method and path. */
interface Details {
  readonly summary: string;
  readonly needs?: Needs;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType | Upload;
  readonly answer: z.ZodType | FileAnswer;
  /** Failures of this endpoint in particular; `errorsOf` adds those that every endpoint of its kind has. */
  readonly errors?: readonly ErrorCode[];
}

/** One endpoint of the API. `path` names its parameters as `:id`; `tag` is its chapter of the description. */
export interface Endpoint extends Details {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  readonly needs: Needs;
  readonly tag: string;
}

const by =
  <const Method extends Endpoint['method']>(method: Method) =>
  <const D extends Details>(path: string, details: D): D & Pick<Endpoint, 'path' | 'needs'> & { method: Method } => ({
    needs: 'sign_in',
    ...details,
    method,
    path,
  });

export const get = by('GET');
export const post = by('POST');
export const put = by('PUT');
export const remove = by('DELETE');
export const file = (mediaType: string): FileAnswer => ({ mediaType });
export const upload = <const Read extends Upload['read']>(
  mostBytes: number,
  read: Read,
  tooLarge?: Said,
): Upload & { readonly read: Read } => ({ mostBytes, read, ...(tooLarge ? { tooLarge } : {}) });

/** A group of endpoints under one tag. */
export const under = <const Group extends Readonly<Record<string, Omit<Endpoint, 'tag'>>>>(
  tag: string,
  group: Group,
): { readonly [Name in keyof Group]: Group[Name] & Pick<Endpoint, 'tag'> } =>
  Object.fromEntries(Object.entries(group).map(([name, endpoint]) => [name, { ...endpoint, tag }])) as never;

export const isUpload = (body: Endpoint['body']): body is Upload => body !== undefined && 'mostBytes' in body;
export const isFile = (answer: Endpoint['answer']): answer is FileAnswer => 'mediaType' in answer;

/** Failures of the server as a whole, whatever was asked. */
const ALWAYS: readonly ErrorCode[] = [
  'wrong_host',
  'headers_too_large',
  'too_large',
  'bad_input',
  'busy',
  'database_away',
  'took_too_long',
  'unexpected',
];

/** All failures that an endpoint may answer with: its own and those that follow from what it takes. */
export function errorsOf({ method, needs, params, query, body, errors = [] }: Endpoint): ReadonlySet<ErrorCode> {
  const all = new Set([...ALWAYS, ...errors]);
  if (needs !== 'nothing') all.add('sign_in_required');
  if (needs !== 'nothing' && needs !== 'sign_in') all.add('not_allowed');
  if (method !== 'GET') for (const code of ['stale_page', 'no_space'] as const) all.add(code);
  // What an address or a body names may be gone.
  if (params || query || body) all.add('not_found');
  if (body || method !== 'GET') all.add('unsupported_media');
  return all;
}

/** Values of a query as they are sent; empty ones are left out. */
type QueryValues<Query extends z.ZodObject> = {
  readonly [Name in keyof z.input<Query>]?: z.input<Query>[Name] | null | undefined;
};

/** Values in the address of an endpoint. */
export type Address<E extends Endpoint> = (E extends { readonly params: infer Params extends z.ZodObject }
  ? { readonly params: z.input<Params> }
  : { readonly params?: undefined }) &
  (E extends { readonly query: infer Query extends z.ZodObject }
    ? { readonly query?: QueryValues<Query> }
    : { readonly query?: undefined });

/** A body as a form has it: a field may still be empty, and the server names it. */
type Draft<T> = T extends object ? { readonly [Field in keyof T]: T[Field] | null } : T;

/** The body of an endpoint as it is sent; a file is sent as `File`. */
export type BodyOf<E extends Endpoint, File = never> = E extends { readonly body: infer Body }
  ? Body extends z.ZodType
    ? Draft<z.input<Body>>
    : File
  : undefined;

/** Answer of an endpoint, as it is read; a file is no value. */
export type AnswerOf<E extends Endpoint> = E['answer'] extends z.ZodType ? z.output<E['answer']> : never;

/** An endpoint that answers with a value. */
export type ValueEndpoint = Endpoint & { readonly answer: z.ZodType };

/** Query of an address from values; empty ones are left out. Example: `{ q: 'a', page: null }` is `?q=a`. */
export function queryText(values: Readonly<Record<string, string | number | null | undefined>>): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(values))
    if (value !== null && value !== undefined && value !== '') params.set(name, String(value));
  const text = params.toString();
  return text === '' ? '' : `?${text}`;
}

/**
 * Address of an endpoint with its parameters and query filled in; empty values of the query are left out.
 * Example: `addressOf(vehicles.history, { params: { id: 'a' }, query: { page: 2 } })` is
 * `/api/vehicles/a/history?page=2`. Throws when a parameter of the path is missing.
 */
export function addressOf<E extends Endpoint>(endpoint: E, { params, query }: Address<E>): string {
  const path = endpoint.path.replace(/:(\w+)/g, (_all, name: string) => {
    const value = (params as Readonly<Record<string, unknown>> | undefined)?.[name];
    if (typeof value !== 'string') throw new Error(`${endpoint.path} is asked for without ${name}`);
    return encodeURIComponent(value);
  });
  return path + queryText(query ?? {});
}
