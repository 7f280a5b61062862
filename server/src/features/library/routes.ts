import {
  callDraft, campaignQuery, campaignRow, changed, engineSummary, engineVariant, familyId, libraryChange, libraryChangeQuery, libraryComponent, libraryFamily, libraryFamilyRow, libraryAuthority, type LibraryAuthority, libraryPack, libraryPoint, libraryPointQuery, libraryPointRow, MOST_PACK_BYTES, notice, noticeCampaignRow, noticeDraft, noticeId, noticeQuery, noticeRow, noticeStep, noticeUpdate, packImport, packJsonSchema, packPreview, paged, paging, pointDraft, pointStep,
  pointUpdate, touches, touchesQuery, weakPointId,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { Services } from '../../services.ts';
import { exportPack } from './export.ts';
import { FAMILY_COLUMNS, engineOf, type VariantRow } from './repository.ts';

type EngineRow = Parameters<typeof engineOf>[0] & { variants: VariantRow[] | null };

/** The engines of the library with their variants, for choosing one. */
export const libraryRoutes = ({ source, shelf, desk, packs, campaigns, notices, settings, clock }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  const engine = z.object({ engine: engineSummary, variants: z.array(engineVariant) });
  app.get('/api/engines', { schema: { tags: ['library'], querystring: paging, response: { 200: paged(engine) } } }, async (request) => {
    userOf(request);
    const { page, pageSize } = request.query;
    const [rows, counted] = await Promise.all([
      source.query<EngineRow[]>(
        `select ${FAMILY_COLUMNS}, (select jsonb_agg(jsonb_build_object('id', v.id, 'key', v.key, 'name', v.name, 'howToTell', v.how_to_tell, 'producedFrom', v.produced_from, 'producedTo', v.produced_to, 'serialFrom', v.serial_from, 'serialTo', v.serial_to, 'models', v.models) order by v.position)
           from engine_variant v where v.family_id = f.id) as variants
         from engine_family f join maker m on m.id = f.maker_id order by f.code_key limit $1 offset $2`, [pageSize, (page - 1) * pageSize]),
      source.query<{ total: number }[]>('select count(*) as total from engine_family'),
    ]);
    return {
      rows: rows.map((row) => ({ engine: engineOf(row), variants: (row.variants ?? []).map(({ serialFrom: _from, serialTo: _to, ...variant }) => ({ ...variant, weight: 0, models: variant.models.map(({ model }) => model) })) })),
      total: Number(counted[0]!.total), page, pageSize,
    };
  });
  const tags = ['library'];
  const pageOf = <T extends object>(found: T, { page, pageSize }: { page: number; pageSize: number }) => ({ ...found, page, pageSize });
  app.get('/api/library/points', { schema: { tags, querystring: libraryPointQuery, response: { 200: paged(libraryPointRow) } } }, async (request) => {
    userOf(request);
    return pageOf(await shelf.points(request.query), request.query);
  });
  app.get('/api/library/families', { schema: { tags, querystring: paging, response: { 200: paged(libraryFamilyRow) } } }, async (request) => {
    userOf(request);
    return pageOf(await shelf.families(request.query), request.query);
  });
  app.get('/api/library/families/:id', { schema: { tags, params: z.object({ id: familyId }), response: { 200: libraryFamily } } }, (request) => {
    userOf(request);
    return shelf.family(request.params.id);
  });
  const point = z.object({ id: weakPointId });
  app.get('/api/library/points/:id', { schema: { tags, params: point, response: { 200: libraryPoint } } }, (request) => {
    userOf(request);
    return shelf.point(request.params.id);
  });
  app.get('/api/library/points/:id/vehicles', { schema: { tags, params: point, querystring: campaignQuery, response: { 200: paged(campaignRow) } } }, async (request) => {
    userOf(request);
    return pageOf(await campaigns.ofPoint(request.params.id, request.query), request.query);
  });
  const noticeParams = z.object({ id: noticeId });
  app.get('/api/library/notices', { schema: { tags, querystring: noticeQuery, response: { 200: paged(noticeRow) } } }, async (request) => {
    userOf(request);
    return pageOf(await notices.list(request.query), request.query);
  });
  app.get('/api/library/notices/:id', { schema: { tags, params: noticeParams, response: { 200: notice } } }, (request) => {
    userOf(request);
    return notices.get(request.params.id);
  });
  app.get('/api/library/notices/:id/vehicles', { schema: { tags, params: noticeParams, querystring: campaignQuery, response: { 200: paged(noticeCampaignRow) } } }, async (request) => {
    userOf(request);
    return pageOf(await campaigns.ofNotice(request.params.id, request.query), request.query);
  });
  app.post('/api/library/notices', { schema: { tags, body: noticeDraft, response: { 200: changed } } }, (request) => notices.create(userOf(request, 'writeLibrary'), request.body));
  app.put('/api/library/notices/:id', { schema: { tags, params: noticeParams, body: noticeUpdate, response: { 200: changed } } }, (request) => notices.update(userOf(request, 'writeLibrary'), request.params.id, request.body.draft, request.body.version));
  app.post('/api/library/notices/:id/step', { schema: { tags, params: noticeParams, body: noticeStep, response: { 200: changed } } }, (request) => notices.step(userOf(request, 'writeLibrary'), request.params.id, request.body.state, request.body.version));
  app.post('/api/library/calls', { schema: { tags, body: callDraft, response: { 200: changed } } }, (request) => campaigns.call(userOf(request, 'planVisits'), request.body));
  app.get('/api/library/authorities', { schema: { tags, querystring: paging, response: { 200: paged(libraryAuthority) } } }, async (request) => {
    userOf(request);
    const { page, pageSize } = request.query;
    const [rows, counted] = await Promise.all([
      source.query<LibraryAuthority[]>('select id, name, kind, region from authority order by name, id limit $1 offset $2', [pageSize, (page - 1) * pageSize]),
      source.query<{ total: number }[]>('select count(*) as total from authority'),
    ]);
    return { rows, total: Number(counted[0]!.total), page, pageSize };
  });
  app.get('/api/library/changes', { schema: { tags, querystring: libraryChangeQuery, response: { 200: paged(libraryChange) } } }, async (request) => {
    userOf(request);
    return pageOf(await shelf.changes(request.query), request.query);
  });
  app.get('/api/library/components', { schema: { tags, querystring: paging.extend({ familyId: familyId.optional() }), response: { 200: paged(libraryComponent) } } }, async (request) => {
    userOf(request);
    const { familyId: of, page, pageSize } = request.query;
    const where = of === undefined ? 'true' : 'c.id in (select component_id from weak_point where family_id = $1)';
    const own = of === undefined ? [] : [of];
    const [rows, counted] = await Promise.all([
      source.query<z.infer<typeof libraryComponent>[]>(`select c.id, c.name, c.class, c.grp as "group" from component c where ${where} order by c.name, c.id limit $${own.length + 1} offset $${own.length + 2}`, [...own, pageSize, (page - 1) * pageSize]),
      source.query<{ total: number }[]>(`select count(*) as total from component c where ${where}`, own),
    ]);
    return pageOf({ rows, total: Number(counted[0]!.total) }, request.query);
  });
  app.get('/api/library/touches', { schema: { tags, querystring: touchesQuery, response: { 200: touches } } }, (request) => {
    userOf(request);
    const { familyId: of, variants, producedFrom, producedTo, title, componentId, not } = request.query;
    return desk.touches({ familyId: of, variants: variants.split(',').filter(Boolean), producedFrom: producedFrom ?? null, producedTo: producedTo ?? null, title, componentId: componentId ?? null, not: not ?? null });
  });
  app.post('/api/library/points', { schema: { tags, body: pointDraft, response: { 200: changed } } }, (request) => desk.create(userOf(request, 'writeLibrary'), request.body));
  app.put('/api/library/points/:id', { schema: { tags, params: point, body: pointUpdate, response: { 200: changed } } }, (request) => desk.update(userOf(request, 'writeLibrary'), request.params.id, request.body.draft, request.body.version));
  app.post('/api/library/points/:id/step', { schema: { tags, params: point, body: pointStep, response: { 200: changed } } }, (request) => desk.step(userOf(request, 'writeLibrary'), request.params.id, request.body));
  app.get('/api/library/export', { schema: { tags, querystring: z.object({ families: z.string().max(20_000).default('') }) } }, async (request, reply) => {
    userOf(request);
    const ids = request.query.families.split(',').filter(Boolean);
    for (const id of ids) if (!familyId.safeParse(id).success) throw badField('families', 'must be ids of engines, parted by commas');
    const { workshopName } = await settings.now();
    const name = workshopName || 'Our workshop';
    const pack = await exportPack(source.manager, {
      key: `${name.toLowerCase().normalize('NFKD').replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '').slice(0, 60) || 'workshop'}`, title: `${name}, library`.slice(0, 120), version: `${clock.todayIso().replaceAll('-', '.').replace(/\.0/g, '.')}`, licence: 'all rights with the workshop',
    }, ids.length === 0 ? null : ids);
    return reply.header('content-type', 'application/json; charset=utf-8').header('content-disposition', `attachment; filename="${pack.key}-${clock.todayIso()}.json"`).send(`${JSON.stringify(pack, null, 2)}\n`);
  });
  app.get('/api/library/pack.schema.json', { schema: { tags } }, (request) => {
    userOf(request);
    return packJsonSchema();
  });
  // The text of a file as it is: what is wrong in it is told by its own lines.
  void app.register((files: typeof app, _none: unknown, ready: () => void) => {
    files.removeAllContentTypeParsers();
    files.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: MOST_PACK_BYTES }, (_request, body, parsed) => parsed(null, body));
    files.post('/api/library/packs/preview', { bodyLimit: MOST_PACK_BYTES, schema: { tags, querystring: z.object({ name: z.string().max(200).default('pack.json') }), response: { 200: packPreview } } }, async (request) => {
      const user = userOf(request, 'publishLibrary');
      return packs.preview(user, request.query.name, textOf(request.body));
    });
    ready();
  });
  app.get('/api/library/packs', { schema: { tags, querystring: paging, response: { 200: paged(libraryPack) } } }, async (request) => {
    userOf(request);
    return pageOf(await packs.list(request.query), request.query);
  });
  app.post('/api/library/packs/import', { schema: { tags, body: packImport, response: { 200: changed } } }, (request) => packs.take(userOf(request, 'publishLibrary'), request.body.uploadId, request.body.choices));
  done();
};

/** A file's bytes as text. Throws bad_file when they are no UTF-8. */
function textOf(body: unknown): string {
  if (!Buffer.isBuffer(body) || body.length === 0) throw new Problem('bad_file', { detail: 'The file is empty. Choose the pack’s JSON file.' });
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(body);
  } catch {
    throw new Problem('bad_file', { detail: 'This file is no text in UTF-8. A pack is a JSON file; save it as UTF-8 and send it again.' });
  }
}
