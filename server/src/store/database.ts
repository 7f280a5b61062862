import 'reflect-metadata';
import pg from 'pg';
import { DataSource } from 'typeorm';
import { Judgement1764100000000 } from './migrations/1764100000000-judgement.ts';
import { Library1764200000000 } from './migrations/1764200000000-library.ts';
import { Notices1764300000000 } from './migrations/1764300000000-notices.ts';
import { Safe1764500000000 } from './migrations/1764500000000-safe.ts';
import { Watched1764400000000 } from './migrations/1764400000000-watched.ts';
import { Start1764000000000 } from './migrations/1764000000000-start.ts';
import { ENTITIES } from './entities.ts';

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
    migrations: [
      Start1764000000000,
      Judgement1764100000000,
      Library1764200000000,
      Notices1764300000000,
      Watched1764400000000,
      Safe1764500000000,
    ],
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
