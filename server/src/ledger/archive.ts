import { SAID } from '@crosspeen/contract';
import { createHash, type Hash } from 'node:crypto';
import { Readable } from 'node:stream';
import { createGunzip, createGzip } from 'node:zlib';
import type { DataSource, EntityManager } from 'typeorm';
import { rowsAtFault } from '../platform/database-problem.ts';
import { Problem } from '../platform/problem.ts';
import { begun, piped } from '../platform/streams.ts';

/**
 * Tables that never leave with what is saved: who is signed in just now, failed tries to, which forms were sent, links
 * and codes that let somebody in once, what signs the cookies here, and where this server keeps its backups.
 */
const OF_THE_MOMENT = [
  'session',
  'sign_in_try',
  'sent_once',
  'one_time_link',
  'set_up_code',
  'server_secret',
  'backup_run',
] as const;
const LEFT_OUT: ReadonlySet<string> = new Set([...OF_THE_MOMENT, 'migrations', 'typeorm_metadata']);
const FORMAT = 'crosspeen-archive';
const FORMAT_VERSION = 1;
const PAGE = 1000;
/** Rows of a table that holds pictures are read and written a few at a time. */
const HEAVY_PAGE = 10;
/** Longest line that is read: a piece of a spreadsheet as text is the longest there is. */
const MOST_LINE = 8_000_000;

interface Table {
  readonly name: string;
  readonly columns: readonly string[];
  /** It holds pictures. */
  readonly heavy: boolean;
  readonly identity: string | null;
  readonly own: readonly string[];
}
type Row = Readonly<Record<string, unknown>>;

/** All tables, each after those it refers to; `own` are columns by which a table refers to itself. */
async function tablesInOrder(manager: EntityManager): Promise<Table[]> {
  const found = await manager.query<{ name: string; columns: string[]; identity: string | null; heavy: boolean }[]>(
    `select c.relname as name,
        array_agg(a.attname::text order by a.attnum) filter (where a.attgenerated = '') as columns,
        max(a.attname::text) filter (where a.attidentity = 'a') as identity,
        bool_or(a.atttypid = 'bytea'::regtype) as heavy
     from pg_class c
     join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
     where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace
     group by c.relname
     order by c.relname`,
  );
  const links = await manager.query<{ from: string; to: string; column: string }[]>(
    `select k.conrelid::regclass::text as "from", k.confrelid::regclass::text as "to", a.attname::text as "column"
      from pg_constraint k
      join pg_attribute a on a.attrelid = k.conrelid and a.attnum = any(k.conkey)
      where k.contype = 'f'`,
  );
  const wanted = found.filter(({ name }) => !LEFT_OUT.has(name));
  const done: Table[] = [];
  const visit = ({ name, columns, identity, heavy }: (typeof found)[number]): void => {
    if (done.some((table) => table.name === name)) return;
    for (const link of links)
      if (link.from === name && link.to !== name) visit(wanted.find((table) => table.name === link.to)!);
    done.push({
      name,
      columns,
      heavy,
      identity,
      own: links.filter(({ from, to }) => from === name && to === name).map(({ column }) => column),
    });
  };
  wanted.forEach(visit);
  return done;
}

const schemaOf = async (manager: EntityManager): Promise<string> =>
  (await manager.query<{ name: string }[]>('select name from migrations order by id desc limit 1'))[0]!.name;

async function* lines(source: DataSource, at: string): AsyncGenerator<string> {
  const runner = source.createQueryRunner();
  const digest = createHash('sha256');
  const say = (value: unknown): string => {
    const line = `${JSON.stringify(value)}\n`;
    digest.update(line);
    return line;
  };
  try {
    await runner.connect();
    // One moment of the whole database, whatever is written meanwhile.
    await runner.startTransaction('REPEATABLE READ');
    await runner.query('set transaction read only');
    const tables = await tablesInOrder(runner.manager);
    yield say({
      format: FORMAT,
      version: FORMAT_VERSION,
      schema: await schemaOf(runner.manager),
      at,
      tables: tables.map(({ name }) => name),
      attachments: [],
    });
    const rows: Record<string, number> = {};
    for (const { name, columns, heavy } of tables) {
      const size = heavy ? HEAVY_PAGE : PAGE;
      rows[name] = 0;
      await runner.query(
        `declare rows_of cursor for
          select to_jsonb(t) as row
          from "${name}" t
          order by ${columns.includes('id') ? 'id' : 't::text'}`,
      );
      for (;;) {
        const page = (await runner.query(`fetch ${size} from rows_of`)) as { row: Row }[];
        for (const { row } of page) yield say({ table: name, row });
        rows[name] += page.length;
        if (page.length < size) break;
      }
      await runner.query('close rows_of');
    }
    yield `${JSON.stringify({ end: true, rows, sha256: digest.digest('hex') })}\n`;
  } finally {
    if (runner.isTransactionActive) await runner.rollbackTransaction().catch(() => undefined);
    await runner.release();
  }
}

