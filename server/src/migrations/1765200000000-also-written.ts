import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How else an engine's code is written, kept as it was told: it leaves with a pack as it came in with one. */
export class AlsoWritten1765200000000 implements MigrationInterface {
  name = 'AlsoWritten1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query("alter table engine_family add column also_written jsonb not null default '[]'");
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table engine_family drop column also_written');
  }
}
