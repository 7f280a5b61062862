import { randomBytes } from 'node:crypto';
import type { DataSource } from 'typeorm';

/** What signs the session cookies: one for every server process that stands in front of this database, made once. */
export async function serverSecret(source: DataSource): Promise<string> {
  await source.query('insert into server_secret (id, secret) values (1, $1) on conflict do nothing', [
    randomBytes(48).toString('base64url'),
  ]);
  const [row] = await source.query<{ secret: string }[]>('select secret from server_secret');
  return row!.secret;
}
