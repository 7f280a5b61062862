import { createReadStream, createWriteStream, existsSync, fsyncSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { pipeline } from 'node:stream/promises';
import { removeCluster, ROLE, runningCluster, startCluster, stopCluster, type Cluster } from './cluster.ts';
import { DATABASE, ensureDatabase, INCOMING, settle, swapIn } from './database.ts';
import { postgresBin } from './debian.ts';
import { tryLock } from './lock.ts';
import { makeWhole, userPath, UserError } from './places.ts';
import { runVisible } from './run.ts';
import { isSupervised } from './supervise.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

/** Runs `work` with the cluster up, and stops it again if it was not. */
async function withCluster<T>(work: (cluster: Cluster, bin: string) => Promise<T>): Promise<T> {
  const wasRunning = runningCluster('demo') !== null;
  const cluster = await startCluster('demo');
  try {
    return await work(cluster, await postgresBin());
  } finally {
    if (!wasRunning && !(await isSupervised())) await stopCluster('demo');
  }
}

/**
 * Runs `work` while nothing else may use the data. Throws UserError while the demo runs or another command works on it.
 */
async function alone<T>(work: (cluster: Cluster, bin: string) => Promise<T>): Promise<T> {
  const lock = await tryLock('demo');
  if (lock === null)
    throw new UserError(
      'The server is running, or another command works on the data. ./crosspeen stop first, so that nobody writes meanwhile.',
    );
  try {
    const cluster = await startCluster('demo');
    try {
      await settle(cluster);
      return await work(cluster, await postgresBin());
    } finally {
      await stopCluster('demo');
    }
  } finally {
    await lock.release();
  }
}

/**
 * How PostgreSQL's own programs reach a database: the password stands in the environment, not on the command line,
 * where everybody can read it.
 */
const reaching = ({ port, password }: Pick<Cluster, 'port' | 'password'>, database: string) => ({
  args: ['--host=127.0.0.1', `--port=${port}`, `--username=${ROLE}`, `--dbname=${database}`],
  env: { ...process.env, PGPASSWORD: password },
});

function newFile(word: string): string {
  const file = userPath(word);
  if (existsSync(file)) throw new UserError(`${file} exists already; choose another name.`);
  return file;
}

function existingFile(word: string): string {
  const file = userPath(word);
  if (!existsSync(file)) throw new UserError(`There is no file ${file}.`);
  if (statSync(file).isDirectory()) throw new UserError(`${file} is a folder; name a file.`);
  return file;
}

/** Whatever stands in these tables is of the moment: who is signed in, failed tries to, forms that were sent. */
const OF_THE_MOMENT = ['session', 'sign_in_try', 'sent_once'].map((table) => `--exclude-table-data=${table}`);

export async function backup(word: string): Promise<void> {
  const file = newFile(word);
  await withCluster((cluster, bin) =>
    makeWhole(file, async (descriptor) => {
      const { args, env } = reaching(cluster, DATABASE);
      const code = await runVisible(
        join(bin, 'pg_dump'),
        ['--format=custom', '--no-owner', ...OF_THE_MOMENT, ...args],
        { stdio: ['ignore', descriptor, 'inherit'], env },
      );
      if (code !== 0) throw new UserError('The backup could not be made; no file was written.');
    }),
  );
  say(`Saved to ${file}. It holds the accounts’ password hashes: keep it like a key.`);
}

export async function restore(word: string): Promise<void> {
  const file = existingFile(word);
  await alone(async (cluster, bin) => {
    // Into a new database first: the old one is given up only when the whole backup was read.
    await ensureDatabase(cluster, INCOMING, true);
    const { args, env } = reaching(cluster, INCOMING);
    const code = await runVisible(
      join(bin, 'pg_restore'),
      ['--no-owner', '--exit-on-error', '--single-transaction', ...args, file],
      { env },
    );
    if (code !== 0) throw new UserError(`${file} could not be restored; the data here is as it was.`);
    await swapIn(cluster);
  });
  say(`Restored from ${file}`);
}

/** Writes everything as an archive of JSON lines. */
export async function exportAll(word: string): Promise<void> {
  const file = newFile(word);
  const { exportArchive, openDatabase } = await import('@crosspeen/server');
  await withCluster((cluster) =>
    makeWhole(file, async (descriptor) => {
      const source = await openDatabase(await ensureDatabase(cluster, DATABASE), 2);
      try {
        await pipeline(
          await exportArchive(source, new Date().toISOString()),
          createWriteStream('', { fd: descriptor, autoClose: false }),
        );
        fsyncSync(descriptor);
      } finally {
        await source.destroy();
      }
    }),
  );
  say(`Saved to ${file}. It holds the accounts’ password hashes: keep it like a key.`);
}

/**
 * Replaces everything by what an archive holds: read into a new database first, and the old one given up only when all
 * of it is there.
 */
export async function importAll(word: string): Promise<void> {
  const file = existingFile(word);
  const { importArchive, openDatabase, Problem } = await import('@crosspeen/server');
  const rows = await alone(async (cluster) => {
    const source = await openDatabase(await ensureDatabase(cluster, INCOMING, true), 2);
    let read: Readonly<Record<string, number>>;
    try {
      read = await importArchive(source, createReadStream(file));
    } catch (error) {
      if (error instanceof Problem) throw new UserError(`${error.message} The data here is as it was.`);
      throw error;
    } finally {
      await source.destroy();
    }
    await swapIn(cluster);
    return read;
  });
  say(
    `Imported from ${file}: ${Object.values(rows)
      .reduce((sum, count) => sum + count, 0)
      .toLocaleString('en')} rows, ${(rows['vehicle'] ?? 0).toLocaleString('en')} vehicles.`,
  );
}

/** Reads a pack, checks it and writes it into the library, all or nothing. */
export async function load(word: string): Promise<void> {
  const file = existingFile(word);
  const { loadPack, openDatabase, Problem, readPack } = await import('@crosspeen/server');
  let pack: ReturnType<typeof readPack>;
  try {
    pack = readPack(readFileSync(file, 'utf8'));
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    throw new UserError(
      [
        `${file}: ${error.message}`,
        ...(error.extra.fields ?? []).map(({ path, message }) => `  ${path}: ${message}`),
      ].join('\n'),
    );
  }
  await withCluster(async (cluster) => {
    const source = await openDatabase(await ensureDatabase(cluster, DATABASE), 2);
    try {
      await source.transaction((manager) => loadPack(manager, pack));
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      throw new UserError(
        [
          `${file}: ${error.message}`,
          ...(error.extra.fields ?? []).map(({ path, message }) => `  ${path}: ${message}`),
        ].join('\n'),
      );
    } finally {
      await source.destroy();
    }
  });
  const points = pack.families.reduce((sum, { weakPoints }) => sum + weakPoints.length, 0);
  say(`Loaded “${pack.title}” ${pack.version}: ${pack.families.length} engine families, ${points} weak points.`);
}

export const psql = (args: readonly string[]): Promise<number> =>
  withCluster((cluster, bin) => {
    const { args: reach, env } = reaching(cluster, DATABASE);
    return runVisible(join(bin, 'psql'), [...reach, ...args], { env });
  });

export async function reset(sure: boolean): Promise<number> {
  if (!sure) {
    if (!process.stdin.isTTY)
      throw new UserError('reset deletes every vehicle and record. Say ./crosspeen reset --yes to do it.');
    const asked = createInterface({ input: process.stdin, output: process.stdout });
    const answer = await asked.question(
      'This deletes every vehicle and record here, for good. Type “reset” to go on: ',
    );
    asked.close();
    if (answer.trim() !== 'reset') {
      say('Nothing was changed.');
      return 1;
    }
  }
  const { stopDemo } = await import('./supervise.ts');
  await stopDemo();
  await removeCluster('demo');
  say('All data is gone. ./crosspeen demo starts anew.');
  return 0;
}
