import {
  FAULTS,
  SAID,
  anyText,
  changed,
  familyId,
  libraryPack,
  MOST_PACK_BYTES,
  packImport,
  packJsonSchema,
  packPreview,
  paged,
  paging,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { DataSource } from 'typeorm';
import { z } from 'zod';
import { exportPack } from '../../knowledge/pack-out.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { PackDesk, PackWork } from './packs.ts';

interface PackNeeds {
  readonly source: DataSource;
  readonly packs: PackWork & Pick<PackDesk, 'list'>;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** The library as pack files: saved as one, shown before one is taken in, and taken in as chosen. */
export const packRoutes =
  ({ source, packs, settings, clock }: PackNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const tags = ['library'];
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
