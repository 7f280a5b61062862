import type { FastifyReply } from 'fastify';
import type { ShopClock } from '../../platform/clock.ts';
import type { PageAsked } from '../../platform/paged.ts';
import { sendFile } from '../../platform/streams.ts';
import { csvOf, type Columns } from './columns.ts';

/** A list as a file: what the file is called before the day, how its pages are read, and its columns. */
interface List<Asked, Row> {
  readonly file: string;
  readonly page: (page: PageAsked, asked: Asked) => Promise<{ readonly rows: readonly Row[] }>;
  readonly columns: Columns<Row>;
}

/** Makes the handler of one list of the application as a file for spreadsheets. */
export type AddList = <Asked extends { readonly reply: FastifyReply }, Row>(
  list: List<Asked, Row>,
) => (asked: Asked) => Promise<FastifyReply>;

/** Handlers of lists; each file is called by the shop's day. */
export const listsOn =
  (clock: ShopClock): AddList =>
  ({ file, page, columns }) =>
  async (asked) =>
    sendFile(asked.reply, {
      type: 'text/csv; charset=utf-8; header=present',
      name: `${file}-${clock.todayIso()}.csv`,
      body: await csvOf(columns, (part) => page(part, asked)),
    });
