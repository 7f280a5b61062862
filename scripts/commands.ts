import { createReadStream, createWriteStream, existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { pipeline } from 'node:stream/promises';
import { build } from './build.ts';
import { databaseUrl, ensureDatabase, removeCluster, runningCluster, startCluster, stopCluster, type Cluster } from './cluster.ts';
import { postgresBin } from './debian.ts';
import { runningInstance, serverLog, startInstance, stopInstance } from './instance.ts';
import { ensureState, UserError } from './places.ts';
import { runVisible } from './run.ts';

// What a command works with is imported when it runs: the others, and the list of them, start without the core, the database layer and the demo world.

export interface Command {
  /** The word and what may follow it; nothing may where only the word stands. */
  readonly usage: string;
  readonly help: string;
  /** Resolves to the exit code; 0 when left out. */
  readonly run: (args: string[]) => Promise<number | void>;
}

const DATABASE = 'crosspeen';
const say = (line: string): void => { process.stdout.write(`${line}\n`); };
/** Paths are meant from where the user called. */
const userPath = (path: string): string => resolve(process.env['CROSSPEEN_CALLED_FROM'] ?? '.', path);

async function announce(port: number): Promise<void> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  say(`\nCrosspeen is ready: http://127.0.0.1:${port}\n`);
  say('Sign in with one of the demo accounts:');
  for (const { name, password, role } of DEMO_ACCOUNTS) say(`  ${name.padEnd(8)} ${password.padEnd(18)} ${role}`);
  say('\nCtrl-C stops it.');
}

async function demo(): Promise<void> {
  ensureState();
  const already = runningInstance('demo');
  if (already) {
    await announce(already.port);
    say('(It was running already; ./crosspeen stop ends it.)');
    return;
  }
  const [{ seedDemo }, cluster] = await Promise.all([import('./seed.ts'), startCluster('demo'), build()]);
  const url = await ensureDatabase(cluster, DATABASE);
  await seedDemo(url, process.env['CROSSPEEN_NOW']);
  const server = await startInstance('demo', url);
  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    void stopInstance('demo');
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('SIGHUP', stop);
  await announce(server.port);
  const code = await server.ended;
  await stopInstance('demo');
  await stopCluster('demo');
  if (!stopping && code !== 0) throw new UserError(`The server ended by itself; see ${serverLog('demo')}`);
  say('Stopped.');
}

async function stop(): Promise<void> {
  const server = await stopInstance('demo');
  const cluster = await stopCluster('demo');
  say(server || cluster ? 'Stopped.' : 'Nothing was running.');
}

async function reset(args: string[]): Promise<number> {
  if (!args.includes('--yes')) {
    if (!process.stdin.isTTY) throw new UserError('reset deletes every vehicle and record. Say ./crosspeen reset --yes to do it.');
    const asked = createInterface({ input: process.stdin, output: process.stdout });
    const answer = await asked.question('This deletes every vehicle and record here, for good. Type “reset” to go on: ');
    asked.close();
    if (answer.trim() !== 'reset') {
      say('Nothing was changed.');
      return 1;
    }
  }
  await stopInstance('demo');
  await removeCluster('demo');
  say('All data is gone. ./crosspeen demo starts anew.');
  return 0;
}

function status(): Promise<void> {
  const server = runningInstance('demo');
  const cluster = runningCluster('demo');
  say(server ? `server      running, http://127.0.0.1:${server.port} (process ${server.pid})` : 'server      not running');
  say(cluster ? `PostgreSQL  running on 127.0.0.1:${cluster.port} (process ${cluster.pid}), data in ${cluster.dataDir}` : 'PostgreSQL  not running');
  return Promise.resolve();
}

/** Runs `work` with the cluster up, and stops it again if it was not. */
async function withCluster<T>(work: (cluster: Cluster, bin: string) => Promise<T>): Promise<T> {
  const wasRunning = runningCluster('demo') !== null;
  const cluster = await startCluster('demo');
  try {
    return await work(cluster, await postgresBin());
  } finally {
    if (!wasRunning) await stopCluster('demo');
  }
}

