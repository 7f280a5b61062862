import { campaignQuery, libraryPointQuery, noticeId, noticeQuery, weakPointId } from '@crosspeen/contract';
import { z } from 'zod';
import type { Campaigns } from '../library/campaigns.ts';
import type { Notices } from '../library/notices.ts';
import type { PackDesk } from '../library/packs.ts';
import type { LibraryShelf } from '../library/shelf.ts';
import { percent, TO_CALL, windows } from './columns.ts';
import type { AddList } from './list.ts';

export interface LibraryListNeeds {
  readonly shelf: LibraryShelf;
  readonly campaigns: Campaigns;
  readonly notices: Notices;
  readonly packs: Pick<PackDesk, 'list'>;
}

/** What the library holds, what changed in it, and whom it asks to be called. */
export function libraryLists(add: AddList, { shelf, campaigns, notices, packs }: LibraryListNeeds): void {
  add({
    path: 'weak-points.csv',
    summary: 'Weak points as CSV',
    file: 'weak-points',
    query: libraryPointQuery,
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
  });
  add({
    path: 'engines.csv',
    summary: 'Engines as CSV',
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
  });
  add({
    path: 'notices.csv',
    summary: 'Bulletins and coverages as CSV',
    file: 'notices',
    query: noticeQuery,
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
  });
  add({
    path: 'campaign/:id.csv',
    summary: 'Vehicles that a weak point touches as CSV',
    file: 'to-call',
    query: campaignQuery,
    params: z.object({ id: weakPointId }),
    page: (asked, { query, params }) => campaigns.ofPoint(params.id, { left: query.left, ...asked }),
    columns: TO_CALL,
  });
  add({
    path: 'notice/:id.csv',
    summary: 'Vehicles that a notice touches as CSV',
    file: 'to-call',
    query: campaignQuery,
    params: z.object({ id: noticeId }),
    page: (asked, { query, params }) => campaigns.ofNotice(params.id, { left: query.left, ...asked }),
    columns: {
      ...TO_CALL,
      answered: (row) => (row.answered ? 'yes' : 'no'),
      'covered until': (row) => row.coveredUntil,
    },
  });
  add({
    path: 'library-changes.csv',
    summary: 'Changes of the library as CSV',
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
  });
  add({
    path: 'packs.csv',
    summary: 'Imported packs as CSV',
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
  });
}
