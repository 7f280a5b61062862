import 'reflect-metadata';
import pg from 'pg';
import { DataSource } from 'typeorm';
import { Judgement1764100000000 } from '../migrations/1764100000000-judgement.ts';
import { Library1764200000000 } from '../migrations/1764200000000-library.ts';
import { Notices1764300000000 } from '../migrations/1764300000000-notices.ts';
import { Watched1764400000000 } from '../migrations/1764400000000-watched.ts';
import { Start1764000000000 } from '../migrations/1764000000000-start.ts';
import { ENTITIES } from './entities.ts';

// Dates are dates: no time zone may turn a day into an instant.
pg.types.setTypeParser(pg.types.builtins.DATE, (value) => value);
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** Opens a pool on a database whose schema is up to date. Throws when the server cannot be reached. */
export async function connectDatabase(url: string, poolSize = 10): Promise<DataSource> {
  const source = new DataSource({
    type: 'postgres',
    url,
    entities: ENTITIES,
    migrations: [Start1764000000000, Judgement1764100000000, Library1764200000000, Notices1764300000000, Watched1764400000000],
    migrationsTransactionMode: 'each',
    synchronize: false,
    extra: { max: poolSize },
  });
  return source.initialize();
}

/** Opens the pool and brings the schema up to date. */
export async function openDatabase(url: string, poolSize = 10): Promise<DataSource> {
  const source = await connectDatabase(url, poolSize);
  await source.runMigrations();
  return source;
}
