import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { Permission } from '@crosspeen/contract';
import type { ShopClock } from '../../platform/clock.ts';
import type { PageAsked } from '../../platform/paged.ts';
import { sendFile } from '../../platform/streams.ts';
import { csvOf, type Columns } from './columns.ts';

type ListApp = Parameters<FastifyPluginCallbackZod>[0];

/** A list as a file: where it stands, what it is called and asked with, how its pages are read, and its columns. */
interface List<Query extends z.ZodType, Params extends z.ZodType, Row> {
  /** Below `/api/lists/`, with its ending. */
  readonly path: string;
  readonly summary: string;
  /** What the file is called, before the day. */
  readonly file: string;
  readonly query?: Query;
  readonly params?: Params;
  readonly needs?: Permission;
  readonly page: (
    asked: PageAsked,
    request: { readonly query: z.output<Query>; readonly params: z.output<Params> },
  ) => Promise<{ readonly rows: readonly Row[] }>;
  readonly columns: Columns<Row>;
}

/** Adds one list of the application as a file for spreadsheets. */
export type AddList = <Row, Query extends z.ZodType = z.ZodUndefined, Params extends z.ZodType = z.ZodUndefined>(
  list: List<Query, Params, Row>,
) => void;

/** A list of one thing names it in its address. */
export const own = z.object({ id: z.uuid() });

/** How lists are added to an application; each file is called by the shop's day. */
export const listsOn =
  (app: ListApp, clock: ShopClock): AddList =>
  ({ path, summary, file, query, params, needs, page, columns }) => {
    app.get(
      `/api/lists/${path}`,
      {
        ...(needs === undefined ? {} : { config: { needs } }),
        schema: {
          summary,
          tags: ['lists'],
          ...(query === undefined ? {} : { querystring: query }),
          ...(params === undefined ? {} : { params }),
        },
      },
      async (request, reply) =>
        sendFile(reply, {
          type: 'text/csv; charset=utf-8; header=present',
          name: `${file}-${clock.todayIso()}.csv`,
          body: await csvOf(columns, (asked) => page(asked, request as never)),
        }),
    );
  };
