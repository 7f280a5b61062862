import { z } from 'zod';
import { benchDetail, benchListQuery, benchPart, benchRow } from '../bench.ts';
import { paged, paging, weakPointId } from '../common.ts';
import { get, under } from '../endpoint.ts';

const params = z.object({ id: weakPointId });

export const bench = under('bench', {
  list: get('/api/bench', { summary: 'What this workshop has seen', query: benchListQuery, answer: paged(benchRow) }),
  detail: get('/api/bench/:id', { summary: 'One weak point on the bench', params, answer: benchDetail }),
  parts: get('/api/bench/:id/parts', {
    summary: 'Parts that a figure rests on',
    params,
    query: paging,
    answer: paged(benchPart),
  }),
});