/**
 * Everything there is as one compressed file of JSON lines, read at one moment. Sessions are left out; password hashes
 * are in it: it is to be kept like a key. Resolves when its first line is read; a transaction is held until the end of
 * the stream, or until nobody reads it any more.
 */
export const exportArchive = async (source: DataSource, at: string): Promise<Readable> =>
  piped(Readable.from(await begun(lines(source, at))), createGzip());

/** What is wrong with an archive, by its line; null is the file as a whole. */
const broken = (line: number | null, words: string): Problem =>
  new Problem(SAID.unreadableArchive(line, words), {
    fields: [{ path: line === null ? 'file' : `line ${line}`, message: words }],
  });

/** The lines of a compressed file as they are read. Throws bad_file when it is none, or is damaged. */
async function* textLines(file: Readable): AsyncGenerator<string> {
  let rest = '';
  try {
    for await (const chunk of piped(file, createGunzip()).setEncoding('utf8') as AsyncIterable<string>) {
      const parts = (rest + chunk).split('\n');
      rest = parts.pop()!;
      // A small file may unpack to one endless line: what no row can be is not held.
      if (rest.length > MOST_LINE) throw broken(null, 'a line is longer than any row can be.');
      yield* parts;
    }
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw broken(null, 'it is no archive, or it was cut short or damaged.');
  }
  if (rest !== '') yield rest;
}

/** Services that Filling works with. */
export interface FillingNeeds {
  readonly manager: EntityManager;
  readonly tables: readonly Table[];
}

class Filling {
  private waiting: Row[] = [];
  private table: Table | null = null;
  readonly rows: Record<string, number> = {};

  constructor(private readonly needs: FillingNeeds) {}

  async add(name: string, row: Row, line: number): Promise<void> {
    const most = this.table?.heavy ? HEAVY_PAGE : PAGE;
    if (this.table?.name !== name || this.waiting.length >= most) await this.flush();
    const table = this.needs.tables.find((candidate) => candidate.name === name);
    if (!table) throw broken(line, `there is no table “${name}” here.`);
    this.table = table;
    this.waiting.push(row);
    this.rows[name] = (this.rows[name] ?? 0) + 1;
  }

  async flush(): Promise<void> {
    if (this.table === null || this.waiting.length === 0) return;
    const { name, columns, own } = this.table;
    const list = columns.map((column) => `"${column}"`).join(', ');
    // A row may refer to one further down its own table: such links are set when all are there.
    const bare =
      own.length === 0
        ? this.waiting
        : this.waiting.map((row) =>
            Object.fromEntries(
              Object.entries(row).map(([column, value]) => [column, own.includes(column) ? null : value]),
            ),
          );
    await this.needs.manager.query(
      `insert into "${name}" (${list}) overriding system value
        select ${list}
        from jsonb_populate_recordset(null::"${name}", $1::jsonb)`,
      [JSON.stringify(bare)],
    );
    const linked = this.waiting.filter((row) =>
      own.some((column) => row[column] !== null && row[column] !== undefined),
    );
    if (linked.length > 0) this.links.push({ name, own, rows: linked });
    this.waiting = [];
  }

  private readonly links: { readonly name: string; readonly own: readonly string[]; readonly rows: readonly Row[] }[] =
    [];

  /** What could only be set when everything is there: links inside a table, and the next number of each counter. */
  async finish(): Promise<void> {
    await this.flush();
    for (const { name, own, rows } of this.links) {
      await this.needs.manager.query(
        `update "${name}" t
          set ${own.map((column) => `"${column}" = given."${column}"`).join(', ')}
          from jsonb_populate_recordset(null::"${name}", $1::jsonb) as given
          where given.id = t.id`,
        [JSON.stringify(rows)],
      );
    }
    for (const { name, identity } of this.needs.tables) {
      if (identity !== null)
        await this.needs.manager.query(
          `select setval(
              pg_get_serial_sequence('"${name}"', '${identity}'), greatest(coalesce(max("${identity}"), 0), 1),
                max("${identity}") is not null
            )
            from "${name}"`,
        );
    }
  }
}

