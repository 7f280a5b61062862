import { createReadStream, createWriteStream, existsSync, fsyncSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { pipeline } from 'node:stream/promises';
import type { Problem } from '@crosspeen/server';
import { removeCluster, runningCluster, startCluster, stopCluster } from './cluster.ts';
import {
  baseAt,
  baseIn,
  ensureDatabase,
  filledByOrdinaryRole,
  incomingOf,
  mayMakeDatabases,
  mustReach,
  othersIn,
  settle,
  swapIn,
  type Base,
} from './database.ts';
import { postgresBin } from './debian.ts';
import { runningInstance } from './instance.ts';
import { tryLock } from './lock.ts';
import { makeWhole, userPath, UserError } from './places.ts';
import { runVisible } from './run.ts';
import { COMMAND_OF, isSupervised } from './supervise.ts';
import { externalAddress, NAMES, type Kind } from './which.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

/** Runs `work` with the database of a kind at hand, and stops its cluster again if that was not up. */
async function withBase<T>(kind: Kind, work: (base: Base, bin: string) => Promise<T>): Promise<T> {
  say(`Of ${NAMES[kind]}:`);
  const external = externalAddress(kind);
  if (external !== null) {
    await mustReach(baseAt(external));
    return work(baseAt(external), await postgresBin());
  }
  const wasRunning = runningCluster(kind) !== null;
  const cluster = await startCluster(kind);
  try {
    return await work(baseIn(cluster), await postgresBin());
  } finally {
    if (!wasRunning && !(await isSupervised(kind))) await stopCluster(kind);
  }
}

/**
 * Runs `work` while nothing else may use the data. Throws UserError while a server runs or another command works on it,
 * and where the database could not be replaced.
 */
async function alone<T>(kind: Kind, work: (base: Base, bin: string) => Promise<T>): Promise<T> {
  const lock = await tryLock(kind);
  if (lock === null)
    throw new UserError(
      `The server of ${NAMES[kind]} is running, or another command works on the data. ./crosspeen stop --${kind} first, so that nobody writes meanwhile.`,
    );
  try {
    return await withBase(kind, async (base, bin) => {
      if (externalAddress(kind) !== null) {
        if (!(await mayMakeDatabases(base)))
          throw new UserError(
            'The user of this PostgreSQL may not make databases, so that the old data could not stand until the new is read. Let its administrator restore it (docs/running.md).',
          );
        if ((await othersIn(base)) > 0)
          throw new UserError('Others are connected to this database. Stop every server that works on it first.');
      }
      await settle(base);
      return await work(base, bin);
    });
  } finally {
    if (externalAddress(kind) === null) await stopCluster(kind);
    await lock.release();
  }
}

/**
 * How PostgreSQL's own programs reach a database: the password stands in the environment, not on the command line,
 * where everybody can read it.
 */
function reaching(base: Base, database: string) {
  const url = new URL(base.urlOf(database));
  const password = decodeURIComponent(url.password);
  url.password = '';
  return { args: [`--dbname=${url.href}`], env: { ...process.env, PGPASSWORD: password } };
}

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

/** Saves everything to a file, as an archive of JSON lines. */
export async function backup(kind: Kind, word: string): Promise<void> {
  const file = newFile(word);
  const { exportArchive, openDatabase } = await import('@crosspeen/server');
  await withBase(kind, (base) =>
    makeWhole(file, async (descriptor) => {
      const source = await openDatabase(await ensureDatabase(base, base.name), 2);
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
 * Replaces everything by what a backup of ours holds: read into a new database first, and the old one given up only
 * when all of it is there. Nothing that stands in the file is run; it is written as rows into our own schema, by a role
 * that owns that new database alone.
 */
export async function restore(kind: Kind, word: string): Promise<void> {
  const file = existingFile(word);
  const { fillAtSchema, importArchive, Problem, schemaOfArchive } = await import('@crosspeen/server');
  const rows = await alone(kind, async (base) => {
    try {
      const schema = await schemaOfArchive(createReadStream(file));
      const read = await filledByOrdinaryRole(base, incomingOf(base), (url) =>
        fillAtSchema(url, schema, (source) => importArchive(source, createReadStream(file))),
      );
      await swapIn(base);
      return read;
    } catch (error) {
      if (error instanceof Problem) throw new UserError(`${error.message} The data here is as it was.`);
      throw error;
    }
  });
  say(
    `Restored from ${file}: ${Object.values(rows)
      .reduce((sum, count) => sum + count, 0)
      .toLocaleString('en')} rows, ${(rows['vehicle'] ?? 0).toLocaleString('en')} vehicles.`,
  );
}

/** What a pack is refused for, with each place. */
const refusal = (file: string, { message, extra }: Problem): UserError =>
  new UserError(
    [`${file}: ${message}`, ...(extra.fields ?? []).map(({ path, message: fault }) => `  ${path}: ${fault}`)].join(
      '\n',
    ),
  );

/** Reads a pack, checks it and writes it into the library, all or nothing. */
export async function load(kind: Kind, word: string): Promise<void> {
  const file = existingFile(word);
  const { Problem, readPack } = await import('@crosspeen/server/pack');
  let pack: ReturnType<typeof readPack>;
  try {
    pack = readPack(readFileSync(file, 'utf8'));
  } catch (error) {
    throw error instanceof Problem ? refusal(file, error) : error;
  }
  const server = await import('@crosspeen/server');
  await withBase(kind, async (base) => {
    const source = await server.openDatabase(await ensureDatabase(base, base.name), 2);
    try {
      await source.transaction((manager) => server.loadPack(manager, pack));
    } catch (error) {
      throw error instanceof server.Problem ? refusal(file, error) : error;
    } finally {
      await source.destroy();
    }
  });
  const points = pack.families.reduce((sum, { weakPoints }) => sum + weakPoints.length, 0);
  say(`Loaded “${pack.title}” ${pack.version}: ${pack.families.length} engine families, ${points} weak points.`);
}

/** A one-time link for somebody who has lost his password, the owner's too: whoever runs the machine may make it. */
export async function link(kind: Kind, name: string): Promise<void> {
  const { buildServices, openDatabase, shopClock } = await import('@crosspeen/server');
  const running = runningInstance(kind);
  await withBase(kind, async (base) => {
    const source = await openDatabase(await ensureDatabase(base, base.name), 2);
    try {
      const [person] = await source.query<{ id: string }[]>('select id from app_user where name = $1 and active', [
        name.toLowerCase(),
      ]);
      if (!person) throw new UserError(`Nobody who works here signs in as “${name}”.`);
      const { token } = await buildServices(source, shopClock()).people.reset(null, person.id);
      say(`${running?.address ?? 'http://127.0.0.1:8460'}/link#${token}`);
      say('It works once, for seven days. The old password and PIN are worth nothing from now on.');
    } finally {
      await source.destroy();
    }
  });
}

export async function psql(kind: Kind, args: readonly string[]): Promise<number> {
  const external = externalAddress(kind);
  // Its output is for other programs: nothing is said beside it.
  const base = external === null ? baseIn(await startCluster(kind)) : baseAt(external);
  const { args: reach, env } = reaching(base, base.name);
  try {
    return await runVisible(join(await postgresBin(), 'psql'), [...reach, ...args], { env });
  } finally {
    if (external === null && !(await isSupervised(kind))) await stopCluster(kind);
  }
}

export async function reset(kind: Kind, sure: boolean): Promise<number> {
  if (externalAddress(kind) !== null)
    throw new UserError('This data lies on a PostgreSQL of its own. Its administrator drops the database there.');
  if (!sure) {
    if (!process.stdin.isTTY)
      throw new UserError(
        `reset deletes every vehicle and record of ${NAMES[kind]}. Say ./crosspeen reset --${kind} --yes to do it.`,
      );
    const asked = createInterface({ input: process.stdin, output: process.stdout });
    const answer = await asked.question(
      `This deletes every vehicle and record of ${NAMES[kind]}, for good. Type “reset” to go on: `,
    );
    asked.close();
    if (answer.trim() !== 'reset') {
      say('Nothing was changed.');
      return 1;
    }
  }
  const { stopWhole } = await import('./supervise.ts');
  await stopWhole(kind);
  await removeCluster(kind);
  say(`All data of ${NAMES[kind]} is gone. ./crosspeen ${COMMAND_OF[kind]} starts anew.`);
  return 0;
}
