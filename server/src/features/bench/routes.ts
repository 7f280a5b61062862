import { benchDetail, benchListQuery, benchPart, benchRow, paged, paging, weakPointId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { Services } from '../../services.ts';

const params = z.object({ id: weakPointId });
const tags = ['bench'];

export const benchRoutes =
  ({ bench }: Services): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/bench',
      {
        schema: {
          summary: 'What this workshop has seen',
          tags,
          querystring: benchListQuery,
          response: { 200: paged(benchRow) },
        },
      },
      async (request) => {
        const { page, pageSize } = request.query;
        return { ...(await bench.list(request.query)), page, pageSize };
      },
    );
    app.get(
      '/api/bench/:id',
      { schema: { summary: 'One weak point on the bench', tags, params, response: { 200: benchDetail } } },
      (request) => {
        return bench.detail(request.params.id);
      },
    );
    app.get(
      '/api/bench/:id/parts',
      {
        schema: {
          summary: 'Parts that a figure rests on',
          tags,
          params,
          querystring: paging,
          response: { 200: paged(benchPart) },
        },
      },
      async (request) => {
        const { page, pageSize } = request.query;
        return { ...(await bench.parts(request.params.id, page, pageSize)), page, pageSize };
      },
    );
    done();
  };