/** Whether an archive's own count of rows, by table, is what was read. */
const sameCounts = (told: unknown, read: Readonly<Record<string, number>>): boolean =>
  typeof told === 'object' &&
  told !== null &&
  Object.entries(told).every(([table, count]) => (read[table] ?? 0) === count) &&
  Object.keys(read).every((table) => table in told);

/** Triggers count what changes; while an archive is read every count comes with it. */
async function withoutTriggers<T>(
  manager: EntityManager,
  tables: readonly Table[],
  work: () => Promise<T>,
): Promise<T> {
  for (const { name } of tables) await manager.query(`alter table "${name}" disable trigger user`);
  const done = await work();
  for (const { name } of tables) await manager.query(`alter table "${name}" enable trigger user`);
  return done;
}

/**
 * Reads an archive into a database that has this version's schema and nothing in it, all or nothing: afterwards it is
 * the database the archive was read from, row for row. Throws bad_file with the line of what is wrong: no archive,
 * another version's, cut short, or altered.
 */
export async function importArchive(source: DataSource, file: Readable): Promise<Readonly<Record<string, number>>> {
  return source.transaction(async (manager) => {
    const tables = await tablesInOrder(manager);
    const filling = new Filling({ manager, tables });
    const digest: Hash = createHash('sha256');
    let line = 0;
    let ended = false;
    const take = async (text: string): Promise<void> => {
      line += 1;
      if (ended) throw broken(line, 'something stands after the end.');
      let value: Row;
      try {
        value = JSON.parse(text) as Row;
      } catch {
        throw broken(line, 'it is no JSON.');
      }
      if (typeof value !== 'object' || value === null) throw broken(line, 'it is no row.');
      if (line === 1) {
        const schema = await schemaOf(manager);
        if (value['format'] !== FORMAT) throw broken(1, 'it does not say that it is a Crosspeen archive.');
        if (value['version'] !== FORMAT_VERSION || value['schema'] !== schema)
          throw broken(
            1,
            `it was written by another version (${String(value['schema'])}); read it with that version, or bring that one up to date and save it again.`,
          );
      } else if (value['end'] === true) {
        ended = true;
        if (value['sha256'] !== digest.digest('hex'))
          throw broken(line, 'what stands above is not what was written; the file was altered.');
        await filling.finish();
        if (!sameCounts(value['rows'], filling.rows)) throw broken(line, 'it counts other rows than stand above.');
        return;
      } else if (typeof value['table'] !== 'string' || typeof value['row'] !== 'object' || value['row'] === null)
        throw broken(line, 'it names no table and row.');
      else await filling.add(value['table'], value['row'] as Row, line);
      digest.update(`${text}\n`);
    };
    await withoutTriggers(manager, tables, async () => {
      for (const { name } of [...tables].reverse()) await manager.query(`delete from "${name}"`);
      for await (const text of textLines(file))
        await take(text).catch((error: unknown) => {
          throw rowsAtFault(error) ? broken(line, 'rows up to here do not fit together; the file was altered.') : error;
        });
      if (!ended) throw broken(line, 'it ends before its end; the file was cut short.');
    });
    return filling.rows;
  });
}

/**
 * Schema of the version that wrote an archive. Throws bad_file for a file that does not begin as one; the rest of the
 * file is not read.
 */
export async function schemaOfArchive(file: Readable): Promise<string> {
  try {
    for await (const text of textLines(file)) {
      const head = headOf(text);
      if (head === null) break;
      return head.schema;
    }
  } finally {
    file.destroy();
  }
  throw broken(1, 'it does not say that it is a Crosspeen archive.');
}

/** First line of an archive; null for a line that is none. */
function headOf(text: string): { readonly schema: string } | null {
  try {
    const value = JSON.parse(text) as Row | null;
    return value?.['format'] === FORMAT && typeof value['schema'] === 'string' ? { schema: value['schema'] } : null;
  } catch {
    return null;
  }
}
