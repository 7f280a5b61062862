import { backupPicture, bayTablets, beginnings, peopleChanges, person, signIns } from '@crosspeen/contract';
import { queryOptions } from '@tanstack/react-query';
import { z } from 'zod';
import { query, send } from './client.ts';

const PAGE = 25;

/** Keys and fetchers of what the pages about people and the shop itself read; apart from what every page needs. */
export const readShop = {
  beginnings: () => queryOptions({ queryKey: ['start'], queryFn: () => send(beginnings, 'GET', '/api/start') }),
  people: () =>
    queryOptions({
      queryKey: ['people'],
      queryFn: () => send(z.object({ rows: z.array(person) }), 'GET', '/api/people'),
    }),
  peopleChanges: (page: number) =>
    queryOptions({
      queryKey: ['people', 'changes', page],
      queryFn: () => send(peopleChanges, 'GET', `/api/people/changes${query({ page, pageSize: PAGE })}`),
    }),
  tablets: () => queryOptions({ queryKey: ['tablets'], queryFn: () => send(bayTablets, 'GET', '/api/tablets') }),
  signIns: () => queryOptions({ queryKey: ['sign-ins'], queryFn: () => send(signIns, 'GET', '/api/me/sign-ins') }),
  backups: () =>
    queryOptions({
      queryKey: ['backups'],
      queryFn: () => send(z.object({ picture: backupPicture.nullable() }), 'GET', '/api/backups'),
      // One that is under way is watched until it is done.
      refetchInterval: ({ state }) =>
        state.data?.picture?.rows.some((row) => row.state === 'running') === true ? 1500 : false,
    }),
};
