import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Forms that were sent, tries to sign in by name and by address, and lives of what wears, which have no immune share.
 */
export class Safe1764500000000 implements MigrationInterface {
  name = 'Safe1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table sent_once (
        user_id uuid not null references app_user on delete cascade,
        sending text not null,
        answer jsonb,
        at timestamptz not null default clock_timestamp(),
        primary key (user_id, sending)
      );
      create index sent_once_at on sent_once (at);

      drop table sign_in_try;
      create table sign_in_try (
        what text not null check (what in ('pair', 'address', 'name')),
        who text not null,
        tries integer not null check (tries >= 0),
        last_at timestamptz not null,
        -- when the next one is let through
        next_at timestamptz not null,
        primary key (what, who)
      );
      create index sign_in_try_at on sign_in_try (last_at);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table sent_once;
      drop table sign_in_try;
      create table sign_in_try (
        name text primary key, failures integer not null check (failures > 0), last_at timestamptz not null
      );
    `);
  }
}
