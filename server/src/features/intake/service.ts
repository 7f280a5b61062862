import {
  FAULTS,
  SAID,
  INTAKE_COLUMNS,
  MOST_SHEET_BYTES,
  type IntakeFormats,
  type IntakeKind,
  type IntakePreview,
  type IntakeRun,
} from '@crosspeen/contract';
import { stringify } from 'csv-stringify';
import { Readable } from 'node:stream';
import { setTimeout as sleep } from 'node:timers/promises';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { databaseIsAway, databaseProblem, rowsAtFault } from '../../platform/database-problem.ts';
import { isoInstant, paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { begun, piped } from '../../platform/streams.ts';
import { writeBulk } from './bulk.ts';
import { guessKind, guessMapping, harmless, unitOfHeader } from './columns.ts';
import { guessDates, guessDecimal, guessDelimiter, guessEncoding } from './formats.ts';
import type { SheetRow, Sorted } from './cells.ts';
import { sortRows } from './rows.ts';
import { SheetFault, sheetRecords, type SheetEncoding, type SheetRecord } from './sheet.ts';
import { inTransaction } from '../../platform/transaction.ts';

interface Author {
  readonly userId: string;
}
interface HeldFile {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly encoding: string;
  readonly delimiter: string;
}
interface RunningFile extends HeldFile {
  readonly userId: string;
  readonly kind: IntakeKind;
  readonly mapping: Readonly<Record<string, number>>;
  readonly formats: IntakeFormats;
  readonly rowsDone: number;
}

/** How far a run has come, for what is said when it fails. */
interface RunPlace {
  line: number;
}

const PIECE = 1 << 20;
/** Rows written in one transaction. */
const BATCH = 1000;
/** Rows that formats are guessed from. */
const LOOKED_AT = 500;
const SAMPLE = 8;
/** A run that nobody has touched for so long was left by a process that ended. */
const LEFT_AFTER_SECONDS = 30;
/**
 * While the database is away, or has no space, a run waits so long before it tries again: twice as long each time, to
 * the longest; then the sweep goes on with it.
 */
const AGAIN = { firstMs: 500, longestMs: 15_000, tries: 8 } as const;

const badFile = (fault: SheetFault): Problem =>
  new Problem(SAID.unreadableSheet(fault.message), { fields: [{ path: `line ${fault.line}`, message: fault.words }] });

/** Failures that pass: the run goes on where it stopped. */
function passes(error: unknown): boolean {
  return databaseIsAway(error) || ['busy', 'took_too_long', 'no_space'].includes(databaseProblem(error)?.code ?? '');
}

/** Spreadsheets in: held as they came, looked at, then written a batch at a time with every row answered for. */
export class IntakeService {
  private readonly written: (() => void)[] = [];
  private readonly working = new Map<string, Promise<void>>();
  private closing = false;

  /** `report` is told of runs that failed through a fault of ours. */
  constructor(
    private readonly source: DataSource,
    private readonly clock: ShopClock,
    private readonly report: (error: unknown, fileId: string) => void = () => undefined,
  ) {}

  /** Registers work to begin when a file has been imported; it must not throw. */
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

  /**
   * Holds a file as it comes, piece by piece, and says what it seems to be. Throws bad_file, too_large; nothing of it
   * is kept then.
   */
  async hold(author: Author, name: string, body: Readable, wanted: IntakeKind | null): Promise<IntakePreview> {
    const [{ id }] = (await this.source.query<{ id: string }[]>(
      `insert into intake_file (user_id, name, bytes, encoding, delimiter)
        values ($1, $2, 0, 'utf-8', ',')
        returning id`,
      [author.userId, name.slice(0, 200) || 'sheet.csv'],
    )) as [{ id: string }];
    try {
      let bytes = 0;
      let place = 0;
      let waiting: Buffer[] = [];
      let size = 0;
      let encoding: SheetEncoding = 'utf-8';
      let decoder: TextDecoder | null = null;
      let beginning = '';
      const keep = async (): Promise<void> => {
        if (size === 0) return;
        const piece = Buffer.concat(waiting);
        if (decoder === null) {
          encoding = guessEncoding(piece);
          decoder = new TextDecoder(encoding);
        }
        const text = decoder.decode(piece, { stream: true });
        if (text.includes('\u0000')) throw new Problem(SAID.noText);
        if (place === 0) beginning = text.slice(0, 200_000);
        await this.source.query('insert into intake_piece (file_id, place, bytes) values ($1, $2, $3)', [
          id,
          place,
          piece,
        ]);
        [waiting, size, place] = [[], 0, place + 1];
      };
      for await (const chunk of body as AsyncIterable<Buffer>) {
        bytes += chunk.length;
        if (bytes > MOST_SHEET_BYTES) throw new Problem(SAID.sheetTooLarge(MOST_SHEET_BYTES / 1_000_000));
        waiting.push(chunk);
        size += chunk.length;
        if (size >= PIECE) await keep();
      }
      await keep();
      if (bytes === 0) throw new Problem(SAID.emptySheet);
      const delimiter = guessDelimiter(beginning);
      await this.source.query('update intake_file set bytes = $2, encoding = $3, delimiter = $4 where id = $1', [
        id,
        bytes,
        encoding,
        delimiter,
      ]);
      await this.source.query("delete from intake_file where state = 'held' and at < now() - interval '2 days'");
      return await this.look({ id, name: name.slice(0, 200) || 'sheet.csv', bytes, encoding, delimiter }, wanted);
    } catch (error) {
      await this.source.query('delete from intake_file where id = $1', [id]);
      throw error;
    }
  }

  private async *pieces(fileId: string): AsyncGenerator<Buffer> {
    for (let place = 0; ; place += 1) {
      const [piece] = await this.source.query<{ bytes: Buffer }[]>(
        'select bytes from intake_piece where file_id = $1 and place = $2',
        [fileId, place],
      );
      if (!piece) return;
      yield piece.bytes;
    }
  }

  /** The rows of a held file from the first on, with their lines; pieces are read one at a time. Throws SheetFault. */
  private rows(file: HeldFile): AsyncGenerator<SheetRecord> {
    return sheetRecords(this.pieces(file.id), file);
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
      if (error instanceof SheetFault) throw badFile(error);
      throw error;
    }
    if (headers.length === 0 || headers.every((header) => header === '')) throw new Problem(SAID.noColumnNames);
    if (seen.length === 0) throw new Problem(SAID.noRows);
    await this.source.query('update intake_file set headers = $2 where id = $1', [file.id, JSON.stringify(headers)]);
    const kind = wanted ?? guessKind(headers);
    const mapping = guessMapping(kind, headers);
    const cells = (...columns: string[]): string[] =>
      columns.flatMap((column) =>
        mapping[column] === undefined
          ? []
          : seen.map((row) => row[mapping[column]!] ?? '').filter((cell) => cell.trim() !== ''),
      );
    const dates = guessDates(cells('date', 'firstRegistered', 'readingDate'));
    const decimal = guessDecimal(cells('reading', 'serial'));
    const unit = unitOfHeader(mapping['reading'] === undefined ? undefined : headers[mapping['reading']]);
    const open: IntakePreview['open'] = [
      ...(dates.open ? ['date' as const] : []),
      ...(decimal.open ? ['decimal' as const] : []),
      ...(mapping['reading'] !== undefined && unit === null && mapping['unit'] === undefined ? ['unit' as const] : []),
    ];
    return {
      fileId: file.id,
      name: file.name,
      bytes: file.bytes,
      kind,
      encoding: file.encoding,
      delimiter: file.delimiter,
      headers,
      sample: seen.slice(0, SAMPLE).map((row) => row.map((cell) => cell.slice(0, 200))),
      mapping,
      formats: { date: dates.order, decimal: decimal.decimal, unit: unit ?? 'own' },
      open,
    };
  }

  /** Looks at a held file again, as another kind. */
  async lookAgain(fileId: string, kind: IntakeKind): Promise<IntakePreview> {
    const [file] = await this.source.query<HeldFile[]>(
      "select id, name, bytes, encoding, delimiter from intake_file where id = $1 and state = 'held'",
      [fileId],
    );
    if (!file) throw new Problem(SAID.fileGone);
    return this.look(file, kind);
  }

  /** Begins to take a held file in, as its columns and formats were decided. */
  async start(
    fileId: string,
    { kind, mapping, formats }: { kind: IntakeKind; mapping: Readonly<Record<string, number>>; formats: IntakeFormats },
  ): Promise<IntakeRun> {
    const columns: Readonly<Record<string, boolean>> = INTAKE_COLUMNS[kind];
    for (const column of Object.keys(mapping))
      if (!Object.hasOwn(columns, column)) throw badField(`mapping.${column}`, FAULTS.noColumn(kind));
    for (const [column, must] of Object.entries(columns))
      if (must && mapping[column] === undefined) throw badField(`mapping.${column}`, FAULTS.columnNeeded);
    if (kind === 'vehicles' && mapping['plate'] === undefined && mapping['name'] === undefined)
      throw badField('mapping.plate', FAULTS.plateOrName);
    const [begun] = await this.source.query<[{ id: string }[], number]>(
      `update intake_file
        set kind = $2, mapping = $3, formats = $4, state = 'running', started_at = clock_timestamp(),
          touched_at = clock_timestamp()
        where id = $1 and state = 'held'
        returning id`,
      [fileId, kind, JSON.stringify(mapping), JSON.stringify(formats)],
    );
    if (begun.length === 0) throw new Problem(SAID.fileGoneOrRunning);
    this.work(fileId);
    return this.run(fileId);
  }

  private work(fileId: string): void {
    if (this.working.has(fileId) || this.closing) return;
    this.working.set(
      fileId,
      this.takeIn(fileId).finally(() => {
        this.working.delete(fileId);
        for (const work of this.written) work();
      }),
    );
  }

  /** Goes on with what another process left. */
  async resume(): Promise<void> {
    const left = await this.source.query<{ id: string }[]>(
      `select id
        from intake_file
        where state = 'running' and touched_at < clock_timestamp() - interval '${LEFT_AFTER_SECONDS} seconds'`,
    );
    for (const { id } of left) this.work(id);
  }

  private async finish(fileId: string, state: 'done' | 'failed', reason: string | null = null): Promise<void> {
    await this.source.query(
      `update intake_file
        set state = $2, reason = $3, finished_at = clock_timestamp(), bytes_done = bytes
        where id = $1 and state = 'running'`,
      [fileId, state, reason],
    );
    // The rows are written or answered for; the file itself has done its work.
    await this.source.query('delete from intake_piece where file_id = $1', [fileId]);
  }

  /**
   * Takes a file in, to its end or to what stops it; whatever that is stands with the run, and nothing of it leaves
   * here.
   */
  private async takeIn(fileId: string): Promise<void> {
    for (let tries = 0; !this.closing; tries += 1) {
      const at: RunPlace = { line: 0 };
      try {
        await this.takeInOnce(fileId, at);
        return;
      } catch (error) {
        // What another process or the next sweep goes on with, once the database is there again or has space.
        if (passes(error) && tries >= AGAIN.tries) return;
        if (passes(error))
          await sleep(Math.min(AGAIN.longestMs, AGAIN.firstMs * 2 ** tries), undefined, { ref: false });
        else if (await this.failed(fileId, at, error)) return;
      }
    }
  }

  /**
   * Marks a run as failed, with where and why and what was written until then; false when not even that could be
   * written.
   */
  private async failed(fileId: string, { line }: RunPlace, error: unknown): Promise<boolean> {
    const why =
      error instanceof SheetFault
        ? `${error.message}. Nothing was written.`
        : `${line > 0 ? `line ${line}: ` : ''}something went wrong on our side (${error instanceof Error ? error.name : 'unknown'}). What stands above it is written; take the file in again, and what is written is passed over.`;
    try {
      await this.finish(fileId, 'failed', why);
      this.report(error, fileId);
      return true;
    } catch {
      return false;
    }
  }

  private async takeInOnce(fileId: string, at: RunPlace): Promise<void> {
    const [file] = await this.source.query<RunningFile[]>(
      `select id, name, bytes, encoding, delimiter, user_id as "userId", kind, mapping, formats,
          rows_done as "rowsDone"
        from intake_file
        where id = $1 and state = 'running'`,
      [fileId],
    );
    if (!file) return;
    // Read to its end first: a file that breaks half-way is not written half-way.
    if (file.rowsDone === 0) for await (const _row of this.rows(file)) if (this.closing) return;
    let place = -1;
    let done = file.rowsDone;
    let read = 0;
    let batch: SheetRow[] = [];
    const flush = async (): Promise<boolean> => {
      if (batch.length === 0) return true;
      at.line = batch[0]!.line;
      const going = await this.writeRows(file, batch, done, read);
      done += batch.length;
      batch = [];
      return going;
    };
    for await (const { record, line, bytes } of this.rows(file)) {
      place += 1;
      // The first row names the columns; what an earlier process has done is passed over.
      if (place === 0 || place <= file.rowsDone) continue;
      read = bytes;
      batch.push({
        line,
        raw: record,
        cells: Object.fromEntries(Object.entries(file.mapping).map(([column, cell]) => [column, record[cell] ?? ''])),
      });
      if (batch.length < BATCH) continue;
      if (this.closing || !(await flush())) return;
    }
    if (this.closing || !(await flush())) return;
    await this.finish(fileId, 'done');
  }

  /**
   * Writes a batch; where a row in it cannot be kept by the database, the others are written all the same and that one
   * is handed back.
   */
  private async writeRows(
    file: RunningFile,
    batch: readonly SheetRow[],
    from: number,
    bytes: number,
  ): Promise<boolean> {
    try {
      return await this.writeBatch(file, batch, from, bytes);
    } catch (error) {
      if (!rowsAtFault(error)) throw error;
      if (batch.length === 1) return this.handBack(file, batch[0]!, from, bytes);
      const half = Math.ceil(batch.length / 2);
      return (
        (await this.writeRows(file, batch.slice(0, half), from, bytes)) &&
        this.writeRows(file, batch.slice(half), from + half, bytes)
      );
    }
  }

  /** Locks a run for one more batch; false when somebody stopped it, or another process has gone on with it. */
  private async holds(manager: EntityManager, fileId: string, from: number): Promise<boolean> {
    const [now] = await manager.query<{ state: string; rowsDone: number }[]>(
      'select state, rows_done as "rowsDone" from intake_file where id = $1 for update',
      [fileId],
    );
    return now?.state === 'running' && now.rowsDone === from;
  }

  private async answerFor(
    manager: EntityManager,
    file: RunningFile,
    { batch, bytes }: { readonly batch: readonly SheetRow[]; readonly bytes: number },
    { written, known, faults }: Omit<Sorted, 'rows'>,
  ): Promise<void> {
    if (faults.length > 0) {
      await manager.query(
        `insert into intake_fault (file_id, line, cells, reason)
          select $1, line, cells, reason
          from jsonb_to_recordset($2::jsonb) as f(line int, cells jsonb, reason text)
          on conflict do nothing`,
        [file.id, JSON.stringify(faults.map(({ line, raw, reason }) => ({ line, cells: raw, reason })))],
      );
    }
    await manager.query(
      `update intake_file
        set rows_done = rows_done + $2, bytes_done = $3, written = written + $4, known = known + $5, bad = bad + $6,
          touched_at = clock_timestamp()
        where id = $1`,
      [file.id, batch.length, Math.min(bytes, file.bytes), written, known, faults.length],
    );
  }

  private handBack(file: RunningFile, row: SheetRow, from: number, bytes: number): Promise<boolean> {
    return inTransaction(this.source, async (manager) => {
      if (!(await this.holds(manager, file.id, from))) return false;
      const reason =
        'something in this row cannot be kept: a figure, a date or a character that is out of bounds; compare it with the rows around it';
      await this.answerFor(
        manager,
        file,
        { batch: [row], bytes },
        { written: 0, known: 0, faults: [{ line: row.line, raw: row.raw, reason }] },
      );
      return true;
    });
  }

  /**
   * Writes one batch and its progress together; false when somebody stopped the run, or another process has gone on
   * with it.
   */
  private async writeBatch(
    file: RunningFile,
    batch: readonly SheetRow[],
    from: number,
    bytes: number,
  ): Promise<boolean> {
    return inTransaction(this.source, async (manager) => {
      if (!(await this.holds(manager, file.id, from))) return false;
      const { rows, ...sorted } = await sortRows(manager, batch, {
        kind: file.kind,
        formats: file.formats,
        today: this.clock.today(),
      });
      await writeBulk(manager, rows, { userId: file.userId, summary: () => `Imported from ${file.name}` });
      await this.answerFor(manager, file, { batch, bytes }, sorted);
      return true;
    });
  }

  /** Stops a run after the batch under way; what is written stays, and taking the file in again passes over it. */
  async stop(fileId: string): Promise<IntakeRun> {
    await this.source.query(
      "update intake_file set state = 'stopped', finished_at = clock_timestamp() where id = $1 and state = 'running'",
      [fileId],
    );
    await this.working.get(fileId);
    return this.run(fileId);
  }

  private readonly columns = (): string => {
    return `f.id, f.name, f.kind, f.state, f.bytes, f.bytes_done as "bytesDone", f.rows_done as rows, f.written, f.known,
        f.bad, f.reason, ${isoInstant('f.started_at')} as "startedAt", ${isoInstant('f.finished_at')} as "finishedAt",
      (
        select coalesce(jsonb_agg(jsonb_build_object('line', x.line, 'reason', x.reason) order by x.line), '[]')
        from (select line, reason from intake_fault where file_id = f.id order by line limit 20) x
      ) as faults`;
  };

  async run(fileId: string): Promise<IntakeRun> {
    const [run] = await this.source.query<IntakeRun[]>(
      `select ${this.columns()} from intake_file f where f.id = $1 and f.state <> 'held'`,
      [fileId],
    );
    if (!run) throw new Problem('not_found');
    return run;
  }

  /** One page of the files imported, latest first. */
  runs(asked: PageAsked): Promise<Paged<IntakeRun>> {
    const counted = "from intake_file f where f.state <> 'held'";
    return paged<IntakeRun>(this.source, asked, {
      counted,
      rows: (limits) => `select ${this.columns()} ${counted} order by f.at desc, f.id ${limits}`,
    });
  }

  /**
   * The rows that could not be taken, as they came, with the reason in a column of its own: mended, they are imported
   * again.
   */
  async faults(fileId: string): Promise<{ name: string; csv: Readable }> {
    const run = await this.run(fileId);
    const { source } = this;
    async function* rows(): AsyncGenerator<string[]> {
      const [file] = await source.query<{ headers: string[] }[]>('select headers from intake_file where id = $1', [
        fileId,
      ]);
      yield ['reason', 'line', ...file!.headers.map(harmless)];
      for (let line = -1; ;) {
        const page = await source.query<{ line: number; cells: string[]; reason: string }[]>(
          'select line, cells, reason from intake_fault where file_id = $1 and line > $2 order by line limit 1000',
          [fileId, line],
        );
        for (const fault of page) yield [harmless(fault.reason), String(fault.line), ...fault.cells.map(harmless)];
        if (page.length < 1000) return;
        line = page.at(-1)!.line;
      }
    }
    return { name: run.name, csv: piped(Readable.from(await begun(rows())), stringify({ bom: true })) };
  }
}
