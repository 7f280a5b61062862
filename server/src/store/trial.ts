import pg from 'pg';
import type { DataSource } from 'typeorm';
import { openDatabase } from './database.ts';

/**
 * An empty database of this version beside the one at `url`, to try a backup in; null where its user may not make any.
 * What an earlier trial was ended in the middle of goes first.
 */
export async function trialGround(
  url: string,
): Promise<{ readonly source: DataSource; readonly drop: () => Promise<void> } | null> {
  const own = new URL(url);
  const name = `${decodeURIComponent(own.pathname.slice(1))}_trial`;
  const at = (database: string): string => Object.assign(new URL(url), { pathname: `/${database}` }).href;
  const ask = async (...questions: string[]): Promise<{ may?: boolean }[]> => {
    const client = new pg.Client({ connectionString: at('postgres') });
    client.on('error', () => undefined);
    await client.connect();
    try {
      let rows: { may?: boolean }[] = [];
      for (const question of questions) ({ rows } = await client.query<{ may?: boolean }>(question));
      return rows;
    } finally {
      await client.end().catch(() => undefined);
    }
  };
  const [role] = await ask('select rolcreatedb or rolsuper as may from pg_roles where rolname = current_user').catch(
    () => [],
  );
  if (role?.may !== true) return null;
  const gone = `drop database if exists "${name}" with (force)`;
  await ask(gone, `create database "${name}"`);
  const source = await openDatabase(at(encodeURIComponent(name)), 2);
  return {
    source,
    drop: async () => {
      await source.destroy();
      await ask(gone);
    },
  };
}
