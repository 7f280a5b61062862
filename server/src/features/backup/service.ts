import { SAID, type BackupPicture, type BackupRun } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { chmod, mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { DataSource } from 'typeorm';
import { exportArchive, importArchive } from '../../ledger/archive.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { isoInstant } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { piped } from '../../platform/streams.ts';

/** Lock of the database that a process holds while it makes a backup; it is free as soon as that process is gone. */
const LOCK = "hashtext('crosspeen backup')";
/** Name of a file that is being written. */
const PART = /^crosspeen-.*\.part$/;
/** After one that failed, the next is tried again so much later. */
const AGAIN_AFTER_MINUTES = 60;
/** A last good one that is older than this is too old, in hours. */
const OLD_AFTER_HOURS = 48;
/** Rows of the list on the settings page. */
const SHOWN = 12;

/** A database of its own to try a backup in, made and dropped for it. */
export interface TrialGround {
  readonly source: DataSource;
  readonly drop: () => Promise<void>;
}

export interface BackupPlace {
  /** Where the files are kept. */
  readonly folder: string;
  /** Makes an empty database of this version; null where the user of this PostgreSQL may not make any. */
  readonly trial: () => Promise<TrialGround | null>;
}

/** A file that is read. A missing one rejects here; its stream would have nobody yet to tell. */
const reading = async (file: string): Promise<Readable> => (await open(file, 'r')).createReadStream();

/** SHA-256 of the rows of an archive, line by line, without the line that says when it was made. */
async function digestOfRows(archive: Readable): Promise<string> {
  const digest = createHash('sha256');
  let line = 0;
  let held: string | null = null;
  for await (const text of createInterface({ input: piped(archive, createGunzip()), crlfDelay: Infinity })) {
    line += 1;
    // The last line counts the rows with a digest of all before it, the first of them included.
    if (held !== null) digest.update(held);
    held = line === 1 ? null : `${text}\n`;
  }
  return digest.digest('hex');
}

/** Services that BackupService works with. */
export interface BackupServiceNeeds {
  readonly source: DataSource;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
  /** Null keeps none: a demo, or a test. */
  readonly place: BackupPlace | null;
}

/**
 * Saves everything to a file each day, tries whether it can be read back, and lets the old ones go. Of several server
 * processes one does it.
 */
export class BackupService {
  private under: Promise<void> | null = null;

  constructor(private readonly needs: BackupServiceNeeds) {}

  /** What the settings page shows; null where this server keeps none. */
  async picture(): Promise<BackupPicture | null> {
    const { place, settings, clock } = this.needs;
    if (place === null) return null;
    const rows = await this.needs.source.query<BackupRun[]>(
      `select id, state, ${isoInstant('begun_at')} as "begunAt", ${isoInstant('finished_at')} as "finishedAt", file,
          bytes, rows, checked, reason
        from backup_run
        order by id desc
        limit ${SHOWN}`,
    );
    const lastGood = (await this.lastGood()) ?? null;
    const { backupAt } = await settings.current();
    const since = lastGood === null ? await this.firstDay() : new Date(lastGood.begunAt);
    const old =
      backupAt !== null && since !== null && clock.now().getTime() - since.getTime() > OLD_AFTER_HOURS * 3_600_000;
    return { folder: place.folder, lastGood, rows, old, nextAt: backupAt };
  }

  private async lastGood(): Promise<BackupRun | undefined> {
    const [row] = await this.needs.source.query<BackupRun[]>(
      `select id, state, ${isoInstant('begun_at')} as "begunAt", ${isoInstant('finished_at')} as "finishedAt", file,
          bytes, rows, checked, reason
        from backup_run
        where state = 'good'
        order by id desc
        limit 1`,
    );
    return row;
  }

  /** When the workshop began; null before. */
  private async firstDay(): Promise<Date | null> {
    const [row] = await this.needs.source.query<{ at: Date | null }[]>('select min(at) as at from people_change');
    return row!.at;
  }

  /** Whether the day's backup is still to be made: its time has come, and none was made since. */
  private async isDue(): Promise<boolean> {
    const { settings, clock } = this.needs;
    const { backupAt } = await settings.current();
    if (backupAt === null || (await this.firstDay()) === null) return false;
    const [last] = await this.needs.source.query<{ at: Date; state: string }[]>(
      'select begun_at as at, state from backup_run order by id desc limit 1',
    );
    if (last === undefined) return true;
    const now = clock.now();
    if (last.state === 'running') return false;
    // A clock that ran ahead has dated it; it says nothing about today.
    if (last.at > now) return true;
    if (last.state === 'failed') return now.getTime() - last.at.getTime() > AGAIN_AFTER_MINUTES * 60_000;
    const [here, then] = [clock.onTheWall(now), clock.onTheWall(last.at)];
    const days = dayFromIso(here.date)! - dayFromIso(then.date)!;
    return here.time >= backupAt ? days >= 1 || then.time < backupAt : days >= 2;
  }

  /** Makes the day's backup when its time has come; never throws, since what went wrong stands in its row. */
  async runIfDue(): Promise<void> {
    if (this.needs.place === null || this.under !== null) return;
    await this.whileFree(null, () => this.isDue());
  }

  /** Makes one now for somebody. Throws busy with who is at one already, not_found where this server keeps none. */
  async runNow(userId: string): Promise<void> {
    if (this.needs.place === null) throw new Problem('not_found');
    if (await this.whileFree(userId, () => Promise.resolve(true))) return;
    const [under] = await this.needs.source.query<{ at: Date; by: string | null }[]>(
      `select b.begun_at as at, u.display_name as by
        from backup_run b
        left join app_user u on u.id = b.user_id
        where b.state = 'running'
        order by b.id desc
        limit 1`,
    );
    const since = this.needs.clock.onTheWall(under?.at ?? this.needs.clock.now()).time;
    throw new Problem(SAID.backupRunning(under?.by ?? null, since));
  }

  /** Resolves when nothing is under way here. */
  async idle(): Promise<void> {
    await this.under;
  }

  /**
   * Begins a backup if no process makes one and `wanted` says yes; answers whether it was begun. The lock belongs to
   * the connection: a process that is killed gives it back, and what it left is cleared by the next one.
   */
  private async whileFree(userId: string | null, wanted: () => Promise<boolean>): Promise<boolean> {
    const lock = this.needs.source.createQueryRunner();
    const giveBack = async (): Promise<void> => {
      await lock.query(`select pg_advisory_unlock(${LOCK})`).catch(() => undefined);
      await lock.release();
    };
    const [row] = (await lock.query(`select pg_try_advisory_lock(${LOCK}) as free`)) as [{ free: boolean }];
    if (!row.free) {
      await lock.release();
      return false;
    }
    try {
      await this.clearLeft();
      if (!(await wanted())) {
        await giveBack();
        return false;
      }
      const now = this.needs.clock.now();
      const [begun] = await this.needs.source.query<[{ id: number }]>(
        "insert into backup_run (state, begun_at, touched_at, user_id) values ('running', $1, $1, $2) returning id",
        [now, userId],
      );
      this.under = this.make(begun.id, now, this.needs.place!).finally(async () => {
        await giveBack();
        this.under = null;
      });
      return true;
    } catch (error) {
      await giveBack();
      throw error;
    }
  }

  /** Clears the rows and files of backups whose process is gone; called while no process makes one. */
  private async clearLeft(): Promise<void> {
    await this.needs.source.query(
      "update backup_run set state = 'failed', finished_at = $1, reason = 'the server ended meanwhile' where state = 'running'",
      [this.needs.clock.now()],
    );
    const { folder } = this.needs.place!;
    const files = await readdir(folder).catch(() => []);
    for (const file of files) if (PART.test(file)) await rm(join(folder, file), { force: true });
  }

  private async make(id: number, begun: Date, { folder, trial }: BackupPlace): Promise<void> {
    const stamp = begun.toISOString().replace(/[-:]/g, '').replace('T', '-').slice(0, 15);
    const file = join(folder, `crosspeen-${stamp}-${id}.jsonl.gz`);
    try {
      await mkdir(folder, { recursive: true, mode: 0o700 });
      await this.write(`${file}.part`, begun);
      const { checked, rows } = await this.tried(`${file}.part`, trial);
      await rename(`${file}.part`, file);
      await this.needs.source.query(
        `update backup_run
          set state = 'good', finished_at = $2, file = $3, bytes = $4, rows = $5, checked = $6
          where id = $1`,
        [id, this.needs.clock.now(), basename(file), (await stat(file)).size, rows, checked],
      );
      await this.letGo(folder);
    } catch (error) {
      await rm(`${file}.part`, { force: true }).catch(() => undefined);
      const reason = (error as Error).message.slice(0, 500);
      await this.needs.source
        .query("update backup_run set state = 'failed', finished_at = $2, reason = $3 where id = $1", [
          id,
          this.needs.clock.now(),
          reason,
        ])
        // The database is away as well: the row is given up once it is there again.
        .catch(() => undefined);
    }
  }

  private async write(file: string, at: Date): Promise<void> {
    await pipeline(await exportArchive(this.needs.source, at.toISOString()), createWriteStream(file, { mode: 0o600 }));
    await chmod(file, 0o600);
    const handle = await open(file, 'r');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
  }

  /**
   * Reads a backup into an empty database and compares it with itself row for row; where none can be made there, reads
   * it to its end. Throws where it cannot be read or differs.
   */
  private async tried(
    file: string,
    trial: BackupPlace['trial'],
  ): Promise<{ checked: 'restored' | 'read'; rows: number }> {
    const ground = await trial();
    if (ground === null) {
      const lines = createInterface({ input: piped(await reading(file), createGunzip()), crlfDelay: Infinity });
      let rows = -2;
      for await (const _line of lines) rows += 1;
      return { checked: 'read', rows };
    }
    try {
      const read = await importArchive(ground.source, await reading(file));
      const [saved, restored] = [
        await digestOfRows(await reading(file)),
        await digestOfRows(await exportArchive(ground.source, new Date(0).toISOString())),
      ];
      if (saved !== restored) throw new Error('read back into an empty database, it was not what had been saved');
      return { checked: 'restored', rows: Object.values(read).reduce((sum, count) => sum + count, 0) };
    } finally {
      await ground.drop();
    }
  }

  /** Keeps as many good ones as the settings say; files that are no backups of ours are left alone. */
  private async letGo(folder: string): Promise<void> {
    const { backupsKept } = await this.needs.settings.current();
    const gone = await this.needs.source.query<{ file: string }[]>(
      `select file from backup_run where state = 'good' order by id desc offset $1`,
      [backupsKept],
    );
    const there = new Set(await readdir(folder));
    for (const { file } of gone) if (there.has(file)) await rm(join(folder, file), { force: true });
    await this.needs.source.query('delete from backup_run where file = any($1)', [gone.map(({ file }) => file)]);
    await this.needs.source.query(
      "delete from backup_run where state = 'failed' and begun_at < $1::timestamptz - make_interval(days => 90)",
      [this.needs.clock.now()],
    );
  }
}
