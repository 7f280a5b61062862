import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What the visits of a vehicle are planned by: until when it is kept, what it is worth, budgets, a trip; what falls due
 * by weeks; what work loses, what comes after it, and its minutes by variant.
 */
export class Planning1765100000000 implements MigrationInterface {
  name = 'Planning1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table vehicle add column planning jsonb;
      alter table labour_operation
        add column fluids jsonb not null default '[]',
        add column afterwards jsonb not null default '[]',
        -- By the key of a variant, where its minutes differ.
        add column minutes_by jsonb not null default '{}';
      -- What falls due in the coming weeks, over all vehicles.
      create index judgement_due on judgement (due_day) where verdict in ('hold', 'renew', 'look');
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop index judgement_due;
      alter table labour_operation drop column fluids, drop column afterwards, drop column minutes_by;
      alter table vehicle drop column planning;
    `);
  }
}