async function logs(args: string[]): Promise<number> {
  const log = serverLog('demo');
  if (!existsSync(log)) throw new UserError('There is no log yet; start the demo first.');
  return runVisible('tail', args.includes('-f') ? ['-n', '40', '-f', log] : ['-n', '100', log]);
}

const psql = (args: string[]): Promise<number> =>
  withCluster((cluster, bin) => runVisible(join(bin, 'psql'), [databaseUrl(cluster, DATABASE), ...args]));

function oneFile(args: string[], usage: string): string {
  if (args.length !== 1) throw new UserError(`Name one file: ${usage}`);
  return userPath(args[0]!);
}

async function backup(args: string[]): Promise<number> {
  const file = oneFile(args, './crosspeen backup FILE');
  if (existsSync(file)) throw new UserError(`${file} exists already; choose another name.`);
  const code = await withCluster((cluster, bin) => runVisible(join(bin, 'pg_dump'), ['--format=custom', '--no-owner', `--file=${file}`, databaseUrl(cluster, DATABASE)]));
  if (code === 0) say(`Saved to ${file}`);
  return code;
}

/** Reads a pack, checks it and writes it into the library, all or nothing. */
async function load(args: string[]): Promise<number> {
  const file = oneFile(args, './crosspeen load FILE');
  if (!existsSync(file)) throw new UserError(`There is no file ${file}.`);
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new UserError(`${file} is no JSON: ${(error as Error).message}`);
  }
  const { pack } = await import('@crosspeen/contract');
  const checked = pack.safeParse(json);
  if (!checked.success) {
    const lines = checked.error.issues.slice(0, 20).map((issue) => `  ${issue.path.join('.') || '(whole file)'}: ${issue.message}`);
    throw new UserError(`${file} is no valid pack; nothing was loaded.\n${lines.join('\n')}`);
  }
  const { loadPack, openDatabase } = await import('@crosspeen/server');
  return withCluster(async (cluster) => {
    const source = await openDatabase(await ensureDatabase(cluster, DATABASE), 2);
    try {
      await source.transaction((manager) => loadPack(manager, checked.data));
    } finally {
      await source.destroy();
    }
    const points = checked.data.families.reduce((sum, { weakPoints }) => sum + weakPoints.length, 0);
    say(`Loaded “${checked.data.title}” ${checked.data.version}: ${checked.data.families.length} engine families, ${points} weak points.`);
    return 0;
  });
}

/** Puts the database that was filled beside the old one in its place. */
async function swapIn(cluster: Cluster, bin: string): Promise<void> {
  await runVisible(join(bin, 'psql'), [databaseUrl(cluster, 'postgres'), '--quiet', '-v', 'ON_ERROR_STOP=1',
    '-c', `drop database if exists ${DATABASE} with (force)`, '-c', `alter database ${DATABASE}_restored rename to ${DATABASE}`]);
}

async function restore(args: string[]): Promise<number> {
  const file = oneFile(args, './crosspeen restore FILE');
  if (!existsSync(file)) throw new UserError(`There is no file ${file}.`);
  if (runningInstance('demo')) throw new UserError('The server is running; ./crosspeen stop first, so that nobody writes meanwhile.');
  return withCluster(async (cluster, bin) => {
    // Into a new database first: the old one is given up only when the whole backup was read.
    const url = await ensureDatabase(cluster, `${DATABASE}_restored`, true);
    const code = await runVisible(join(bin, 'pg_restore'), ['--no-owner', '--exit-on-error', '--single-transaction', `--dbname=${url}`, file]);
    if (code !== 0) throw new UserError(`${file} could not be restored; the data here is as it was.`);
    await swapIn(cluster, bin);
    say(`Restored from ${file}`);
    return 0;
  });
}

