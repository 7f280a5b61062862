import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { BenchService } from './service.ts';

export const benchHandlers = ({ bench }: { readonly bench: BenchService }): Handlers<typeof endpoints.bench> => ({
  list: async ({ query }) => pageOf(await bench.list(query), query),
  detail: ({ params }) => bench.detail(params.id),
  parts: async ({ params, query }) => pageOf(await bench.parts(params.id, query), query),
});
