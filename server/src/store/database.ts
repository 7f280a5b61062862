import 'reflect-metadata';
import pg from 'pg';
import { DataSource, type MigrationInterface } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { migrations } from '../migrations/index.ts';

// Dates are dates: no time zone may turn a day into an instant.
pg.types.setTypeParser(pg.types.builtins.DATE, (value) => value);
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** How long things may take on the connections of a pool, in milliseconds; what is left out has no end. */
export interface Patience {
  /** Until a connection is free: then the asker is told that too much is asked at once. */
  readonly acquireMs?: number;
  readonly statementMs?: number;
  /** A transaction in which nothing happens so long belongs to nobody any more; its connection is taken back. */
  readonly idleInTransactionMs?: number;
}

/** What people wait for. */
export const FOR_PEOPLE: Patience = { acquireMs: 8000, statementMs: 30_000, idleInTransactionMs: 60_000 };
/** What holds a connection for long by its nature: everything is read at one moment. */
export const FOR_SAVING: Patience = { acquireMs: 2000, statementMs: 120_000, idleInTransactionMs: 120_000 };

/** Opens a pool on a database whose schema is up to date. Throws when the server cannot be reached. */
export async function connectDatabase(
  url: string,
  poolSize = 10,
  { acquireMs, statementMs, idleInTransactionMs }: Patience = {},
  known?: readonly (new () => MigrationInterface)[],
): Promise<DataSource> {
  const source = new DataSource({
    type: 'postgres',
    url,
    entities: ENTITIES,
    migrations: [...(known ?? (await migrations()))],
    migrationsTransactionMode: 'each',
    synchronize: false,
    extra: {
      max: poolSize,
      keepAlive: true,
      ...(acquireMs === undefined ? {} : { connectionTimeoutMillis: acquireMs }),
      ...(statementMs === undefined ? {} : { statement_timeout: statementMs }),
      ...(idleInTransactionMs === undefined ? {} : { idle_in_transaction_session_timeout: idleInTransactionMs }),
    },
  });
  return source.initialize();
}

/** Lock of the database that a process holds while it changes the schema. */
const SCHEMA_LOCK = "hashtext('crosspeen schema')";

/** Brings the schema up to date. Of several processes that start at once, one does it and the others wait for it. */
async function migrate(source: DataSource): Promise<void> {
  const holder = source.createQueryRunner();
  try {
    await holder.query(`select pg_advisory_lock(${SCHEMA_LOCK})`);
    await source.runMigrations();
  } finally {
    await holder.query(`select pg_advisory_unlock(${SCHEMA_LOCK})`).catch(() => undefined);
    await holder.release();
  }
}

/** Opens a pool of at least two connections and brings the schema up to date. */
export async function openDatabase(url: string, poolSize = 10): Promise<DataSource> {
  const source = await connectDatabase(url, Math.max(2, poolSize));
  try {
    await migrate(source);
    return source;
  } catch (error) {
    await source.destroy();
    throw error;
  }
}

/**
 * Makes the schema of an earlier version in an empty database, lets `fill` write into it, and brings it up to date. A
 * version that is not known gets today's schema: whatever fills it tells that it does not fit.
 */
export async function fillAtSchema<T>(
  url: string,
  schema: string,
  fill: (source: DataSource) => Promise<T>,
): Promise<T> {
  const all = await migrations();
  const last = all.findIndex((Migration) => new Migration().name === schema);
  const then = await connectDatabase(url, 2, {}, last < 0 ? all : all.slice(0, last + 1));
  let filled: T;
  try {
    await migrate(then);
    filled = await fill(then);
  } finally {
    await then.destroy();
  }
  await (await openDatabase(url, 2)).destroy();
  return filled;
}
