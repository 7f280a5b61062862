import { FAULTS, INTAKE_COLUMNS, SAID, type IntakeFormats, type IntakeKind, type IntakeRun } from '@crosspeen/contract';
import { setTimeout as sleep } from 'node:timers/promises';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { databaseIsAway, databaseProblem, rowsAtFault } from '../../platform/database-problem.ts';
import { once, type Author } from '../../platform/once.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';
import { writeBulk } from './bulk.ts';
import type { SheetRow, Sorted } from './cells.ts';
import { HeldFiles, type HeldFile } from './held.ts';
import { IntakeLog } from './log.ts';
import { sortRows } from './rows.ts';
import { undoImport } from './undo.ts';
import { SheetFault } from '../../spreadsheets/sheet.ts';

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

/** Rows written in one transaction. */
const BATCH = 1000;
/** A run that nobody has touched for so long was left by a process that ended. */
const LEFT_AFTER_SECONDS = 30;
/**
 * While the database is away, or has no space, a run waits so long before it tries again: twice as long each time, to
 * the longest; then the sweep goes on with it.
 */
const AGAIN = { firstMs: 500, longestMs: 15_000, tries: 8 } as const;

/** Failures that pass: the run goes on where it stopped. */
function passes(error: unknown): boolean {
  return databaseIsAway(error) || ['busy', 'took_too_long', 'no_space'].includes(databaseProblem(error)?.code ?? '');
}

/** Services that IntakeService works with. */
export interface IntakeServiceNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  /** Records a run that failed through a fault of ours. */
  readonly report: (error: unknown, fileId: string) => void;
}

/** Spreadsheets in: held as they came, looked at, then written a batch at a time with every row answered for. */
export class IntakeService {
  readonly files: HeldFiles;
  readonly log: IntakeLog;
  private readonly written: (() => void)[] = [];
  private readonly working = new Map<string, Promise<void>>();
  private closing = false;

  constructor(private readonly needs: IntakeServiceNeeds) {
    this.files = new HeldFiles(needs.source, needs.clock);
    this.log = new IntakeLog(needs.source);
  }

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
    const [begun] = await this.needs.source.query<[{ id: string }[], number]>(
      `update intake_file
        set kind = $2, mapping = $3, formats = $4, state = 'running', started_at = clock_timestamp(),
          touched_at = clock_timestamp()
        where id = $1 and state = 'held'
        returning id`,
      [fileId, kind, JSON.stringify(mapping), JSON.stringify(formats)],
    );
    if (begun.length === 0) throw new Problem(SAID.fileGoneOrRunning);
    this.work(fileId);
    return this.log.run(fileId);
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
    const left = await this.needs.source.query<{ id: string }[]>(
      `select id
        from intake_file
        where state = 'running' and touched_at < clock_timestamp() - interval '${LEFT_AFTER_SECONDS} seconds'`,
    );
    for (const { id } of left) this.work(id);
  }

  private async finish(fileId: string, state: 'done' | 'failed', reason: string | null = null): Promise<void> {
    await this.needs.source.query(
      `update intake_file
        set state = $2, reason = $3, finished_at = clock_timestamp(), bytes_done = bytes
        where id = $1 and state = 'running'`,
      [fileId, state, reason],
    );
    // The rows are written or answered for; the file itself has done its work.
    await this.needs.source.query('delete from intake_piece where file_id = $1', [fileId]);
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
      this.needs.report(error, fileId);
      return true;
    } catch {
      return false;
    }
  }

  private async takeInOnce(fileId: string, at: RunPlace): Promise<void> {
    const [file] = await this.needs.source.query<RunningFile[]>(
      `select id, name, bytes, encoding, delimiter, user_id as "userId", kind, mapping, formats,
          rows_done as "rowsDone"
        from intake_file
        where id = $1 and state = 'running'`,
      [fileId],
    );
    if (!file) return;
    // Read to its end first: a file that breaks half-way is not written half-way.
    if (file.rowsDone === 0) for await (const _row of this.files.rows(file)) if (this.closing) return;
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
    for await (const { record, line, bytes } of this.files.rows(file)) {
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
    {
      batch,
      bytes,
      kept = {},
    }: {
      readonly batch: readonly SheetRow[];
      readonly bytes: number;
      readonly kept?: Readonly<Record<string, number>>;
    },
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
          touched_at = clock_timestamp(),
          kept = (
            select coalesce(jsonb_object_agg(key, n), '{}')
            from (
              select key, sum(value::int) as n
              from (select * from jsonb_each_text(kept) union all select * from jsonb_each_text($7::jsonb)) counts
              group by key
            ) summed
          )
        where id = $1`,
      [file.id, batch.length, Math.min(bytes, file.bytes), written, known, faults.length, JSON.stringify(kept)],
    );
  }

  private handBack(file: RunningFile, row: SheetRow, from: number, bytes: number): Promise<boolean> {
    return inTransaction(this.needs.source, async (manager) => {
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
    return inTransaction(this.needs.source, async (manager) => {
      if (!(await this.holds(manager, file.id, from))) return false;
      const { rows, ...sorted } = await sortRows(manager, batch, {
        kind: file.kind,
        formats: file.formats,
        today: this.needs.clock.today(),
      });
      const kept = await writeBulk(manager, rows, {
        userId: file.userId,
        summary: () => `Imported from ${file.name}`,
        fileId: file.id,
      });
      await this.answerFor(manager, file, { batch, bytes, kept }, sorted);
      return true;
    });
  }

  /**
   * Takes an import back: what stands as it came in; vehicles that were worked on since stay. Throws not_found,
   * already_undone, and bad_file while it runs.
   */
  async undo(author: Author, fileId: string): Promise<IntakeRun> {
    await inTransaction(this.needs.source, (manager) =>
      once(manager, author, () => undoImport(manager, fileId, author.userId)),
    );
    for (const work of this.written) work();
    return this.log.run(fileId);
  }

  /** Stops a run after the batch under way; what is written stays, and taking the file in again passes over it. */
  async stop(fileId: string): Promise<IntakeRun> {
    await this.needs.source.query(
      "update intake_file set state = 'stopped', finished_at = clock_timestamp() where id = $1 and state = 'running'",
      [fileId],
    );
    await this.working.get(fileId);
    return this.log.run(fileId);
  }
}
