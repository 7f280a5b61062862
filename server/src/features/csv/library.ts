import type { Campaigns } from '../../lists/campaigns.ts';
import type { Notices } from '../notices/service.ts';
import type { PackDesk } from '../packs/service.ts';
import type { LibraryShelf } from '../library/shelf.ts';
import { percent, TO_CALL, windows } from './columns.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { endpoints } from '@crosspeen/contract';
import type { AddList } from './list.ts';

export interface LibraryListNeeds {
  readonly shelf: LibraryShelf;
  readonly campaigns: Campaigns;
  readonly notices: Notices;
  readonly packs: Pick<PackDesk, 'list'>;
}

/** What the library holds, what changed in it, and whom it asks to be called. */
export const libraryLists = (
  list: AddList,
  { shelf, campaigns, notices, packs }: LibraryListNeeds,
): Pick<
  Handlers<typeof endpoints.lists>,
  'weakPoints' | 'engines' | 'notices' | 'pointVehicles' | 'noticeVehicles' | 'libraryChanges' | 'packs'
> => ({
  weakPoints: list({
    file: 'weak-points',
    page: (asked, { query }) => shelf.points({ ...query, ...asked }),
    columns: {
      key: (row) => row.key,
      'weak point': (row) => row.title,
      make: (row) => row.maker,
      'engine code': (row) => row.engineCode,
      component: (row) => row.component,
      group: (row) => row.group,
      consequence: (row) => row.consequence,
      safety: (row) => (row.safety ? 'yes' : 'no'),
      'share, %': (row) => percent(row.share),
      window: (row) => windows(row.causes),
      signs: (row) => row.signs,
      state: (row) => row.state,
      'saved vehicles': (row) => row.vehicles,
    },
  }),
  engines: list({
    file: 'engines',
    page: (asked) => shelf.families(asked),
    columns: {
      make: (row) => row.engine.maker,
      'engine code': (row) => row.engine.code,
      name: (row) => row.engine.name,
      litres: (row) => row.engine.displacementL,
      fuel: (row) => row.engine.fuel,
      timing: (row) => row.engine.timingDrive,
      interference: (row) => (row.engine.interference ? 'yes' : 'no'),
      variants: (row) => row.variants,
      'weak points': (row) => row.weakPoints,
      operations: (row) => row.operations,
      'saved vehicles': (row) => row.vehicles,
    },
  }),
  notices: list({
    file: 'notices',
    page: (asked, { query }) => notices.list({ q: query.q, ...asked }),
    columns: {
      kind: (row) => row.kind,
      from: (row) => row.authority,
      number: (row) => row.number,
      title: (row) => row.title,
      issued: (row) => row.issued,
      state: (row) => row.state,
      engines: (row) => row.engines.join(' '),
      'saved vehicles': (row) => row.vehicles,
    },
  }),
  pointVehicles: list({
    file: 'to-call',
    page: (asked, { query, params }) => campaigns.ofPoint(params.id, { left: query.left, ...asked }),
    columns: TO_CALL,
  }),
  noticeVehicles: list({
    file: 'to-call',
    page: (asked, { query, params }) => campaigns.ofNotice(params.id, { left: query.left, ...asked }),
    columns: {
      ...TO_CALL,
      answered: (row) => (row.answered ? 'yes' : 'no'),
      'covered until': (row) => row.coveredUntil,
    },
  }),
  libraryChanges: list({
    file: 'library-changes',
    page: (asked) => shelf.changes(asked),
    columns: {
      at: (row) => row.at,
      by: (row) => row.by,
      what: (row) => row.summary,
      kind: (row) => row.kind,
      rows: (row) => row.rows,
      undone: (row) => (row.undone ? 'yes' : 'no'),
    },
  }),
  packs: list({
    file: 'packs',
    page: (asked) => packs.list(asked),
    columns: {
      key: (row) => row.key,
      title: (row) => row.title,
      version: (row) => row.version,
      licence: (row) => row.licence,
      imported: (row) => row.loadedAt,
      engines: (row) => row.engines,
      'weak points': (row) => row.points,
      notices: (row) => row.notices,
    },
  }),
});
