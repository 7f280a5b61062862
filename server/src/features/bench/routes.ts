import { benchDetail, benchListQuery, benchPart, benchRow, paged, paging, weakPointId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { pageOf } from '../../platform/paged.ts';
import type { BenchService } from './service.ts';

const params = z.object({ id: weakPointId });
const tags = ['bench'];

export const benchRoutes =
  ({ bench }: { readonly bench: BenchService }): FastifyPluginCallbackZod =>
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
        return pageOf(await bench.list(request.query), request.query);
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
        return pageOf(await bench.parts(request.params.id, request.query), request.query);
      },
    );
    done();
  };
