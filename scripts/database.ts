import pg from 'pg';
import { databaseUrl, ROLE, type Cluster } from './cluster.ts';

/** The workshop's own database, and the names it has while it is made, filled or replaced. */
export const DATABASE = 'crosspeen';
/** Being filled for the first time: not yet a workshop. */
const BEGUN = `${DATABASE}_new`;
/** Filled from a file, to take the place of the workshop's. */
export const INCOMING = `${DATABASE}_restored`;
/** What stood before, until the new one stands in its place. */
const REPLACED = `${DATABASE}_replaced`;

async function onServer<T>(cluster: Cluster, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: databaseUrl(cluster, 'postgres') });
  // A connection that is lost while a question is open is told by that question.
  client.on('error', () => undefined);
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end().catch(() => undefined);
  }
}

const names = async (client: pg.Client): Promise<Set<string>> =>
  new Set(
    (await client.query<{ name: string }>('select datname as name from pg_database')).rows.map(({ name }) => name),
  );
const drop = (client: pg.Client, name: string): Promise<unknown> =>
  client.query(`drop database if exists "${name}" with (force)`);
/** Nobody may be in a database that is renamed. */
const empty = (client: pg.Client, ...databases: string[]): Promise<unknown> =>
  client.query(
    'select pg_terminate_backend(pid) from pg_stat_activity where datname = any($1) and pid <> pg_backend_pid()',
    [databases],
  );

/**
 * Whether a database was filled to its end: whatever fills one writes its people in the transaction that it ends with.
 */
async function holdsPeople(cluster: Cluster, name: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: databaseUrl(cluster, name) });
  client.on('error', () => undefined);
  try {
    await client.connect();
    return ((await client.query('select 1 from app_user limit 1')).rowCount ?? 0) > 0;
  } catch {
    return false;
  } finally {
    await client.end().catch(() => undefined);
  }
}

/** Creates a database where there is none, or anew when `fresh`; answers its address. */
export async function ensureDatabase(cluster: Cluster, name: string, fresh = false): Promise<string> {
  await onServer(cluster, async (client) => {
    if (fresh) await drop(client, name);
    if (!(await names(client)).has(name)) await client.query(`create database "${name}" owner "${ROLE}"`);
  });
  return databaseUrl(cluster, name);
}

/**
 * Finishes or takes back what an earlier command was ended in the middle of, so that nothing is ever made beside what
 * it left: the workshop's own database keeps its place; where it is missing, what was moved away for it comes back,
 * else what had been read in whole.
 */
export async function settle(cluster: Cluster): Promise<void> {
  await onServer(cluster, async (client) => {
    const there = await names(client);
    if (!there.has(DATABASE)) {
      // Both renames are one transaction: a lone new one means that the old was given up by a command of an earlier
      // version.
      const back = there.has(REPLACED)
        ? REPLACED
        : there.has(INCOMING) && (await holdsPeople(cluster, INCOMING))
          ? INCOMING
          : null;
      if (back !== null) {
        await empty(client, back);
        await client.query(`alter database "${back}" rename to "${DATABASE}"`);
      }
    }
    for (const left of [BEGUN, INCOMING, REPLACED]) await drop(client, left);
  });
}

/** Puts the database that was filled beside the old one in its place; at no moment is there none. */
export async function swapIn(cluster: Cluster): Promise<void> {
  await onServer(cluster, async (client) => {
    const old = (await names(client)).has(DATABASE);
    await client.query('begin');
    try {
      await empty(client, DATABASE, INCOMING);
      if (old) await client.query(`alter database "${DATABASE}" rename to "${REPLACED}"`);
      await client.query(`alter database "${INCOMING}" rename to "${DATABASE}"`);
      await client.query('commit');
    } catch (error) {
      await client.query('rollback');
      throw error;
    }
    await drop(client, REPLACED);
  });
}

/**
 * The workshop's database; where there is none it is made by `fill` under another name first, and is a workshop only
 * when that is done.
 */
export async function ensureWorkshop(cluster: Cluster, fill: (url: string) => Promise<void>): Promise<string> {
  await settle(cluster);
  const there = await onServer(cluster, async (client) => (await names(client)).has(DATABASE));
  if (!there) {
    await fill(await ensureDatabase(cluster, BEGUN, true));
    await onServer(cluster, async (client) => {
      await empty(client, BEGUN);
      await client.query(`alter database "${BEGUN}" rename to "${DATABASE}"`);
    });
  }
  const url = databaseUrl(cluster, DATABASE);
  // Brought up to date, where it stood already.
  if (there) await fill(url);
  return url;
}
