import { call } from './client.ts';
import { endpoints, PAGE_SIZE, type CampaignRow, type NoticeCampaignRow, type PointState } from '@crosspeen/contract';
import type { Consequence, Group, Verdict } from '@crosspeen/core';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { readLookup, readOutlook } from './answer.ts';

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

/** Keys and fetchers of everything the screens read, in one place. */
export const read = {
  session: () =>
    queryOptions({ queryKey: ['session'], queryFn: () => call(endpoints.session.state), staleTime: Infinity }),
  settings: () =>
    queryOptions({ queryKey: ['settings'], queryFn: () => call(endpoints.settings.get), staleTime: 60_000 }),
  meaning: (params: LookupParams) =>
    queryOptions({
      queryKey: ['meaning', params],
      placeholderData: keepPreviousData,
      staleTime: 30_000,
      queryFn: ({ signal }) => call(endpoints.lookup.meaning, { query: params, signal }),
    }),
  answer: (params: LookupParams) =>
    queryOptions({
      queryKey: ['answer', params],
      queryFn: ({ signal }) => call(endpoints.lookup.answer, { query: { ...params, drawn: 'yes' }, signal }),
      select: readLookup,
    }),
  engines: () =>
    queryOptions({
      queryKey: ['engines'],
      staleTime: 300_000,
      queryFn: () => call(endpoints.library.engines, { query: { pageSize: 100 } }),
    }),
  deskNotes: () =>
    queryOptions({
      queryKey: ['deskNotes'],
      queryFn: () => call(endpoints.desk.list, { query: { which: 'open', pageSize: 10 } }),
    }),
  vehicles: (params: {
    q: string;
    order: 'pressing' | 'chance' | 'plate';
    page: number;
    pageSize?: number;
    verdict?: Verdict | null;
    consequence?: Consequence | null;
    least?: string | null;
  }) =>
    queryOptions({
      queryKey: ['vehicles', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.vehicles.list, { query: { pageSize: PAGE_SIZE, ...params }, signal }),
    }),
  vehicle: (id: string) =>
    queryOptions({ queryKey: ['vehicle', id], queryFn: () => call(endpoints.vehicles.get, { params: { id } }) }),
  outlook: (id: string) =>
    queryOptions({
      queryKey: ['vehicle', id, 'outlook'],
      queryFn: () => call(endpoints.vehicles.outlook, { params: { id }, query: { drawn: 'yes' } }),
      select: readOutlook,
    }),
  questions: (params: LookupParams) =>
    queryOptions({
      queryKey: ['questions', params],
      queryFn: ({ signal }) => call(endpoints.lookup.questions, { query: params, signal }),
    }),
  purchase: (params: LookupParams, price: number | null) =>
    queryOptions({
      queryKey: ['purchase', params, price],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.lookup.purchase, { query: { ...params, price }, signal }),
    }),
  why: (source: AnswerSource, weakPointId: string) =>
    queryOptions({
      queryKey: ['why', source, weakPointId],
      queryFn: ({ signal }) =>
        source.kind === 'vehicle'
          ? call(endpoints.vehicles.why, { params: { id: source.id, weakPointId }, signal })
          : call(endpoints.lookup.why, { params: { weakPointId }, query: source.params, signal }),
    }),
  bench: (params: { q: string; order: 'failures' | 'apart' | 'parts'; page: number }) =>
    queryOptions({
      queryKey: ['bench', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.bench.list, { query: { pageSize: PAGE_SIZE, ...params }, signal }),
    }),
  benchDetail: (id: string) =>
    queryOptions({ queryKey: ['bench', id], queryFn: () => call(endpoints.bench.detail, { params: { id } }) }),
  benchParts: (id: string, page: number) =>
    queryOptions({
      queryKey: ['bench', id, 'parts', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.bench.parts, { params: { id }, query: { page, pageSize: PAGE_SIZE } }),
    }),
  libraryPoints: (params: { q: string; page: number; group?: Group | null; state?: PointState | null }) =>
    queryOptions({
      queryKey: ['library', 'points', params],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.library.points, { query: { pageSize: PAGE_SIZE, ...params }, signal }),
    }),
  libraryFamilies: () =>
    queryOptions({
      queryKey: ['library', 'families'],
      queryFn: () => call(endpoints.library.families, { query: { pageSize: 100 } }),
    }),
  libraryFamily: (id: string) =>
    queryOptions({
      queryKey: ['library', 'family', id],
      queryFn: () => call(endpoints.library.family, { params: { id } }),
    }),
  libraryUpkeep: (familyId: string) =>
    queryOptions({
      queryKey: ['library', 'upkeep', familyId],
      queryFn: () => call(endpoints.library.upkeep, { params: { id: familyId }, query: { pageSize: 100 } }),
    }),
  libraryPoint: (id: string) =>
    queryOptions({
      queryKey: ['library', 'point', id],
      queryFn: () => call(endpoints.library.point, { params: { id } }),
    }),
  libraryChanges: (page: number, entityId?: string) =>
    queryOptions({
      queryKey: ['library', 'changes', page, entityId ?? null],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.library.changes, { query: { page, pageSize: 10, entityId: entityId ?? null } }),
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
        const asked = { left, page, pageSize: PAGE_SIZE };
        return about.weakPointId === null
          ? call(endpoints.notices.vehicles, { params: { id: about.noticeId! }, query: asked })
          : call(endpoints.library.pointVehicles, { params: { id: about.weakPointId }, query: asked });
      },
    }),
  notices: (q: string, page: number) =>
    queryOptions({
      queryKey: ['library', 'notices', q, page],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.notices.list, { query: { q, page, pageSize: PAGE_SIZE }, signal }),
    }),
  notice: (id: string) =>
    queryOptions({
      queryKey: ['library', 'notice', id],
      queryFn: () => call(endpoints.notices.get, { params: { id } }),
    }),
  packs: (page: number) =>
    queryOptions({
      queryKey: ['library', 'packs', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.packs.list, { query: { page, pageSize: PAGE_SIZE } }),
    }),
  authorities: () =>
    queryOptions({
      queryKey: ['library', 'authorities'],
      queryFn: () => call(endpoints.library.authorities, { query: { pageSize: 100 } }),
    }),
  libraryComponents: (familyId: string) =>
    queryOptions({
      queryKey: ['library', 'components', familyId],
      enabled: familyId !== '',
      queryFn: () => call(endpoints.library.components, { query: { familyId, pageSize: 100 } }),
    }),
  touches: (params: Record<string, string | null>) =>
    queryOptions({
      queryKey: ['library', 'touches', params],
      enabled: Boolean(params['familyId']),
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => call(endpoints.library.touches, { query: params, signal }),
    }),
  intakeRun: (id: string) =>
    queryOptions({ queryKey: ['intake', id], queryFn: () => call(endpoints.intake.run, { params: { id } }) }),
  intakeRuns: (page: number) =>
    queryOptions({
      queryKey: ['intake', 'runs', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.intake.runs, { query: { page, pageSize: 10 } }),
    }),
  limitPicture: () =>
    queryOptions({ queryKey: ['limit-picture'], queryFn: () => call(endpoints.settings.limitPicture) }),
  fleet: () => queryOptions({ queryKey: ['fleet'], queryFn: () => call(endpoints.fleet.progress) }),
  history: (id: string, page: number) =>
    queryOptions({
      queryKey: ['vehicle', id, 'history', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.vehicles.history, { params: { id }, query: { page, pageSize: PAGE_SIZE } }),
    }),
  changes: (id: string, page: number) =>
    queryOptions({
      queryKey: ['vehicle', id, 'changes', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.vehicles.changes, { params: { id }, query: { page, pageSize: PAGE_SIZE } }),
    }),
  weeks: () => queryOptions({ queryKey: ['visits', 'weeks'], queryFn: () => call(endpoints.visits.weeks) }),
  coming: (page: number) =>
    queryOptions({
      queryKey: ['visits', page],
      placeholderData: keepPreviousData,
      queryFn: () => call(endpoints.visits.list, { query: { page, pageSize: PAGE_SIZE } }),
    }),
};
