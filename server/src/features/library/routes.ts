import { engineSummary, engineVariant, paged, paging } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';
import { FAMILY_COLUMNS, engineOf, type VariantRow } from './repository.ts';

type EngineRow = Parameters<typeof engineOf>[0] & { variants: VariantRow[] | null };

/** The engines of the library with their variants, for choosing one. */
export const libraryRoutes = ({ source }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
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
  done();
};
