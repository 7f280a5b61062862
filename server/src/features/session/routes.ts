import {
  bayEnter,
  linkLook,
  may,
  linkMeaning,
  linkUse,
  passwordChange,
  pinChange,
  sessionState,
  setUpRequest,
  signIns,
  signInRequest,
  type SessionState,
  type SessionUser,
} from '@crosspeen/contract';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { newCsrfToken, userOf } from '../../platform/guard.ts';
import { onLoopback } from '../../platform/hosts.ts';
import { TABLET_COOKIE } from '../../platform/cookies.ts';
import type { ShopClock } from '../../platform/clock.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { Problem } from '../../platform/problem.ts';
import type { BayDoor } from './bay.ts';
import type { Own, OwnAccount } from './own.ts';
import type { SessionService } from './service.ts';
import type { SettingUp } from './set-up.ts';

interface SessionNeeds {
  readonly sessions: SessionService;
  readonly own: OwnAccount;
  readonly bay: BayDoor;
  readonly settingUp: SettingUp;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
  /** Whether there is no good backup for too long. */
  readonly backupIsOld: () => Promise<boolean>;
}

/** The secret that a bay tablet keeps, where this browser is one. */
const tabletTokenOf = (request: FastifyRequest): string | undefined => request.cookies[TABLET_COOKIE];

const ownOf = (request: FastifyRequest): Own => ({
  userId: userOf(request).id,
  sid: request.session.sessionId,
  address: request.ip,
});

/** What is one's own is not done with a PIN alone. */
function atOwnSignIn(request: FastifyRequest): Own {
  if (request.session.tabletId !== undefined) throw new Problem('not_at_tablet');
  return ownOf(request);
}

/** A new session id at every sign-in: one planted before is worth nothing. */
async function begin(request: FastifyRequest, user: SessionUser, tabletId?: string): Promise<void> {
  await request.session.regenerate();
  request.session.user = user;
  request.session.csrfToken = newCsrfToken();
  const agent = request.headers['user-agent'];
  if (agent !== undefined) request.session.agent = agent;
  if (tabletId !== undefined) request.session.tabletId = tabletId;
}

/** Who is signed in and at which tablet, as every page asks first. */
const stateWith =
  (needs: SessionNeeds) =>
  async (request: FastifyRequest): Promise<SessionState> => {
    const { sessions, bay, settings, clock } = needs;
    // There is none any more once somebody signed out.
    const session = request.session as FastifyRequest['session'] | null;
    const user = session?.user ?? null;
    // Passwords that stand on a sign-in page are for whoever sits at this machine.
    const offered = user === null && onLoopback(request) ? await sessions.demoAccounts() : [];
    const tablet = await bay.of(tabletTokenOf(request));
    const { workshopName, numberFormat, dateFormat, timeZone } = await settings.current();
    return {
      user,
      csrfToken: user === null ? null : (session?.csrfToken ?? null),
      demoAccounts: offered,
      setUp: user === null && (await sessions.isEmpty()) ? 'needed' : 'done',
      workshopName,
      formats: { numberFormat, dateFormat, timeZone },
      byPin: user !== null && session?.tabletId !== undefined,
      backupOld: user !== null && may(user.role, 'editSettings') && (await needs.backupIsOld()),
      bay: tablet && { tablet: tablet.tablet, people: tablet.people },
      today: clock.todayIso(),
    };
  };

const nothing = z.object({});

/** Who is signed in; sign in and out; one's own password, PIN and sign-ins; one-time links; the bay's change-over. */
export const sessionRoutes =
  (needs: SessionNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const { sessions, own, bay, settingUp, settings } = needs;
    const state = stateWith(needs);
    const tags = ['session'];
    const open = { needs: 'nothing' } as const;
    app.get(
      '/api/session',
      { config: open, schema: { summary: 'Who is signed in', tags, response: { 200: sessionState } } },
      (request) => state(request),
    );
    app.post(
      '/api/session',
      { config: open, schema: { summary: 'Sign in', tags, body: signInRequest, response: { 200: sessionState } } },
      async (request) => {
        await begin(request, await sessions.signIn(request.body.name, request.body.password, request.ip));
        return state(request);
      },
    );
    app.delete(
      '/api/session',
      { config: open, schema: { summary: 'Sign out', tags, response: { 200: sessionState } } },
      async (request) => {
        await request.session.destroy();
        return state(request);
      },
    );
    app.post(
      '/api/set-up',
      {
        config: open,
        schema: { summary: 'Set the workshop up', tags, body: setUpRequest, response: { 200: sessionState } },
      },
      async (request) => {
        await begin(request, await settingUp.setUp(request.body, request.ip));
        return state(request);
      },
    );
    app.post(
      '/api/links/look',
      {
        config: open,
        schema: { summary: 'Whom a one-time link is for', tags, body: linkLook, response: { 200: linkMeaning } },
      },
      async (request) => {
        const { row, until } = await own.linkMeaning(request.body.token, request.ip);
        const { workshopName } = await settings.current();
        return { name: row.name, displayName: row.displayName, workshopName, until: until.toISOString() };
      },
    );
    app.post(
      '/api/links/use',
      {
        config: open,
        schema: { summary: 'Set a password by a link', tags, body: linkUse, response: { 200: sessionState } },
      },
      async (request) => {
        await begin(request, await own.useLink(request.body.token, request.body.password, request.ip));
        return state(request);
      },
    );
    app.put(
      '/api/me/password',
      { schema: { summary: 'Change one’s own password', tags, body: passwordChange, response: { 200: nothing } } },
      async (request) => {
        await own.changePassword(atOwnSignIn(request), request.body);
        return {};
      },
    );
    app.put(
      '/api/me/pin',
      { schema: { summary: 'Set one’s own PIN', tags, body: pinChange, response: { 200: nothing } } },
      async (request) => {
        await own.setPin(atOwnSignIn(request), request.body);
        return {};
      },
    );
    app.get(
      '/api/me/sign-ins',
      { schema: { summary: 'Where one is signed in', tags, response: { 200: signIns } } },
      async (request) => ({ rows: await own.signIns(ownOf(request)) }),
    );
    app.delete(
      '/api/me/sign-ins/:id',
      {
        schema: {
          summary: 'End a sign-in of one’s own, or all others',
          tags,
          params: z.object({ id: z.string().max(100) }),
          response: { 200: signIns },
        },
      },
      async (request) => {
        await own.endSignIn(atOwnSignIn(request), request.params.id);
        return { rows: await own.signIns(ownOf(request)) };
      },
    );
    app.post(
      '/api/bay/enter',
      {
        config: open,
        schema: { summary: 'Change over at a bay tablet', tags, body: bayEnter, response: { 200: sessionState } },
      },
      async (request) => {
        const { tabletId, ...user } = await bay.enter(tabletTokenOf(request), request.body.personId, request.body.pin);
        await begin(request, user, tabletId);
        return state(request);
      },
    );
    app.post(
      '/api/bay/awake',
      { schema: { summary: 'Somebody touches the tablet', tags, response: { 200: nothing } } },
      async (request) => {
        await bay.awake(request.session.sessionId);
        return {};
      },
    );
    done();
  };
