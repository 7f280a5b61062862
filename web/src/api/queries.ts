import {
  benchDetail,
  benchPart,
  benchRow,
  campaignRow,
  changed,
  changeRow,
  comingVisit,
  weekLoads,
  engineSummary,
  engineVariant,
  fleetProgress,
  historyEntry,
  intakeRun,
  libraryAuthority,
  libraryChange,
  libraryComponent,
  libraryFamily,
  libraryFamilyRow,
  libraryTask,
  libraryPack,
  libraryPoint,
  libraryPointRow,
  limitPicture,
  notice,
  noticeCampaignRow,
  noticeRow,
  lookupAnswer,
  lookupMeaning,
  paged,
  purchaseView,
  questions,
  sessionState,
  settings,
  touches,
  vehicle,
  vehicleListRow,
  vehicleOutlook,
  why,
  type CampaignRow,
  type NoticeCampaignRow,
} from '@crosspeen/contract';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { z } from 'zod';
import { readLookup, readOutlook } from './answer.ts';
import { query, send } from './client.ts';

export interface LookupParams {
  readonly line: string;
  readonly variant?: string | null;
  readonly family?: string | null;
  readonly know?: string | null;
}

/** Whose answer a question is about: a vehicle's on file, or that of a lookup line. */
export type AnswerSource =
  { readonly kind: 'vehicle'; readonly id: string } | { readonly kind: 'lookup'; readonly params: LookupParams };

interface Page<Row> {
  readonly rows: readonly Row[];
  readonly total: number;
  readonly pageSize: number;
}
/** A vehicle to call, about a weak point or about a notice. */
export type CalledRow = CampaignRow & Partial<Pick<NoticeCampaignRow, 'answered' | 'coveredUntil' | 'covered'>>;

const PAGE = 25;

