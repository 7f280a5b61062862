import type { MigrationInterface, QueryRunner } from 'typeorm';
import { JUDGEMENT } from './baseline/judgement.ts';
import { LIBRARY } from './baseline/library.ts';
import { SHOP } from './baseline/shop.ts';
import { TRIGGERS } from './baseline/triggers.ts';
import { VEHICLES } from './baseline/vehicles.ts';

/** The last migration of the development before the baseline; a database that has it has this schema. */
const BEFORE = 'AlsoWritten1765200000000';

/** The whole schema. Later migrations alter it; this one is never changed. */
export class Baseline1766000000000 implements MigrationInterface {
  name = 'Baseline1766000000000';

  async up(runner: QueryRunner): Promise<void> {
    const before = (await runner.query('select name from migrations')) as { name: string }[];
    if (before.some(({ name }) => name === BEFORE)) return;
    if (before.length > 0)
      throw new Error(
        'This database is from an early development version and cannot be brought up to date. ' +
          'Save what you need from it, then start on an empty database.',
      );
    await runner.query('create extension if not exists pg_trgm');
    for (const part of [SHOP, LIBRARY, VEHICLES, JUDGEMENT, TRIGGERS]) await runner.query(part);
  }

  /** There is nothing before it to go back to. */
  down(): Promise<void> {
    return Promise.reject(new Error('The first schema is not taken back; drop the database instead.'));
  }
}
