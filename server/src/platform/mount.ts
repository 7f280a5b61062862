import {
  type AnswerOf,
  type Endpoint,
  endpoints,
  isFile,
  isUpload,
  type SessionUser,
  type ValueEndpoint,
} from '@crosspeen/contract';
import fp from 'fastify-plugin';
import type { FastifyInstance, FastifyReply, FastifyRequest, FastifySchema, RouteOptions } from 'fastify';
import { Readable } from 'node:stream';
import type { z } from 'zod';
import { userOf } from './guard.ts';
import type { Author } from './once.ts';
import { Problem } from './problem.ts';

declare module 'fastify' {
  interface FastifyContextConfig {
    endpoint?: Endpoint;
    /** Its answers leave as they are made. */
    asMade?: boolean;
  }
}

type Parsed<Schema> = Schema extends z.ZodType ? z.output<Schema> : undefined;
type ParsedBody<Body> = Body extends { readonly read: 'stream' }
  ? Readable
  : Body extends { readonly read: 'bytes' }
    ? Buffer
    : Parsed<Body>;

/** A request as its handler reads it, checked against the table of endpoints. */
export interface Asked<E extends Endpoint> {
  readonly params: Parsed<E['params']>;
  readonly query: Parsed<E['query']>;
  readonly body: ParsedBody<E['body']>;
  /** Who is signed in, as the author of what is written. Reading it throws sign_in_required. */
  readonly user: SessionUser & Author;
  readonly request: FastifyRequest;
  readonly reply: FastifyReply;
}

/** A value of the endpoint's answer; a file is sent through the reply. */
type Answered<E extends Endpoint> = E extends ValueEndpoint ? AnswerOf<E> : FastifyReply;

export type Handler<E extends Endpoint> = (asked: Asked<E>) => Answered<E> | Promise<Answered<E>>;

/** A handler for every endpoint of a group. */
export type Handlers<Group> = {
  readonly [Name in keyof Group]: Group[Name] extends Endpoint ? Handler<Group[Name]> : never;
};

/** A handler for every endpoint there is. */
export type AllHandlers = { readonly [Group in keyof typeof endpoints]: Handlers<(typeof endpoints)[Group]> };

const asItIs = (answer: unknown): string => JSON.stringify(answer);

/**
 * Has the answers of a handler written as they are. For long answers that this server's own typed code makes: checking
 * every number of them again costs as much as writing them. The browser still reads them by their schema.
 */
export const asMade = <H extends (...asked: never[]) => unknown>(handler: H): H =>
  Object.assign(handler, { asMade: true });

/** The schemas of an endpoint as the framework takes them. */
export function schemaOf({ summary, tag, params, query, body, answer }: Endpoint): FastifySchema {
  return {
    summary,
    tags: [tag],
    ...(params === undefined ? {} : { params }),
    ...(query === undefined ? {} : { querystring: query }),
    ...(body === undefined || isUpload(body) ? {} : { body }),
    ...(isFile(answer) ? {} : { response: { 200: answer } }),
  };
}

/** The body of a request as its handler reads it. A file that was not sent is an empty one, and refused as such. */
function bodyOf({ body: told }: Endpoint, sent: unknown): unknown {
  if (!isUpload(told)) return sent;
  if (told.read === 'bytes') return Buffer.isBuffer(sent) ? sent : Buffer.alloc(0);
  return sent ?? Readable.from([]);
}

function routeOf(endpoint: Endpoint, handler: Handler<Endpoint>): RouteOptions {
  const plain = 'asMade' in handler;
  return {
    method: endpoint.method,
    url: endpoint.path,
    schema: schemaOf(endpoint),
    config: { needs: endpoint.needs, endpoint, ...(plain ? { asMade: true } : {}) },
    ...(plain ? { serializerCompiler: () => asItIs } : {}),
    handler: (request, reply) =>
      handler({
        params: request.params as never,
        query: request.query as never,
        body: bodyOf(endpoint, request.body),
        get user() {
          return userOf(request);
        },
        request,
        reply,
      }),
  };
}

/** Mounts an endpoint that takes a file: whatever its type, the bytes are handed on as they come. */
function mountUpload(app: FastifyInstance, endpoint: Endpoint, route: RouteOptions): void {
  const { body } = endpoint;
  if (!isUpload(body)) throw new Error(`${endpoint.path} takes no file`);
  const { mostBytes, read, tooLarge } = body;
  void app.register((files, _options, done) => {
    files.removeAllContentTypeParsers();
    if (read === 'stream') files.addContentTypeParser('*', (_request, payload, parsed) => parsed(null, payload));
    else
      files.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: mostBytes }, (_request, bytes, parsed) =>
        parsed(null, bytes),
      );
    files.route({
      ...route,
      bodyLimit: mostBytes,
      errorHandler: (error) => {
        const large = 'code' in error && error.code === 'FST_ERR_CTP_BODY_TOO_LARGE';
        throw large && tooLarge ? new Problem(tooLarge) : error;
      },
    });
    done();
  });
}

/** Mounts a handler on every endpoint of the table. */
export const mounted = fp<{ readonly handlers: AllHandlers }>(
  (app, { handlers }, done) => {
    for (const [group, table] of Object.entries(endpoints))
      for (const [name, endpoint] of Object.entries(table) as [string, Endpoint][]) {
        const handler = (handlers as unknown as Record<string, Record<string, Handler<Endpoint>>>)[group]![name]!;
        const route = routeOf(endpoint, handler);
        if (isUpload(endpoint.body)) mountUpload(app, endpoint, route);
        else app.route(route);
      }
    done();
  },
  { name: 'mounted', dependencies: ['guard'] },
);