/** Writes everything as an archive of JSON lines. */
async function exportAll(args: string[]): Promise<void> {
  const file = oneFile(args, './crosspeen export FILE');
  if (existsSync(file)) throw new UserError(`${file} exists already; choose another name.`);
  const { exportArchive, openDatabase } = await import('@crosspeen/server');
  await withCluster(async (cluster) => {
    const source = await openDatabase(await ensureDatabase(cluster, DATABASE), 2);
    try {
      await pipeline(await exportArchive(source, new Date().toISOString()), createWriteStream(file, { mode: 0o600 }));
    } finally {
      await source.destroy();
    }
  });
  say(`Saved to ${file}. It holds the accounts’ password hashes: keep it like a key.`);
}

/** Replaces everything by what an archive holds: read into a new database first, and the old one given up only when all of it is there. */
async function importAll(args: string[]): Promise<void> {
  const file = oneFile(args, './crosspeen import FILE');
  if (!existsSync(file)) throw new UserError(`There is no file ${file}.`);
  if (runningInstance('demo')) throw new UserError('The server is running; ./crosspeen stop first, so that nobody writes meanwhile.');
  const { importArchive, openDatabase, Problem } = await import('@crosspeen/server');
  await withCluster(async (cluster, bin) => {
    const source = await openDatabase(await ensureDatabase(cluster, `${DATABASE}_restored`, true), 2);
    let rows: Readonly<Record<string, number>>;
    try {
      rows = await importArchive(source, createReadStream(file));
    } catch (error) {
      if (error instanceof Problem) throw new UserError(`${error.message} The data here is as it was.`);
      throw error;
    } finally {
      await source.destroy();
    }
    await swapIn(cluster, bin);
    say(`Taken in from ${file}: ${Object.values(rows).reduce((sum, count) => sum + count, 0).toLocaleString('en')} rows, ${(rows['vehicle'] ?? 0).toLocaleString('en')} vehicles.`);
  });
}

function help(): Promise<void> {
  say('./crosspeen COMMAND\n');
  for (const { usage, help: text } of Object.values(COMMANDS)) say(`  ${usage.padEnd(16)} ${text}`);
  return Promise.resolve();
}

export const COMMANDS: Record<string, Command> = {
  demo: { usage: 'demo', help: 'start with the demo data, on loopback; prints the address', run: demo },
  stop: { usage: 'stop', help: 'stop the server and its PostgreSQL', run: stop },
  status: { usage: 'status', help: 'what is running, and where', run: status },
  logs: { usage: 'logs [-f]', help: "the server's log; -f follows it", run: logs },
  psql: { usage: 'psql [ARGS]', help: 'a PostgreSQL prompt on the data', run: psql },
  backup: { usage: 'backup FILE', help: 'save all data to a file', run: backup },
  load: { usage: 'load FILE', help: 'check a library pack and load it', run: load },
  restore: { usage: 'restore FILE', help: 'replace all data by a saved file', run: restore },
  export: { usage: 'export FILE', help: 'save all data as JSON lines, for any other program', run: exportAll },
  import: { usage: 'import FILE', help: 'replace all data by such a file', run: importAll },
  reset: { usage: 'reset [--yes]', help: 'delete all data', run: reset },
  test: { usage: 'test [PART]', help: 'every check: types, lint, unit, browser; or one of them', run: async (args) => (await import('./test.ts')).test(args) },
  bench: { usage: 'bench NAME', help: 'figures: lookup, risk, calibration, intake', run: async (args) => (await import('./bench.ts')).bench(args) },
  screenshots: { usage: 'screenshots [NAME]', help: 'make docs/screenshots anew from the demo data', run: async (args) => (await import('./screenshots.ts')).screenshots(args) },
  schema: { usage: 'schema', help: 'write docs/pack.schema.json anew from the contract', run: async () => (await import('./schema.ts')).writeSchema() },
  core: { usage: 'core', help: "the core's door: JSON requests a line in, answers a line out", run: async () => (await import('./core.ts')).coreDoor() },
  help: { usage: 'help', help: 'this list', run: help },
};
