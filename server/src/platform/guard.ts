import { may, type Permission, type SessionUser } from '@crosspeen/contract';
import { randomBytes, timingSafeEqual } from 'node:crypto';
import fp from 'fastify-plugin';
import type { FastifyRequest } from 'fastify';
import { sendingOf, type Author } from './once.ts';
import { Problem } from './problem.ts';

declare module 'fastify' {
  interface Session {
    user?: SessionUser;
    csrfToken?: string;
    /** The bay tablet it was begun at, with a PIN. */
    tabletId?: string;
    /** A session that begins, with a digest of the hash that was checked, if one was; not stored. */
    begins?: { readonly proof: string | null };
    /** What the browser calls itself. */
    agent?: string;
  }
  interface FastifyContextConfig {
    /**
     * What somebody must be allowed to do to come in; every route of the API needs a sign-in unless it says otherwise.
     */
    needs?: Permission | 'sign_in' | 'nothing';
  }
}

export const newCsrfToken = (): string => randomBytes(24).toString('base64url');

function equal(a: string, b: string): boolean {
  const [left, right] = [Buffer.from(a), Buffer.from(b)];
  return left.length === right.length && timingSafeEqual(left, right);
}

/** Throws not_allowed when the role lacks a permission. */
export function mustBeAllowed(user: SessionUser, permission: Permission): void {
  if (!may(user.role, permission)) throw new Problem('not_allowed');
}

/** The signed-in user of a request, as the author of what it writes. Throws sign_in_required. */
export function userOf(request: FastifyRequest): SessionUser & Author {
  const { user } = request.session;
  if (!user) throw new Problem('sign_in_required');
  return { ...user, userId: user.id, sentOnce: request.method === 'GET' ? null : sendingOf(request) };
}

/**
 * Who may come in is asked before anything that was sent is read: first who it is, then whether the page is this
 * session's (another site can send the cookie but cannot read the token), then what the role may do.
 */
export const guard = fp(
  (app, _options, done) => {
    app.addHook('onRequest', (request, _reply, next) => {
      const needs =
        request.routeOptions.config?.needs ??
        (request.url.startsWith('/api/') && !request.is404 ? 'sign_in' : 'nothing');
      const { user, csrfToken } = request.session;
      try {
        if (needs !== 'nothing' && !user) throw new Problem('sign_in_required');
        if (user && request.method !== 'GET' && request.method !== 'HEAD') {
          const token = request.headers['x-csrf-token'];
          if (typeof token !== 'string' || !equal(token, csrfToken ?? '')) throw new Problem('stale_page');
        }
        if (user && needs !== 'nothing' && needs !== 'sign_in') mustBeAllowed(user, needs);
      } catch (error) {
        next(error as Error);
        return;
      }
      next();
    });
    done();
  },
  { name: 'guard', dependencies: ['@fastify/session'] },
);
