import { type endpoints, may, type SessionState, type SessionUser } from '@crosspeen/contract';
import type { FastifyRequest } from 'fastify';
import { newCsrfToken, userOf } from '../../platform/guard.ts';
import { onLoopback } from '../../platform/hosts.ts';
import { TABLET_COOKIE } from '../../platform/cookies.ts';
import type { ShopClock } from '../../platform/clock.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { Problem } from '../../platform/problem.ts';
import type { Handlers } from '../../platform/mount.ts';
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

/**
 * A new session id at every sign-in: one planted before is worth nothing. With `proof` it is stored only if the hash
 * that was checked still stands. Throws wrong_sign_in where it was replaced meanwhile.
 */
async function begin(
  request: FastifyRequest,
  { user, proof, tabletId }: { user: SessionUser; proof?: string; tabletId?: string },
): Promise<void> {
  await request.session.regenerate();
  request.session.user = user;
  request.session.begins = { proof: proof ?? null };
  request.session.csrfToken = newCsrfToken();
  const agent = request.headers['user-agent'];
  if (agent !== undefined) request.session.agent = agent;
  if (tabletId !== undefined) request.session.tabletId = tabletId;
  await request.session.save();
  delete request.session.begins;
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
      bay: await bay.of(tabletTokenOf(request)),
      today: clock.todayIso(),
    };
  };

/** Who is signed in; sign in and out; one's own password, PIN and sign-ins; one-time links; the bay's change-over. */
export const sessionHandlers = (needs: SessionNeeds): Handlers<typeof endpoints.session> => {
  const { sessions, own, bay, settingUp, settings } = needs;
  const state = stateWith(needs);
  return {
    state: ({ request }) => state(request),
    signIn: async ({ body, request }) => {
      const signedIn = await sessions.signIn(body.name, body.password, request.ip);
      await begin(request, signedIn);
      await bay.open(tabletTokenOf(request), signedIn.user.id);
      return state(request);
    },
    signOut: async ({ request }) => {
      await request.session.destroy();
      return state(request);
    },
    setUp: async ({ body, request }) => {
      await begin(request, { user: await settingUp.setUp(body, request.ip) });
      return state(request);
    },
    lookAtLink: async ({ body, request }) => {
      const { row, until } = await own.linkMeaning(body.token, request.ip);
      const { workshopName } = await settings.current();
      return { name: row.name, displayName: row.displayName, workshopName, until: until.toISOString() };
    },
    useLink: async ({ body, request }) => {
      await begin(request, { user: await own.useLink(body.token, body.password, request.ip) });
      return state(request);
    },
    changePassword: async ({ body, request }) => {
      await own.changePassword(atOwnSignIn(request), body);
      return {};
    },
    setPin: async ({ body, request }) => {
      await own.setPin(atOwnSignIn(request), body);
      return {};
    },
    signIns: async ({ request }) => ({ rows: await own.signIns(ownOf(request)) }),
    endSignIn: async ({ params, request }) => {
      await own.endSignIn(atOwnSignIn(request), params.id);
      return { rows: await own.signIns(ownOf(request)) };
    },
    challengeBay: async ({ request }) => ({ challenge: await bay.challenge(tabletTokenOf(request)) }),
    enterBay: async ({ body, request }) => {
      await begin(request, await bay.enter(tabletTokenOf(request), body));
      return state(request);
    },
    stayAwake: async ({ request }) => {
      await bay.awake(request.session.sessionId);
      return {};
    },
  };
};
