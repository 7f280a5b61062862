import { endpoints, PAGE_SIZE } from '@crosspeen/contract';
import { queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';

/** Keys and fetchers of what the pages about people and the shop itself read; apart from what every page needs. */
export const readShop = {
  beginnings: () => queryOptions({ queryKey: ['start'], queryFn: () => call(endpoints.start.beginnings) }),
  people: () => queryOptions({ queryKey: ['people'], queryFn: () => call(endpoints.people.list) }),
  peopleChanges: (page: number) =>
    queryOptions({
      queryKey: ['people', 'changes', page],
      queryFn: () => call(endpoints.people.changes, { query: { page, pageSize: PAGE_SIZE } }),
    }),
  tablets: () => queryOptions({ queryKey: ['tablets'], queryFn: () => call(endpoints.people.tablets) }),
  signIns: () => queryOptions({ queryKey: ['sign-ins'], queryFn: () => call(endpoints.session.signIns) }),
  backups: () =>
    queryOptions({
      queryKey: ['backups'],
      queryFn: () => call(endpoints.backups.get),
      // One that is under way is watched until it is done.
      refetchInterval: ({ state }) =>
        state.data?.picture?.rows.some((row) => row.state === 'running') === true ? 1500 : false,
    }),
};
