import { may, type Permission, type SessionUser } from '@crosspeen/contract';
import { randomBytes, timingSafeEqual } from 'node:crypto';
import fp from 'fastify-plugin';
import type { FastifyRequest } from 'fastify';
import { Problem } from './problem.ts';

declare module 'fastify' {
  interface Session {
    user?: SessionUser;
    csrfToken?: string;
  }
}

export const newCsrfToken = (): string => randomBytes(24).toString('base64url');

const equal = (a: string, b: string): boolean => a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));

/** The signed-in user of a request. Throws sign_in_required, or not_allowed when a permission is asked for that the role lacks. */
export function userOf(request: FastifyRequest, permission?: Permission): SessionUser & { userId: string } {
  const { user } = request.session;
  if (!user) throw new Problem('sign_in_required');
  if (permission !== undefined && !may(user.role, permission)) throw new Problem('not_allowed');
  return { ...user, userId: user.id };
}

/** Requests that change something must carry the session's token: another site can send the cookie but cannot read the token. */
export const csrfGuard = fp((app, _options, done) => {
  app.addHook('preValidation', (request, _reply, next) => {
    if (request.method === 'GET' || request.method === 'HEAD' || !request.session.user) return next();
    const token = request.headers['x-csrf-token'];
    if (typeof token !== 'string' || !equal(token, request.session.csrfToken ?? '')) return next(new Problem('stale_page'));
    return next();
  });
  done();
}, { name: 'csrf-guard', dependencies: ['@fastify/session'] });
