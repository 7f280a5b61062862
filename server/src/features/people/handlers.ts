import type { endpoints } from '@crosspeen/contract';
import { TABLET_COOKIE, TABLET_DAYS } from '../../platform/cookies.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { PeopleService } from './service.ts';
import type { TabletShelf } from './tablets.ts';

interface PeopleNeeds {
  readonly people: PeopleService;
  readonly tablets: TabletShelf;
}

/** The owner's: who works here, with which role, by which tablet. */
export const peopleHandlers = ({ people, tablets }: PeopleNeeds): Handlers<typeof endpoints.people> => ({
  list: async () => ({ rows: await people.list() }),
  changes: ({ query }) => people.changes(query),
  add: ({ user, body }) => people.add(user.id, body),
  update: ({ user, params, body }) => people.update(user.id, params.id, body),
  newLink: ({ user, params }) => people.reset(user.id, params.id),
  tablets: async ({ request }) => ({ rows: await tablets.list(request.cookies[TABLET_COOKIE]) }),
  addTablet: async ({ user, body, request, reply }) => {
    const token = await tablets.add(user.id, body.name, body.publicKey);
    reply.setCookie(TABLET_COOKIE, token, {
      httpOnly: true,
      sameSite: 'strict',
      secure: request.protocol === 'https',
      path: '/',
      maxAge: TABLET_DAYS * 86_400,
    });
    return { rows: await tablets.list(token) };
  },
  endTablet: async ({ user, params, request }) => {
    await tablets.end(user.id, params.id);
    return { rows: await tablets.list(request.cookies[TABLET_COOKIE]) };
  },
});
