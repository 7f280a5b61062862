import { sessionState, signInRequest, type SessionState } from '@crosspeen/contract';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { newCsrfToken } from '../../platform/guard.ts';
import { onLoopback } from '../../platform/hosts.ts';
import type { ShopClock } from '../../platform/clock.ts';
import type { SessionService } from './service.ts';

interface SessionNeeds {
  readonly sessions: SessionService;
  readonly clock: ShopClock;
}

/** Who is signed in; sign in; sign out. */
export const sessionRoutes =
  ({ sessions, clock }: SessionNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    // Passwords that stand on a sign-in page are for whoever sits at this machine.
    const offered = async (request: FastifyRequest): Promise<SessionState['demoAccounts']> =>
      onLoopback(request) ? sessions.demoAccounts() : [];
    const state = async (request: FastifyRequest): Promise<SessionState> => {
      const user = request.session.user ?? null;
      return {
        user,
        csrfToken: request.session.csrfToken ?? null,
        demoAccounts: user ? [] : await offered(request),
        today: clock.todayIso(),
      };
    };
    app.get(
      '/api/session',
      {
        config: { needs: 'nothing' },
        schema: { summary: 'Who is signed in', tags: ['session'], response: { 200: sessionState } },
      },
      (request) => state(request),
    );
    app.post(
      '/api/session',
      {
        config: { needs: 'nothing' },
        schema: { summary: 'Sign in', tags: ['session'], body: signInRequest, response: { 200: sessionState } },
      },
      async (request) => {
        const user = await sessions.signIn(request.body.name, request.body.password, request.ip);
        // A new session id at sign-in: one planted before is worth nothing.
        await request.session.regenerate();
        request.session.user = user;
        request.session.csrfToken = newCsrfToken();
        return state(request);
      },
    );
    app.delete(
      '/api/session',
      {
        config: { needs: 'nothing' },
        schema: { summary: 'Sign out', tags: ['session'], response: { 200: sessionState } },
      },
      async (request) => {
        await request.session.destroy();
        return { user: null, csrfToken: null, demoAccounts: await offered(request), today: clock.todayIso() };
      },
    );
    done();
  };
