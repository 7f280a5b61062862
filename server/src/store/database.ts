import 'reflect-metadata';
import pg from 'pg';
import { DataSource } from 'typeorm';
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
/** What holds a connection for long by its nature: a download is read as fast as its reader takes it. */
export const FOR_DOWNLOADS: Patience = { acquireMs: 2000, statementMs: 120_000, idleInTransactionMs: 120_000 };

/** Opens a pool on a database whose schema is up to date. Throws when the server cannot be reached. */
export async function connectDatabase(
  url: string,
  poolSize = 10,
  { acquireMs, statementMs, idleInTransactionMs }: Patience = {},
): Promise<DataSource> {
  const source = new DataSource({
    type: 'postgres',
    url,
    entities: ENTITIES,
    migrations: await migrations(),
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

/** Opens the pool and brings the schema up to date. */
export async function openDatabase(url: string, poolSize = 10): Promise<DataSource> {
  const source = await connectDatabase(url, poolSize);
  await source.runMigrations();
  return source;
}
