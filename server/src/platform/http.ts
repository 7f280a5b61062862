import { ERRORS } from '@crosspeen/contract';
import fp from 'fastify-plugin';
import type { FastifyError } from 'fastify';
import { hasZodFastifySchemaValidationErrors, isResponseSerializationError } from 'fastify-type-provider-zod';
import { Problem } from './problem.ts';

const PROBLEM_TYPE = 'application/problem+json';

/** Words for what a schema found wrong, without the library's own idiom. */
function plainMessage(message: string): string {
  if (/received undefined/.test(message)) return 'is missing';
  const options = /^Invalid option: expected one of (.+)$/.exec(message)?.[1];
  if (options !== undefined) return `must be one of ${options.replaceAll('"', '').split('|').join(', ')}`;
  const plain = message.replace(/^Invalid input: expected (\w+), received (\w+)$/, 'must be a $1, not $2').replace(/^Invalid input$/, 'has a form that is not known here');
  return plain.startsWith('Too small') ? plain.replace(/^Too small: expected \w+ to be >=?/, 'must be at least ') : plain.replace(/^Too big: expected \w+ to be <=?/, 'must be at most ');
}

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (hasZodFastifySchemaValidationErrors(error)) {
    const fields = error.validation.map((issue) => ({ path: issue.instancePath.replace(/^\//, '').replaceAll('/', '.'), message: plainMessage(issue.message ?? 'cannot be used') }));
    return new Problem('bad_input', { detail: fields.map(({ path, message }) => `${path || 'request'}: ${message}`).join('; ').slice(0, 600), fields });
  }
  const { statusCode, code } = error as Partial<FastifyError> & { code?: string };
  // Two writers met on one unique row (23505), or a value slipped past the schema into a check of the database.
  if (code === '23505') return new Problem('changed_meanwhile');
  if (code === '22021' || code === '22P05') return new Problem('bad_input', { detail: 'The text holds a character that cannot be kept; take it out.' });
  if (statusCode === 413) return new Problem('too_large');
  if (statusCode !== undefined && statusCode >= 400 && statusCode < 500) {
    return new Problem(statusCode === 404 ? 'not_found' : 'bad_input', { detail: (error as Error).message });
  }
  return new Problem('unexpected');
}

/**
 * Writes an answer as it is, for routes whose answers are long and are made by this server's own typed code: going through every number of them again costs as much as
 * writing them. Their schema still stands in the API's description, and the interface reads them by it.
 */
export const asMade = () => (answer: unknown): string => JSON.stringify(answer);

/** Every failure leaves as problem details of the catalogue; what was not expected is logged with its cause and told without it. */
export const problems = fp((app, _options, done) => {
  app.setErrorHandler((error, request, reply) => {
    const problem = problemOf(error);
    if (problem.code === 'unexpected') request.log.error({ err: error, invalidResponse: isResponseSerializationError(error) }, 'unexpected failure');
    void reply.status(problem.status).header('content-type', PROBLEM_TYPE).send(JSON.stringify(problem.toDetails()));
  });
  app.setNotFoundHandler((request, reply) => {
    if (request.url.startsWith('/api/') || request.method !== 'GET') {
      const details = new Problem('not_found', { detail: `There is nothing at ${request.url.slice(0, 200)}.` }).toDetails();
      return reply.status(ERRORS.not_found.status).header('content-type', PROBLEM_TYPE).send(JSON.stringify(details));
    }
    // Paths of the interface all answer with the one page; its router does the rest.
    if (!app.hasReplyDecorator('sendFile')) return reply.status(404).send();
    return reply.sendFile('index.html');
  });
  done();
}, { name: 'problems' });