/** Keys and fetchers of everything the screens read, in one place. */
export const read = {
  session: () =>
    queryOptions({
      queryKey: ['session'],
      queryFn: () => send(sessionState, 'GET', '/api/session'),
      staleTime: Infinity,
    }),
  settings: () =>
    queryOptions({ queryKey: ['settings'], queryFn: () => send(settings, 'GET', '/api/settings'), staleTime: 60_000 }),
  meaning: (params: LookupParams) =>
    queryOptions({
      queryKey: ['meaning', params],
      placeholderData: keepPreviousData,
      staleTime: 30_000,
      queryFn: ({ signal }) => send(lookupMeaning, 'GET', `/api/lookup/meaning${query({ ...params })}`, { signal }),
    }),
  answer: (params: LookupParams) =>
    queryOptions({
      queryKey: ['answer', params],
      queryFn: ({ signal }) =>
        send(lookupAnswer, 'GET', `/api/lookup${query({ ...params, drawn: 'yes' })}`, { signal }),
      select: readLookup,
    }),
  engines: () =>
    queryOptions({
      queryKey: ['engines'],
      staleTime: 300_000,
      queryFn: () =>
        send(
          paged(z.object({ engine: engineSummary, variants: z.array(engineVariant) })),
          'GET',
          '/api/engines?pageSize=100',
        ),
    }),
  vehicles: (params: {
    q: string;
    order: 'pressing' | 'chance' | 'plate';
    page: number;
    pageSize?: number;
    verdict?: string | null;
    consequence?: string | null;
    least?: string | null;
  }) =>
    queryOptions({
      queryKey: ['vehicles', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        send(paged(vehicleListRow), 'GET', `/api/vehicles${query({ pageSize: PAGE, ...params })}`, { signal }),
    }),
  vehicle: (id: string) =>
    queryOptions({ queryKey: ['vehicle', id], queryFn: () => send(vehicle, 'GET', `/api/vehicles/${id}`) }),
  outlook: (id: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'outlook'],
      queryFn: () => send(vehicleOutlook, 'GET', `/api/vehicles/${id}/outlook?drawn=yes`),
      select: readOutlook,
    }),
  questions: (params: LookupParams) =>
    queryOptions({
      queryKey: ['questions', params],
      queryFn: ({ signal }) => send(questions, 'GET', `/api/lookup/questions${query({ ...params })}`, { signal }),
    }),
  purchase: (params: LookupParams, price: number | null) =>
    queryOptions({
      queryKey: ['purchase', params, price],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        send(purchaseView, 'GET', `/api/lookup/purchase${query({ ...params, price })}`, { signal }),
    }),
  why: (source: AnswerSource, weakPointId: string) =>
    queryOptions({
      queryKey: ['why', source, weakPointId],
      queryFn: ({ signal }) =>
        send(
          why,
          'GET',
          source.kind === 'vehicle'
            ? `/api/vehicles/${source.id}/why/${weakPointId}`
            : `/api/lookup/why/${weakPointId}${query({ ...source.params })}`,
          { signal },
        ),
    }),
  bench: (params: { q: string; order: 'failures' | 'apart' | 'parts'; page: number }) =>
    queryOptions({
      queryKey: ['bench', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        send(paged(benchRow), 'GET', `/api/bench${query({ pageSize: PAGE, ...params })}`, { signal }),
    }),
  benchDetail: (id: string) =>
    queryOptions({ queryKey: ['bench', id], queryFn: () => send(benchDetail, 'GET', `/api/bench/${id}`) }),
  benchParts: (id: string, page: number) =>
    queryOptions({
      queryKey: ['bench', id, 'parts', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(benchPart), 'GET', `/api/bench/${id}/parts${query({ page, pageSize: PAGE })}`),
    }),
  libraryPoints: (params: { q: string; page: number; group?: string | null; state?: string | null }) =>
    queryOptions({
      queryKey: ['library', 'points', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        send(paged(libraryPointRow), 'GET', `/api/library/points${query({ pageSize: PAGE, ...params })}`, { signal }),
    }),
  libraryFamilies: () =>
    queryOptions({
      queryKey: ['library', 'families'],
      queryFn: () => send(paged(libraryFamilyRow), 'GET', '/api/library/families?pageSize=100'),
    }),
  libraryFamily: (id: string) =>
    queryOptions({
      queryKey: ['library', 'family', id],
      queryFn: () => send(libraryFamily, 'GET', `/api/library/families/${id}`),
    }),
  libraryUpkeep: (familyId: string) =>
    queryOptions({
      queryKey: ['library', 'upkeep', familyId],
      queryFn: () => send(paged(libraryTask), 'GET', `/api/library/families/${familyId}/upkeep?pageSize=100`),
    }),
  libraryPoint: (id: string) =>
    queryOptions({
      queryKey: ['library', 'point', id],
      queryFn: () => send(libraryPoint, 'GET', `/api/library/points/${id}`),
    }),
  libraryChanges: (page: number, entityId?: string) =>
    queryOptions({
      queryKey: ['library', 'changes', page, entityId ?? null],
      placeholderData: keepPreviousData,
      queryFn: () =>
        send(
          paged(libraryChange),
          'GET',
          `/api/library/changes${query({ page, pageSize: 10, entityId: entityId ?? null })}`,
        ),
    }),
  /** Whom a weak point or a notice touches; exactly one of the two is named. */
  calls: (
    about: { readonly weakPointId: string | null; readonly noticeId: string | null },
    left: 'all' | 'left',
    page: number,
  ) =>
    queryOptions({
      queryKey: ['library', 'calls', about, left, page],
      placeholderData: keepPreviousData,
      queryFn: (): Promise<Page<CalledRow>> => {
        const asked = query({ left, page, pageSize: PAGE });
        return about.weakPointId === null
          ? send(paged(noticeCampaignRow), 'GET', `/api/library/notices/${about.noticeId}/vehicles${asked}`)
          : send(paged(campaignRow), 'GET', `/api/library/points/${about.weakPointId}/vehicles${asked}`);
      },
    }),
  notices: (q: string, page: number) =>
    queryOptions({
      queryKey: ['library', 'notices', q, page],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        send(paged(noticeRow), 'GET', `/api/library/notices${query({ q, page, pageSize: PAGE })}`, { signal }),
    }),
  notice: (id: string) =>
    queryOptions({
      queryKey: ['library', 'notice', id],
      queryFn: () => send(notice, 'GET', `/api/library/notices/${id}`),
    }),
  packs: (page: number) =>
    queryOptions({
      queryKey: ['library', 'packs', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(libraryPack), 'GET', `/api/library/packs${query({ page, pageSize: PAGE })}`),
    }),
  authorities: () =>
    queryOptions({
      queryKey: ['library', 'authorities'],
      queryFn: () => send(paged(libraryAuthority), 'GET', '/api/library/authorities?pageSize=100'),
    }),
  libraryComponents: (familyId: string) =>
    queryOptions({
      queryKey: ['library', 'components', familyId],
      enabled: familyId !== '',
      queryFn: () =>
        send(paged(libraryComponent), 'GET', `/api/library/components${query({ familyId, pageSize: 100 })}`),
    }),
  touches: (params: Record<string, string | null>) =>
    queryOptions({
      queryKey: ['library', 'touches', params],
      enabled: Boolean(params['familyId']),
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => send(touches, 'GET', `/api/library/touches${query(params)}`, { signal }),
    }),
  intakeRun: (id: string) =>
    queryOptions({ queryKey: ['intake', id], queryFn: () => send(intakeRun, 'GET', `/api/intake/${id}`) }),
  intakeRuns: (page: number) =>
    queryOptions({
      queryKey: ['intake', 'runs', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(intakeRun), 'GET', `/api/intake${query({ page, pageSize: 10 })}`),
    }),
  limitPicture: () =>
    queryOptions({
      queryKey: ['limit-picture'],
      queryFn: () => send(limitPicture, 'GET', '/api/settings/limit-picture'),
    }),
  fleet: () => queryOptions({ queryKey: ['fleet'], queryFn: () => send(fleetProgress, 'GET', '/api/fleet') }),
  history: (id: string, page: number) =>
    queryOptions({
      queryKey: ['vehicle', id, 'history', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(historyEntry), 'GET', `/api/vehicles/${id}/history${query({ page, pageSize: PAGE })}`),
    }),
  changes: (id: string, page: number) =>
    queryOptions({
      queryKey: ['vehicle', id, 'changes', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(changeRow), 'GET', `/api/vehicles/${id}/changes${query({ page, pageSize: PAGE })}`),
    }),
  weeks: () =>
    queryOptions({ queryKey: ['visits', 'weeks'], queryFn: () => send(weekLoads, 'GET', '/api/visits/weeks') }),
  coming: (page: number) =>
    queryOptions({
      queryKey: ['visits', page],
      placeholderData: keepPreviousData,
      queryFn: () => send(paged(comingVisit), 'GET', `/api/visits${query({ page, pageSize: PAGE })}`),
    }),
};

/** Sends a change, under the key of the form it comes from. */
export const change = (method: 'POST' | 'PUT', path: string, body: unknown, key?: string) =>
  send(changed, method, path, { body, ...(key === undefined ? {} : { key }) });
