import { endpoints } from '@crosspeen/contract';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';
import type { LookupParams } from './queries.ts';

/** What only a walk and a search for a cause read: fetched with their pages. */
export const readWalk = {
  /** The walk under way, or the one to come within so many minutes. */
  walk: (id: string, minutes: number | null) =>
    queryOptions({
      queryKey: ['vehicle', id, 'walk', minutes],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.walk.view, { params: { id }, query: { minutes } }),
    }),
  lookupWalk: (params: LookupParams, minutes: number | null) =>
    queryOptions({
      queryKey: ['walk', params, minutes],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.lookup.walk, { query: { ...params, minutes } }),
    }),
  looksAt: (id: string, weakPointId: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'looks', weakPointId],
      queryFn: () => call(endpoints.walk.looksAt, { params: { id, weakPointId } }),
    }),
  triage: (id: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'triage'],
      queryFn: () => call(endpoints.triage.view, { params: { id } }),
    }),
};
