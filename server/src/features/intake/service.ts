import { INTAKE_COLUMNS, MOST_SHEET_BYTES, type IntakeFormats, type IntakeKind, type IntakePreview, type IntakeRun } from '@crosspeen/contract';
import { parse, type CsvError, type Info } from 'csv-parse';
import { stringify } from 'csv-stringify';
import { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { writeBulk } from './bulk.ts';
import { guessKind, guessMapping, harmless, unitOfHeader } from './columns.ts';
import { guessDates, guessDecimal, guessDelimiter, guessEncoding } from './formats.ts';
import { sortRows, type SheetRow } from './rows.ts';

interface Author { readonly userId: string }
interface HeldFile { readonly id: string; readonly name: string; readonly bytes: number; readonly encoding: string; readonly delimiter: string }
interface RunningFile extends HeldFile { readonly userId: string; readonly kind: IntakeKind; readonly mapping: Readonly<Record<string, number>>; readonly formats: IntakeFormats; readonly rowsDone: number }

const PIECE = 1 << 20;
/** Rows written in one transaction. */
const BATCH = 1000;
/** Rows that formats are guessed from. */
const LOOKED_AT = 500;
const SAMPLE = 8;
const MOST_COLUMNS = 200;
const MOST_RECORD = 200_000;
/** A run that nobody has touched for so long was left by a process that ended. */
const LEFT_AFTER_SECONDS = 30;

const PARSE = { relax_column_count: true, relax_quotes: true, skip_empty_lines: true, bom: true, max_record_size: MOST_RECORD, info: true } as const;
type Parsed = { readonly record: readonly string[]; readonly info: Pick<Info, 'lines' | 'bytes'> };

/** What went wrong in the file itself, by its line, in words. */
const brokenWords = (error: CsvError): string => {
  const line = `line ${String((error as { lines?: number }).lines ?? 1)}`;
  if (error.code === 'CSV_QUOTE_NOT_CLOSED') return `${line}: a quotation mark is opened and never closed`;
  if (error.code === 'CSV_MAX_RECORD_SIZE') return `${line}: one row is longer than ${MOST_RECORD.toLocaleString('en')} characters; a quotation mark may be missing`;
  return `${line}: the row cannot be read as comma-separated values`;
};
const isCsvError = (error: unknown): error is CsvError => typeof (error as { code?: unknown } | null)?.code === 'string' && (error as { code: string }).code.startsWith('CSV_');

/** Spreadsheets in: held as they came, looked at, then written a batch at a time with every row answered for. */
export class IntakeService {
  private readonly written: (() => void)[] = [];
  private readonly working = new Map<string, Promise<void>>();
  private closing = false;

  constructor(private readonly source: DataSource, private readonly clock: ShopClock) {}

  /** Registers work to begin when a file has been taken in; it must not throw. */
  onWritten(work: () => void): void {
    this.written.push(work);
  }

  /** Lets this process end: the batch under way finishes, another process goes on with the rest. */
  async close(): Promise<void> {
    this.closing = true;
    await this.idle();
  }

  /** Whether this process is taking a file in. */
  busy(): boolean {
    return this.working.size > 0;
  }

  async idle(): Promise<void> {
    await Promise.allSettled(this.working.values());
  }

  /** Holds a file as it comes, piece by piece, and says what it seems to be. Throws bad_file, too_large; nothing of it is kept then. */
  async hold(author: Author, name: string, body: Readable, wanted: IntakeKind | null): Promise<IntakePreview> {
    const [{ id }] = await this.source.query<{ id: string }[]>('insert into intake_file (user_id, name, bytes, encoding, delimiter) values ($1, $2, 0, \'utf-8\', \',\') returning id', [author.userId, name.slice(0, 200) || 'sheet.csv']) as [{ id: string }];
    try {
      let bytes = 0;
      let place = 0;
      let waiting: Buffer[] = [];
      let size = 0;
      const keep = async (): Promise<void> => {
        if (size === 0) return;
        await this.source.query('insert into intake_piece (file_id, place, bytes) values ($1, $2, $3)', [id, place, Buffer.concat(waiting)]);
        [waiting, size, place] = [[], 0, place + 1];
      };
      for await (const chunk of body as AsyncIterable<Buffer>) {
        bytes += chunk.length;
        if (bytes > MOST_SHEET_BYTES) throw new Problem('too_large', { detail: `The file has more than ${MOST_SHEET_BYTES / 1_000_000} MB. Split it and take the parts in one after the other.` });
        waiting.push(chunk);
        size += chunk.length;
        if (size >= PIECE) await keep();
      }
      await keep();
      if (bytes === 0) throw new Problem('bad_file', { detail: 'The file is empty. Save the sheet as CSV and choose it again.' });
      const [first] = await this.source.query<{ bytes: Buffer }[]>('select bytes from intake_piece where file_id = $1 and place = 0', [id]);
      const encoding = guessEncoding(first!.bytes);
      const text = new TextDecoder(encoding).decode(first!.bytes, { stream: true });
      if (text.includes('\u0000')) throw new Problem('bad_file', { detail: 'This is no text: it may be a spreadsheet’s own file or an archive. Save it as CSV and choose that.' });
      const delimiter = guessDelimiter(text.slice(0, 200_000));
      await this.source.query('update intake_file set bytes = $2, encoding = $3, delimiter = $4 where id = $1', [id, bytes, encoding, delimiter]);
      await this.source.query("delete from intake_file where state = 'held' and at < now() - interval '2 days'");
      return await this.look({ id, name: name.slice(0, 200) || 'sheet.csv', bytes, encoding, delimiter }, wanted);
    } catch (error) {
      await this.source.query('delete from intake_file where id = $1', [id]);
      throw error;
    }
  }

  /** The rows of a held file from the first on, with their lines; pieces are read one at a time. */
  private async *rows(file: HeldFile): AsyncGenerator<Parsed> {
    const { source } = this;
    async function* text(): AsyncGenerator<string> {
      const decoder = new TextDecoder(file.encoding);
      for (let place = 0; ; place += 1) {
        const [piece] = await source.query<{ bytes: Buffer }[]>('select bytes from intake_piece where file_id = $1 and place = $2', [file.id, place]);
        if (!piece) break;
        yield decoder.decode(piece.bytes, { stream: true });
      }
      yield decoder.decode();
    }
    const stream = Readable.from(text(), { objectMode: false, encoding: 'utf-8' });
    const parser = parse({ ...PARSE, delimiter: file.delimiter });
    stream.once('error', (error) => parser.destroy(error));
    for await (const row of stream.pipe(parser)) yield row as Parsed;
  }

  /** What the file seems to hold, how its columns and formats are understood, and its first rows. */
  private async look(file: HeldFile, wanted: IntakeKind | null): Promise<IntakePreview> {
    let headers: string[] = [];
    const seen: string[][] = [];
    try {
      let at = 0;
      for await (const { record } of this.rows(file)) {
        if (at === 0) headers = record.map((header) => header.trim().slice(0, 80));
        else seen.push([...record]);
        at += 1;
        if (at > LOOKED_AT) break;
      }
    } catch (error) {
      if (isCsvError(error)) throw new Problem('bad_file', { detail: `This file cannot be read: ${brokenWords(error)}. Nothing was written.`, fields: [{ path: brokenWords(error).split(':')[0]!, message: brokenWords(error) }] });
      throw error;
    }
    if (headers.length === 0 || headers.every((header) => header === '')) throw new Problem('bad_file', { detail: 'The first row must name the columns, such as Plate, Date, Reading.' });
    if (headers.length > MOST_COLUMNS) throw new Problem('bad_file', { detail: `The file has ${headers.length} columns; at most ${MOST_COLUMNS} are read. Take out those that are not needed.` });
    if (seen.length === 0) throw new Problem('bad_file', { detail: 'There is nothing below the row of column names.' });
    await this.source.query('update intake_file set headers = $2 where id = $1', [file.id, JSON.stringify(headers)]);
    const kind = wanted ?? guessKind(headers);
    const mapping = guessMapping(kind, headers);
    const cells = (...columns: string[]): string[] => columns.flatMap((column) => (mapping[column] === undefined ? [] : seen.map((row) => row[mapping[column]!] ?? '').filter((cell) => cell.trim() !== '')));
    const dates = guessDates(cells('date', 'firstRegistered', 'readingDate'));
    const decimal = guessDecimal(cells('reading', 'serial'));
    const unit = unitOfHeader(mapping['reading'] === undefined ? undefined : headers[mapping['reading']]);
    const open: IntakePreview['open'] = [...(dates.open ? ['date' as const] : []), ...(decimal.open ? ['decimal' as const] : []), ...(mapping['reading'] !== undefined && unit === null && mapping['unit'] === undefined ? ['unit' as const] : [])];
    return {
      fileId: file.id, name: file.name, bytes: file.bytes, kind, encoding: file.encoding, delimiter: file.delimiter, headers, sample: seen.slice(0, SAMPLE).map((row) => row.map((cell) => cell.slice(0, 200))),
      mapping, formats: { date: dates.order, decimal: decimal.decimal, unit: unit ?? 'own' }, open,
    };
  }

  /** Looks at a held file again, as another kind. */
  async lookAgain(fileId: string, kind: IntakeKind): Promise<IntakePreview> {
    const [file] = await this.source.query<HeldFile[]>("select id, name, bytes, encoding, delimiter from intake_file where id = $1 and state = 'held'", [fileId]);
    if (!file) throw new Problem('not_found', { detail: 'This file is no longer held. Send it again.' });
    return this.look(file, kind);
  }

  /** Begins to take a held file in, as its columns and formats were decided. */
  async start(fileId: string, { kind, mapping, formats }: { kind: IntakeKind; mapping: Readonly<Record<string, number>>; formats: IntakeFormats }): Promise<IntakeRun> {
    const columns: Readonly<Record<string, boolean>> = INTAKE_COLUMNS[kind];
    for (const column of Object.keys(mapping)) if (!Object.hasOwn(columns, column)) throw badField(`mapping.${column}`, `is no column of ${kind}`);
    for (const [column, must] of Object.entries(columns)) if (must && mapping[column] === undefined) throw badField(`mapping.${column}`, 'is needed; say which column of the file it is');
    if (kind === 'vehicles' && mapping['plate'] === undefined && mapping['name'] === undefined) throw badField('mapping.plate', 'or the name is needed, so that a vehicle can be found again');
    const [begun] = await this.source.query<[{ id: string }[], number]>(
      "update intake_file set kind = $2, mapping = $3, formats = $4, state = 'running', started_at = clock_timestamp(), touched_at = clock_timestamp() where id = $1 and state = 'held' returning id", [fileId, kind, JSON.stringify(mapping), JSON.stringify(formats)]);
    if (begun.length === 0) throw new Problem('not_found', { detail: 'This file is no longer held, or is being taken in already. Send it again.' });
    this.work(fileId);
    return this.run(fileId);
  }

  private work(fileId: string): void {
    if (this.working.has(fileId) || this.closing) return;
    this.working.set(fileId, this.takeIn(fileId).finally(() => {
      this.working.delete(fileId);
      for (const work of this.written) work();
    }));
  }

  /** Goes on with what another process left. */
  async resume(): Promise<void> {
    const left = await this.source.query<{ id: string }[]>(`select id from intake_file where state = 'running' and touched_at < clock_timestamp() - interval '${LEFT_AFTER_SECONDS} seconds'`);
    for (const { id } of left) this.work(id);
  }

  private async finish(fileId: string, state: 'done' | 'failed', reason: string | null = null): Promise<void> {
    await this.source.query("update intake_file set state = $2, reason = $3, finished_at = clock_timestamp(), bytes_done = bytes where id = $1 and state = 'running'", [fileId, state, reason]);
    // The rows are written or answered for; the file itself has done its work.
    await this.source.query('delete from intake_piece where file_id = $1', [fileId]);
  }

  private async takeIn(fileId: string): Promise<void> {
    const [file] = await this.source.query<RunningFile[]>('select id, name, bytes, encoding, delimiter, user_id as "userId", kind, mapping, formats, rows_done as "rowsDone" from intake_file where id = $1', [fileId]);
    if (!file) return;
    try {
      // Read to its end first: a file that breaks half-way is not written half-way.
      for await (const _row of this.rows(file)) if (this.closing) return;
    } catch (error) {
      if (!isCsvError(error)) throw error;
      return this.finish(fileId, 'failed', `${brokenWords(error)}. Nothing was written.`);
    }
    let at = -1;
    let done = file.rowsDone;
    let bytes = 0;
    let batch: SheetRow[] = [];
    const flush = async (): Promise<boolean> => {
      if (batch.length === 0) return true;
      const going = await this.writeBatch(file, batch, done, bytes);
      done += batch.length;
      batch = [];
      return going;
    };
    for await (const { record, info } of this.rows(file)) {
      at += 1;
      // The first row names the columns; what an earlier process has done is passed over.
      if (at === 0 || at <= file.rowsDone) continue;
      bytes = info.bytes;
      batch.push({ line: info.lines, raw: record, cells: Object.fromEntries(Object.entries(file.mapping).map(([column, place]) => [column, record[place] ?? ''])) });
      if (batch.length < BATCH) continue;
      if (this.closing || !await flush()) return;
    }
    if (this.closing || !await flush()) return;
    await this.finish(fileId, 'done');
  }

  /** Writes one batch and its progress together; false when somebody stopped the run, or another process has gone on with it. */
  private async writeBatch(file: RunningFile, batch: readonly SheetRow[], from: number, bytes: number): Promise<boolean> {
    return this.source.transaction(async (manager) => {
      const [now] = await manager.query<{ state: string; rowsDone: number }[]>('select state, rows_done as "rowsDone" from intake_file where id = $1 for update', [file.id]);
      if (now?.state !== 'running' || now.rowsDone !== from) return false;
      const { rows, written, known, faults } = await sortRows(manager, batch, { kind: file.kind, formats: file.formats, today: this.clock.today() });
      await writeBulk(manager, file.userId, rows, () => `Taken in from ${file.name}`);
      if (faults.length > 0) {
        await manager.query('insert into intake_fault (file_id, line, cells, reason) select $1, line, cells, reason from jsonb_to_recordset($2::jsonb) as f(line int, cells jsonb, reason text) on conflict do nothing',
          [file.id, JSON.stringify(faults.map(({ line, raw, reason }) => ({ line, cells: raw, reason })))]);
      }
      await manager.query('update intake_file set rows_done = rows_done + $2, bytes_done = $3, written = written + $4, known = known + $5, bad = bad + $6, touched_at = clock_timestamp() where id = $1', [file.id, batch.length, Math.min(bytes, file.bytes), written, known, faults.length]);
      return true;
    });
  }

  /** Stops a run after the batch under way; what is written stays, and taking the file in again passes over it. */
  async stop(fileId: string): Promise<IntakeRun> {
    await this.source.query("update intake_file set state = 'stopped', finished_at = clock_timestamp() where id = $1 and state = 'running'", [fileId]);
    await this.working.get(fileId);
    return this.run(fileId);
  }

  private readonly columns = (): string => {
    const iso = (column: string): string => `to_char(${column} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`;
    return `f.id, f.name, f.kind, f.state, f.bytes, f.bytes_done as "bytesDone", f.rows_done as rows, f.written, f.known, f.bad, f.reason, ${iso('f.started_at')} as "startedAt", ${iso('f.finished_at')} as "finishedAt",
      (select coalesce(jsonb_agg(jsonb_build_object('line', x.line, 'reason', x.reason) order by x.line), '[]') from (select line, reason from intake_fault where file_id = f.id order by line limit 20) x) as faults`;
  };

  async run(fileId: string): Promise<IntakeRun> {
    const [run] = await this.source.query<IntakeRun[]>(`select ${this.columns()} from intake_file f where f.id = $1 and f.state <> 'held'`, [fileId]);
    if (!run) throw new Problem('not_found');
    return run;
  }

  /** One page of the files taken in, latest first. */
  async runs({ page, pageSize }: { page: number; pageSize: number }): Promise<{ rows: IntakeRun[]; total: number }> {
    const [rows, counted] = await Promise.all([
      this.source.query<IntakeRun[]>(`select ${this.columns()} from intake_file f where f.state <> 'held' order by f.at desc, f.id limit $1 offset $2`, [pageSize, (page - 1) * pageSize]),
      this.source.query<{ total: number }[]>("select count(*) as total from intake_file where state <> 'held'"),
    ]);
    return { rows, total: Number(counted[0]!.total) };
  }

  /** The rows that could not be taken, as they came, with the reason in a column of its own: mended, they are taken in again. */
  async faults(fileId: string): Promise<{ name: string; csv: Readable }> {
    const run = await this.run(fileId);
    const { source } = this;
    async function* rows(): AsyncGenerator<string[]> {
      const [file] = await source.query<{ headers: string[] }[]>('select headers from intake_file where id = $1', [fileId]);
      yield ['reason', 'line', ...file!.headers.map(harmless)];
      for (let line = -1; ;) {
        const page = await source.query<{ line: number; cells: string[]; reason: string }[]>('select line, cells, reason from intake_fault where file_id = $1 and line > $2 order by line limit 1000', [fileId, line]);
        for (const fault of page) yield [harmless(fault.reason), String(fault.line), ...fault.cells.map(harmless)];
        if (page.length < 1000) return;
        line = page.at(-1)!.line;
      }
    }
    return { name: run.name, csv: Readable.from(rows()).pipe(stringify()) };
  }
}
