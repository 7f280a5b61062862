import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the visits of a vehicle are planned by: until when it is kept, what it is worth, budgets, a trip; and what falls due by weeks. */
export class Planning1765100000000 implements MigrationInterface {
  name = 'Planning1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table vehicle add column planning jsonb;
      -- What falls due in the coming weeks, over all vehicles.
      create index judgement_due on judgement (due_day) where verdict in ('hold', 'renew', 'look');
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop index judgement_due;
      alter table vehicle drop column planning;
    `);
  }
}
