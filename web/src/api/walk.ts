import { looksAt, triage, walkView } from '@crosspeen/contract';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { query, send } from './client.ts';
import type { LookupParams } from './queries.ts';

/** What only a walk and a search for a cause read: fetched with their pages. */
export const readWalk = {
  /** The walk under way, or the one to come within so many minutes. */
  walk: (id: string, minutes: number | null) =>
    queryOptions({
      queryKey: ['vehicle', id, 'walk', minutes],
      placeholderData: keepPreviousData,
      queryFn: () => send(walkView, 'GET', `/api/vehicles/${id}/walk${query({ minutes })}`),
    }),
  lookupWalk: (params: LookupParams, minutes: number | null) =>
    queryOptions({
      queryKey: ['walk', params, minutes],
      placeholderData: keepPreviousData,
      queryFn: () => send(walkView, 'GET', `/api/lookup/walk${query({ ...params, minutes })}`),
    }),
  looksAt: (id: string, weakPointId: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'looks', weakPointId],
      queryFn: () => send(looksAt, 'GET', `/api/vehicles/${id}/looks/${weakPointId}`),
    }),
  triage: (id: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'triage'],
      queryFn: () => send(triage, 'GET', `/api/vehicles/${id}/triage`),
    }),
};
