import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A published interval may allow no exception; a doubted one cannot. */
export class NoException1766800000000 implements MigrationInterface {
  name = 'NoException1766800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `alter table statement add column always boolean not null default false,
        add constraint statement_always_check check (not (always and doubted))`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table statement drop column always');
  }
}
