import fp from 'fastify-plugin';
import type { FastifyRequest } from 'fastify';
import { Problem } from './problem.ts';

const LOOPBACK: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]']);

const nameOf = (host: string): string => host.toLowerCase().replace(/:\d+$/, '').replace(/\.$/, '');

/** Whether a request was sent to this machine's own name for itself. */
export const onLoopback = (request: Pick<FastifyRequest, 'host'>): boolean => LOOPBACK.has(nameOf(request.host));

/**
 * Only names the workshop is known under are answered: a page elsewhere that has its own name point here (DNS
 * rebinding) is not.
 */
export const hosts = fp<{ readonly names: readonly string[] }>(
  (app, { names }, done) => {
    const known = new Set([...LOOPBACK, ...names.map((name) => nameOf(name.trim())).filter(Boolean)]);
    app.addHook('onRequest', (request, _reply, next) => {
      next(known.has(nameOf(request.host)) ? undefined : new Problem('wrong_host'));
    });
    done();
  },
  { name: 'hosts' },
);
