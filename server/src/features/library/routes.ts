import {
  FAULTS,
  SAID,
  anyText,
  callDraft,
  campaignQuery,
  campaignRow,
  changed,
  engineChoice,
  engineDraft,
  familyId,
  libraryChange,
  libraryChangeQuery,
  libraryComponent,
  libraryFamily,
  libraryFamilyRow,
  libraryAuthority,
  libraryPack,
  libraryPoint,
  libraryPointQuery,
  libraryPointRow,
  MOST_PACK_BYTES,
  notice,
  noticeCampaignRow,
  noticeDraft,
  noticeId,
  noticeQuery,
  noticeRow,
  noticeStep,
  noticeUpdate,
  packImport,
  packJsonSchema,
  packPreview,
  paged,
  paging,
  pointDraft,
  pointStep,
  pointUpdate,
  touches,
  touchesQuery,
  taskDraft,
  taskId,
  taskUpdate,
  libraryTask,
  weakPointId,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { Campaigns } from './campaigns.ts';
import type { LibraryDesk } from './authoring.ts';
import type { Notices } from './notices.ts';
import type { EngineShelf } from './engines.ts';
import type { PackDesk, PackWork } from './packs.ts';
import type { LibraryShelf } from './shelf.ts';
import type { UpkeepShelf } from './upkeep.ts';
import { exportPack } from '../../knowledge/pack-out.ts';

interface LibraryNeeds {
  readonly source: DataSource;
  readonly shelf: LibraryShelf;
  readonly desk: LibraryDesk;
  readonly engines: EngineShelf;
  readonly packs: PackWork & Pick<PackDesk, 'list'>;
  readonly campaigns: Campaigns;
  readonly notices: Notices;
  readonly upkeep: UpkeepShelf;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** The engines of the library with their variants, for choosing one. */
export const libraryRoutes =
  (needs: LibraryNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const { source, shelf, desk, engines, packs, campaigns, notices, upkeep, settings, clock } = needs;
    app.get(
      '/api/engines',
      {
        schema: {
          summary: 'Engines of the library with their variants',
          tags: ['library'],
          querystring: paging,
          response: { 200: paged(engineChoice) },
        },
      },
      async (request) => {
        return pageOf(await shelf.engines(request.query), request.query);
      },
    );
    const tags = ['library'];
    app.post(
      '/api/library/engines',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Add an engine', tags, body: engineDraft, response: { 200: changed } },
      },
      (request) => engines.add(userOf(request), request.body),
    );
    app.get(
      '/api/library/points',
      {
        schema: {
          summary: 'Weak points, found by code, symptom, component or part number',
          tags,
          querystring: libraryPointQuery,
          response: { 200: paged(libraryPointRow) },
        },
      },
      async (request) => {
        return pageOf(await shelf.points(request.query), request.query);
      },
    );
    app.get(
      '/api/library/families',
      {
        schema: {
          summary: 'Engines of the library, counted',
          tags,
          querystring: paging,
          response: { 200: paged(libraryFamilyRow) },
        },
      },
      async (request) => {
        return pageOf(await shelf.families(request.query), request.query);
      },
    );
    app.get(
      '/api/library/families/:id',
      {
        schema: {
          summary: 'One engine with all that is known of it',
          tags,
          params: z.object({ id: familyId }),
          response: { 200: libraryFamily },
        },
      },
      (request) => {
        return shelf.family(request.params.id);
      },
    );
    app.get(
      '/api/library/families/:id/upkeep',
      {
        schema: {
          summary: 'What is done again and again on an engine',
          tags,
          params: z.object({ id: familyId }),
          querystring: paging,
          response: { 200: paged(libraryTask) },
        },
      },
      async (request) => {
        return pageOf(await upkeep.ofFamily(request.params.id, request.query), request.query);
      },
    );
    app.post(
      '/api/library/upkeep',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Write a recurring task', tags, body: taskDraft, response: { 200: changed } },
      },
      (request) => upkeep.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/upkeep/:id',
      {
        config: { needs: 'publishLibrary' },
        schema: {
          summary: 'Change a recurring task',
          tags,
          params: z.object({ id: taskId }),
          body: taskUpdate,
          response: { 200: changed },
        },
      },
      (request) => upkeep.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    const point = z.object({ id: weakPointId });
    app.get(
      '/api/library/points/:id',
      {
        schema: {
          summary: 'One weak point with all that is known of it',
          tags,
          params: point,
          response: { 200: libraryPoint },
        },
      },
      (request) => {
        return shelf.point(request.params.id);
      },
    );
    app.get(
      '/api/library/points/:id/vehicles',
      {
        schema: {
          summary: 'Saved vehicles that a weak point touches',
          tags,
          params: point,
          querystring: campaignQuery,
          response: { 200: paged(campaignRow) },
        },
      },
      async (request) => {
        return pageOf(await campaigns.ofPoint(request.params.id, request.query), request.query);
      },
    );
    const noticeParams = z.object({ id: noticeId });
    app.get(
      '/api/library/notices',
      {
        schema: {
          summary: 'Bulletins and coverages',
          tags,
          querystring: noticeQuery,
          response: { 200: paged(noticeRow) },
        },
      },
      async (request) => {
        return pageOf(await notices.list(request.query), request.query);
      },
    );
    app.get(
      '/api/library/notices/:id',
      { schema: { summary: 'One bulletin or coverage', tags, params: noticeParams, response: { 200: notice } } },
      (request) => {
        return notices.get(request.params.id);
      },
    );
    app.get(
      '/api/library/notices/:id/vehicles',
      {
        schema: {
          summary: 'Saved vehicles that a notice touches',
          tags,
          params: noticeParams,
          querystring: campaignQuery,
          response: { 200: paged(noticeCampaignRow) },
        },
      },
      async (request) => {
        return pageOf(await campaigns.ofNotice(request.params.id, request.query), request.query);
      },
    );
    app.post(
      '/api/library/notices',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Add a bulletin or a coverage', tags, body: noticeDraft, response: { 200: changed } },
      },
      (request) => notices.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/notices/:id',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Correct a bulletin or a coverage',
          tags,
          params: noticeParams,
          body: noticeUpdate,
          response: { 200: changed },
        },
      },
      (request) => notices.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    app.post(
      '/api/library/notices/:id/step',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Take a notice out of use, or back into it',
          tags,
          params: noticeParams,
          body: noticeStep,
          response: { 200: changed },
        },
      },
      (request) => notices.step(userOf(request), request.params.id, request.body.state, request.body.version),
    );
    app.post(
      '/api/library/calls',
      {
        config: { needs: 'planVisits' },
        schema: {
          summary: 'Record a call to the keeper of a vehicle',
          tags,
          body: callDraft,
          response: { 200: changed },
        },
      },
      (request) => campaigns.call(userOf(request), request.body),
    );
    app.get(
      '/api/library/authorities',
      {
        schema: {
          summary: 'Who speaks in the library',
          tags,
          querystring: paging,
          response: { 200: paged(libraryAuthority) },
        },
      },
      async (request) => {
        return pageOf(await shelf.authorities(request.query), request.query);
      },
    );
    app.get(
      '/api/library/changes',
      {
        schema: {
          summary: 'What changed in the library, latest first',
          tags,
          querystring: libraryChangeQuery,
          response: { 200: paged(libraryChange) },
        },
      },
      async (request) => {
        return pageOf(await shelf.changes(request.query), request.query);
      },
    );
    app.get(
      '/api/library/components',
      {
        schema: {
          summary: 'Components of the library',
          tags,
          querystring: paging.extend({ familyId: familyId.optional() }),
          response: { 200: paged(libraryComponent) },
        },
      },
      async (request) => {
        return pageOf(await shelf.components(request.query), request.query);
      },
    );
    app.get(
      '/api/library/touches',
      {
        schema: {
          summary: 'How many vehicles a draft would touch, and what it resembles',
          tags,
          querystring: touchesQuery,
          response: { 200: touches },
        },
      },
      (request) => {
        const { familyId: of, variants, producedFrom, producedTo, title, componentId, not } = request.query;
        return desk.touches({
          familyId: of,
          variants: variants.split(',').filter(Boolean),
          producedFrom: producedFrom ?? null,
          producedTo: producedTo ?? null,
          title,
          componentId: componentId ?? null,
          not: not ?? null,
        });
      },
    );
    app.post(
      '/api/library/points',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Write a weak point, as a draft', tags, body: pointDraft, response: { 200: changed } },
      },
      (request) => desk.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/points/:id',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Correct a weak point', tags, params: point, body: pointUpdate, response: { 200: changed } },
      },
      (request) => desk.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    app.post(
      '/api/library/points/:id/step',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Take a weak point a step on its way',
          tags,
          params: point,
          body: pointStep,
          response: { 200: changed },
        },
      },
      (request) => desk.step(userOf(request), request.params.id, request.body),
    );
    app.get(
      '/api/library/export',
      {
        schema: {
          summary: 'The library, or one of its packs, as a pack file',
          tags,
          querystring: z.object({ families: z.string().max(20_000).default('') }),
        },
      },
      async (request, reply) => {
        const ids = request.query.families.split(',').filter(Boolean);
        for (const id of ids) if (!familyId.safeParse(id).success) throw badField('families', FAULTS.engineIds);
        const { workshopName } = await settings.now();
        const name = workshopName || 'Our workshop';
        const pack = await exportPack(
          source.manager,
          {
            key: `${
              name
                .toLowerCase()
                .normalize('NFKD')
                .replace(/[^a-z0-9]+/g, '-')
                .replace(/^-+|-+$/g, '')
                .slice(0, 60) || 'workshop'
            }`,
            title: `${name}, library`.slice(0, 120),
            version: `${clock.todayIso().replaceAll('-', '.').replace(/\.0/g, '.')}`,
            licence: 'all rights with the workshop',
          },
          ids.length === 0 ? null : ids,
        );
        return reply
          .header('content-type', 'application/json; charset=utf-8')
          .header('content-disposition', `attachment; filename="${pack.key}-${clock.todayIso()}.json"`)
          .send(`${JSON.stringify(pack, null, 2)}\n`);
      },
    );
    app.get('/api/library/pack.schema.json', { schema: { summary: 'JSON Schema of pack files', tags } }, () => {
      return packJsonSchema();
    });
    // The text of a file as it is: what is wrong in it is told by its own lines.
    void app.register((files: typeof app, _none: unknown, ready: () => void) => {
      files.removeAllContentTypeParsers();
      files.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: MOST_PACK_BYTES }, (_request, body, parsed) =>
        parsed(null, body),
      );
      files.post(
        '/api/library/packs/preview',
        {
          bodyLimit: MOST_PACK_BYTES,
          config: { needs: 'publishLibrary' },
          schema: {
            summary: 'Show what taking a pack file in would do',
            tags,
            querystring: z.object({ name: anyText(200).default('pack.json') }),
            response: { 200: packPreview },
          },
        },
        async (request) => {
          const user = userOf(request);
          return packs.preview(user, request.query.name, textOf(request.body));
        },
      );
      ready();
    });
    app.get(
      '/api/library/packs',
      { schema: { summary: 'Imported packs', tags, querystring: paging, response: { 200: paged(libraryPack) } } },
      async (request) => {
        return pageOf(await packs.list(request.query), request.query);
      },
    );
    app.post(
      '/api/library/packs/import',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Take a shown pack in, as chosen', tags, body: packImport, response: { 200: changed } },
      },
      (request) => packs.take(userOf(request), request.body.uploadId, request.body.choices),
    );
    done();
  };

/** A file's bytes as text. Throws bad_file when they are no UTF-8. */
function textOf(body: unknown): string {
  if (!Buffer.isBuffer(body) || body.length === 0) throw new Problem(SAID.emptyPack);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(body);
  } catch {
    throw new Problem(SAID.packNotUtf8);
  }
}
