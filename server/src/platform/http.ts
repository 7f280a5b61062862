import { ERRORS, errorsOf, problemDetails, SAID, sameJson, type ErrorCode } from '@crosspeen/contract';
import fp from 'fastify-plugin';
import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify';
import { hasZodFastifySchemaValidationErrors, isResponseSerializationError } from 'fastify-type-provider-zod';
import type { Socket } from 'node:net';
import { z } from 'zod';
import { databaseProblem } from './database-problem.ts';
import { Problem } from './problem.ts';

const PROBLEM_TYPE = 'application/problem+json';

/** What the framework found wrong with a request, by its own code. */
const REQUEST_PROBLEMS: Readonly<Record<string, () => Problem>> = {
  FST_ERR_CTP_INVALID_MEDIA_TYPE: () => new Problem('unsupported_media'),
  FST_ERR_CTP_BODY_TOO_LARGE: () => new Problem('too_large'),
  FST_ERR_CTP_EMPTY_JSON_BODY: () => new Problem(SAID.emptyJson),
  FST_ERR_CTP_INVALID_JSON_BODY: () => new Problem(SAID.brokenJson),
  FST_ERR_CTP_INVALID_CONTENT_LENGTH: () => new Problem(SAID.wrongLength),
  FST_ERR_BAD_URL: () => new Problem(SAID.unreadableAddress),
};

const BY_STATUS: Readonly<Record<number, ErrorCode>> = {
  400: 'bad_input',
  404: 'not_found',
  413: 'too_large',
  415: 'unsupported_media',
  431: 'headers_too_large',
};

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (hasZodFastifySchemaValidationErrors(error)) {
    const fields = error.validation.map(({ instancePath, message }) => ({
      path: instancePath.replace(/^\//, '').replaceAll('/', '.'),
      message: message ?? 'cannot be used',
    }));
    return new Problem('bad_input', { fields });
  }
  const { statusCode, code } = error as Partial<FastifyError>;
  const known = code === undefined ? undefined : REQUEST_PROBLEMS[code];
  if (known) return known();
  const ofDatabase = databaseProblem(error);
  if (ofDatabase) return ofDatabase;
  if (statusCode !== undefined && statusCode >= 400 && statusCode < 500)
    return new Problem(BY_STATUS[statusCode] ?? 'bad_input');
  return new Problem('unexpected');
}

/**
 * For tests and development: an answer that its schema does not describe, or that carries more than it says, is a
 * fault of ours, also where it is written as it is. So is a failure that the endpoint does not name.
 */
export const answersChecked = fp(
  (app, _options, done) => {
    app.addHook('preSerialization', (request, reply, answer, next) => {
      const described = (request.routeOptions.schema?.response as Record<string, unknown> | undefined)?.[
        String(reply.statusCode)
      ];
      if (!(described instanceof z.ZodType)) return next(null, answer);
      const plain: unknown = JSON.parse(JSON.stringify(answer));
      const read = described.safeParse(plain);
      if (!read.success)
        return next(new Error(`${request.routeOptions.url} answers off its schema: ${z.prettifyError(read.error)}`));
      if (request.routeOptions.config.asMade === true && !sameJson(read.data, plain))
        return next(new Error(`${request.routeOptions.url} answers with more than its schema says`));
      return next(null, answer);
    });
    app.addHook('onSend', (request, reply, payload, next) => {
      const { endpoint } = request.routeOptions.config;
      if (endpoint === undefined || !String(reply.getHeader('content-type')).startsWith(PROBLEM_TYPE))
        return next(null, payload);
      const { code } = problemDetails.parse(JSON.parse(String(payload)));
      if (errorsOf(endpoint).has(code)) return next(null, payload);
      return next(new Error(`${endpoint.method} ${endpoint.path} answers ${code}, which its endpoint does not name`));
    });
    done();
  },
  { name: 'answers-checked' },
);

/** Answers an address that cannot be read; it never reaches a route nor the handler of errors. */
export function answerUnreadable(error: unknown, _request: FastifyRequest, reply: FastifyReply): void {
  const problem = problemOf(error);
  void reply.status(problem.status).header('content-type', PROBLEM_TYPE).send(JSON.stringify(problem.toDetails()));
}

/** Seconds after which something that was too much for the moment may be asked again. */
const RETRY_AFTER: Readonly<Partial<Record<ErrorCode, number>>> = { busy: 2, database_away: 3, no_space: 30 };

/**
 * Every failure leaves as problem details of the catalogue; what was not expected is logged with its cause and told
 * without it.
 */
export const problems = fp(
  (app, _options, done) => {
    app.setErrorHandler((error, request, reply) => {
      const problem = problemOf(error);
      if (problem.status >= 500)
        request.log.error(
          { err: error, invalidResponse: isResponseSerializationError(error) },
          `answered with ${problem.code}`,
        );
      const wait = problem.extra.retryAfterSeconds ?? RETRY_AFTER[problem.code];
      if (wait !== undefined) void reply.header('retry-after', Math.ceil(wait));
      void reply.status(problem.status).header('content-type', PROBLEM_TYPE).send(JSON.stringify(problem.toDetails()));
    });
    app.setNotFoundHandler((request, reply) => {
      const page = request.method === 'GET' && !/^\/(api|assets)([/?#]|$)/.test(request.url);
      // Paths of the interface all answer with the one page; its router does the rest.
      if (page && app.hasReplyDecorator('sendFile')) return reply.sendFile('index.html');
      const details = new Problem(SAID.nothingThere(request.url.slice(0, 200))).toDetails();
      return reply.status(ERRORS.not_found.status).header('content-type', PROBLEM_TYPE).send(JSON.stringify(details));
    });
    done();
  },
  { name: 'problems' },
);

/** Answers what never becomes a request: headers that are too long, or bytes that are no HTTP. */
export function answerBrokenRequest(
  error: { readonly code?: string },
  socket: Pick<Socket, 'writable' | 'end' | 'destroy'>,
): void {
  if (error.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const problem = new Problem(error.code === 'HPE_HEADER_OVERFLOW' ? 'headers_too_large' : 'bad_input');
  const body = JSON.stringify(problem.toDetails());
  socket.end(
    `HTTP/1.1 ${problem.status} ${problem.code}\r\ncontent-type: ${PROBLEM_TYPE}\r\ncontent-length: ${Buffer.byteLength(body)}\r\nconnection: close\r\n\r\n${body}`,
  );
}
