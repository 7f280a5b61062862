import {
  changed, changeRow, comingVisit, engineSummary, engineVariant, historyEntry, lookupAnswer, lookupMeaning, paged, sessionState, settings, vehicleListRow, vehicleOutlook,
} from '@crosspeen/contract';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { z } from 'zod';
import { query, send } from './client.ts';

export interface LookupParams { readonly line: string; readonly variant?: string | null; readonly family?: string | null }

const PAGE = 25;

/** Keys and fetchers of everything the screens read, in one place. */
export const read = {
  session: () => queryOptions({ queryKey: ['session'], queryFn: () => send(sessionState, 'GET', '/api/session'), staleTime: Infinity }),
  settings: () => queryOptions({ queryKey: ['settings'], queryFn: () => send(settings, 'GET', '/api/settings'), staleTime: 60_000 }),
  meaning: (params: LookupParams) => queryOptions({
    queryKey: ['meaning', params], placeholderData: keepPreviousData, staleTime: 30_000,
    queryFn: ({ signal }) => send(lookupMeaning, 'GET', `/api/lookup/meaning${query({ ...params })}`, undefined, signal),
  }),
  answer: (params: LookupParams) => queryOptions({
    queryKey: ['answer', params], queryFn: ({ signal }) => send(lookupAnswer, 'GET', `/api/lookup${query({ ...params })}`, undefined, signal),
  }),
  engines: () => queryOptions({
    queryKey: ['engines'], staleTime: 300_000,
    queryFn: () => send(paged(z.object({ engine: engineSummary, variants: z.array(engineVariant) })), 'GET', '/api/engines?pageSize=100'),
  }),
  vehicles: (params: { q: string; order: 'pressing' | 'plate'; page: number; pageSize?: number }) => queryOptions({
    queryKey: ['vehicles', params], placeholderData: keepPreviousData,
    queryFn: ({ signal }) => send(paged(vehicleListRow), 'GET', `/api/vehicles${query({ pageSize: PAGE, ...params })}`, undefined, signal),
  }),
  outlook: (id: string) => queryOptions({ queryKey: ['vehicle', id, 'outlook'], queryFn: () => send(vehicleOutlook, 'GET', `/api/vehicles/${id}/outlook`) }),
  history: (id: string, page: number) => queryOptions({
    queryKey: ['vehicle', id, 'history', page], placeholderData: keepPreviousData, queryFn: () => send(paged(historyEntry), 'GET', `/api/vehicles/${id}/history${query({ page, pageSize: PAGE })}`),
  }),
  changes: (id: string, page: number) => queryOptions({
    queryKey: ['vehicle', id, 'changes', page], placeholderData: keepPreviousData, queryFn: () => send(paged(changeRow), 'GET', `/api/vehicles/${id}/changes${query({ page, pageSize: PAGE })}`),
  }),
  coming: (page: number) => queryOptions({
    queryKey: ['visits', page], placeholderData: keepPreviousData, queryFn: () => send(paged(comingVisit), 'GET', `/api/visits${query({ page, pageSize: PAGE })}`),
  }),
};

/** Sends a change; every one answers with the id by which it can be undone. */
export const change = (method: 'POST' | 'PUT', path: string, body: unknown) => send(changed, method, path, body);
