import { readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { MigrationInterface } from 'typeorm';

/** A migration is a file called by the moment it was written, then what it is about. */
const A_MIGRATION = /^\d{13}-[a-z-]+\.(ts|mjs)$/;
const FOLDER = 'migrations';

/** Every migration in its order, from the files beside this one; in what is built they lie in a folder beside it. */
export async function migrations(): Promise<(new () => MigrationInterface)[]> {
  const here = dirname(fileURLToPath(import.meta.url));
  const folder = basename(here) === FOLDER ? here : join(here, FOLDER);
  const files = readdirSync(folder)
    .filter((file) => A_MIGRATION.test(file))
    .sort();
  const modules = await Promise.all(
    files.map((file) => import(join(folder, file)) as Promise<Record<string, new () => MigrationInterface>>),
  );
  return modules.flatMap((module) => Object.values(module));
}
