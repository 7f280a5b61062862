import type { endpoints } from '@crosspeen/contract';
import type { Handlers } from '../../platform/mount.ts';
import { pageOf } from '../../platform/paged.ts';
import type { DeskNotes } from './service.ts';

/** Notes from the bay to the desk. */
export const deskHandlers = ({ notes }: { readonly notes: DeskNotes }): Handlers<typeof endpoints.desk> => ({
  list: async ({ query }) => pageOf(await notes.list(query), query),
  add: ({ user, body }) => notes.add(user.userId, body),
  settle: ({ user, params, body }) => notes.settle(user.userId, params.id, body.settled),
});
