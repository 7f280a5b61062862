import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Notes from the bay to the desk. */
export class Desk1766100000000 implements MigrationInterface {
  name = 'Desk1766100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table desk_note (
        id uuid primary key,
        vehicle_id uuid not null references vehicle (id),
        day date not null,
        about text check (length(about) <= 200),
        words text not null check (length(words) between 1 and 2000),
        user_id uuid not null references app_user (id),
        made_at timestamptz not null,
        created_at timestamptz not null default clock_timestamp(),
        settled_at timestamptz,
        settled_by uuid references app_user (id),
        check ((settled_at is null) = (settled_by is null))
      );
      create index desk_note_open on desk_note (created_at) where settled_at is null;
      create index desk_note_vehicle on desk_note (vehicle_id, created_at);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table desk_note');
  }
}
