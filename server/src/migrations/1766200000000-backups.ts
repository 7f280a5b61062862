import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who began a backup, where somebody did. */
export class Backups1766200000000 implements MigrationInterface {
  name = 'Backups1766200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('alter table backup_run add column user_id uuid references app_user (id) on delete set null');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('alter table backup_run drop column user_id');
  }
}
