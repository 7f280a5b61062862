import {
  campaignQuery,
  libraryPointQuery,
  noticeId,
  noticeQuery,
  weakPointId,
  type CampaignRow,
  type NoticeCampaignRow,
  type NoticeRow,
} from '@crosspeen/contract';
import { z } from 'zod';
import type { Campaigns } from '../library/campaigns.ts';
import type { Notices } from '../library/notices.ts';
import type { PackDesk } from '../library/packs.ts';
import type { LibraryShelf } from '../library/shelf.ts';
import { csvOf, percent, TO_CALL, windows } from './columns.ts';
import { tags, type ListApp, type Sent } from './list.ts';

export interface LibraryListNeeds {
  readonly shelf: LibraryShelf;
  readonly campaigns: Campaigns;
  readonly notices: Notices;
  readonly packs: Pick<PackDesk, 'list'>;
}

/** What the library holds, what changed in it, and whom it asks to be called. */
export function libraryLists(app: ListApp, { shelf, campaigns, notices, packs }: LibraryListNeeds, sent: Sent): void {
  app.get(
    '/api/lists/weak-points.csv',
    { schema: { summary: 'Weak points as CSV', tags, querystring: libraryPointQuery } },
    (request, reply) => {
      type Row = Awaited<ReturnType<typeof shelf.points>>['rows'][number];
      return sent(
        reply,
        'weak-points',
        csvOf<Row>(
          {
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
          (asked) => shelf.points({ ...request.query, ...asked }),
        ),
      );
    },
  );
  app.get('/api/lists/engines.csv', { schema: { summary: 'Engines as CSV', tags } }, (_request, reply) => {
    type Row = Awaited<ReturnType<typeof shelf.families>>['rows'][number];
    return sent(
      reply,
      'engines',
      csvOf<Row>(
        {
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
        (asked) => shelf.families(asked),
      ),
    );
  });
  app.get(
    '/api/lists/notices.csv',
    { schema: { summary: 'Bulletins and coverages as CSV', tags, querystring: noticeQuery } },
    (request, reply) => {
      return sent(
        reply,
        'notices',
        csvOf<NoticeRow>(
          {
            kind: (row) => row.kind,
            from: (row) => row.authority,
            number: (row) => row.number,
            title: (row) => row.title,
            issued: (row) => row.issued,
            state: (row) => row.state,
            engines: (row) => row.engines.join(' '),
            'saved vehicles': (row) => row.vehicles,
          },
          (asked) => notices.list({ q: request.query.q, ...asked }),
        ),
      );
    },
  );
  app.get(
    '/api/lists/campaign/:id.csv',
    {
      schema: {
        summary: 'Vehicles that a weak point touches as CSV',
        tags,
        params: z.object({ id: weakPointId }),
        querystring: campaignQuery,
      },
    },
    (request, reply) => {
      return sent(
        reply,
        'to-call',
        csvOf<CampaignRow>(TO_CALL, (asked) =>
          campaigns.ofPoint(request.params.id, { left: request.query.left, ...asked }),
        ),
      );
    },
  );
  app.get(
    '/api/lists/notice/:id.csv',
    {
      schema: {
        summary: 'Vehicles that a notice touches as CSV',
        tags,
        params: z.object({ id: noticeId }),
        querystring: campaignQuery,
      },
    },
    (request, reply) => {
      return sent(
        reply,
        'to-call',
        csvOf<NoticeCampaignRow>(
          { ...TO_CALL, answered: (row) => (row.answered ? 'yes' : 'no'), 'covered until': (row) => row.coveredUntil },
          (asked) => campaigns.ofNotice(request.params.id, { left: request.query.left, ...asked }),
        ),
      );
    },
  );
  app.get(
    '/api/lists/library-changes.csv',
    { schema: { summary: 'Changes of the library as CSV', tags } },
    (_request, reply) => {
      type Row = Awaited<ReturnType<typeof shelf.changes>>['rows'][number];
      return sent(
        reply,
        'library-changes',
        csvOf<Row>(
          {
            at: (row) => row.at,
            by: (row) => row.by,
            what: (row) => row.summary,
            kind: (row) => row.kind,
            rows: (row) => row.rows,
            undone: (row) => (row.undone ? 'yes' : 'no'),
          },
          (asked) => shelf.changes(asked),
        ),
      );
    },
  );
  app.get('/api/lists/packs.csv', { schema: { summary: 'Imported packs as CSV', tags } }, (_request, reply) => {
    type Row = Awaited<ReturnType<typeof packs.list>>['rows'][number];
    return sent(
      reply,
      'packs',
      csvOf<Row>(
        {
          key: (row) => row.key,
          title: (row) => row.title,
          version: (row) => row.version,
          licence: (row) => row.licence,
          imported: (row) => row.loadedAt,
          engines: (row) => row.engines,
          'weak points': (row) => row.points,
          notices: (row) => row.notices,
        },
        (asked) => packs.list(asked),
      ),
    );
  });
}
