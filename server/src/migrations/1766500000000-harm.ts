import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a symptom and a weak point forbid, and how far a vehicle with a symptom may be driven. */
export class Harm1766500000000 implements MigrationInterface {
  name = 'Harm1766500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query("alter table symptom add column drive text, add column forbids jsonb not null default '[]'");
    await runner.query("alter table weak_point add column forbids jsonb not null default '[]'");
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table symptom drop column drive, drop column forbids');
    await runner.query('alter table weak_point drop column forbids');
  }
}
