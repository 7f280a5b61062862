import fp from 'fastify-plugin';
import type { FastifyRequest } from 'fastify';
import { Problem } from './problem.ts';

const LOOPBACK: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]']);

const nameOf = (host: string): string => host.toLowerCase().replace(/:\d+$/, '').replace(/\.$/, '');

const LOOPBACK_ADDRESS = /^(127\.|::1$|::ffff:127\.)/;

/**
 * Tells whether a request comes from this machine itself, under its own name for itself. Only the socket and the
 * request's own `Host` decide; whatever a proxy forwards comes from elsewhere.
 */
export const onLoopback = ({ raw, headers }: Pick<FastifyRequest, 'raw' | 'headers'>): boolean =>
  LOOPBACK_ADDRESS.test(raw.socket.remoteAddress ?? '') &&
  LOOPBACK.has(nameOf(headers.host ?? '')) &&
  headers['x-forwarded-for'] === undefined;

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
