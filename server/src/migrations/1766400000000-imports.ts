import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A spreadsheet that was imported is one change: what it wrote is counted, and is taken back as one. */
export class Imports1766400000000 implements MigrationInterface {
  name = 'Imports1766400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('alter table change add column intake_id uuid references intake_file (id)');
    await runner.query('create index change_intake on change (intake_id) where intake_id is not null');
    await runner.query(
      `alter table intake_file
        add column kept jsonb not null default '{}',
        add column undone_at timestamptz,
        add column undone_by uuid references app_user (id),
        add column left_standing integer`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      `alter table intake_file
        drop column kept, drop column undone_at, drop column undone_by, drop column left_standing`,
    );
    await runner.query('drop index change_intake');
    await runner.query('alter table change drop column intake_id');
  }
}
