import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What is done again and again: the tasks of an engine, what of them is on record of a vehicle and on its visits, and
 * how many are overdue. What is said of a task and what it protects stand with it, by key.
 */
export class Upkeep1764700000000 implements MigrationInterface {
  name = 'Upkeep1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table upkeep_task (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        family_id uuid not null references engine_family on delete cascade,
        kind text not null check (kind in ('look', 'measure', 'adjust', 'clean', 'fluid', 'renew')),
        title text not null,
        how text not null,
        minutes integer not null check (minutes > 0),
        owner_can boolean not null default false,
        season text check (season in ('spring', 'summer', 'autumn', 'winter')),
        applies_to jsonb not null default '{}',
        says jsonb not null default '[]',
        protects jsonb not null default '[]',
        cautions jsonb not null default '[]',
        position integer not null,
        state text not null default 'current' check (state in ('current', 'withdrawn')),
        written_by uuid references app_user,
        version integer not null default 1 check (version > 0),
        pack_key text
      );
      create index upkeep_task_family on upkeep_task (family_id, position);
      create index upkeep_task_pack on upkeep_task (pack_key);

      create table upkeep_record (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        task_id uuid not null references upkeep_task,
        visit_id uuid references visit,
        certainty text not null check (certainty in ('done', 'never')),
        day date not null,
        km double precision,
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index upkeep_record_vehicle on upkeep_record (vehicle_id, day) where retracted_at is null;
      create index upkeep_record_task on upkeep_record (task_id);
      create index upkeep_record_visit on upkeep_record (visit_id);

      create table visit_task (
        id uuid primary key default gen_random_uuid(),
        visit_id uuid not null references visit,
        task_id uuid not null references upkeep_task,
        position integer not null,
        retracted_at timestamptz
      );
      create index visit_task_visit on visit_task (visit_id, position) where retracted_at is null;
      create index visit_task_task on visit_task (task_id);

      alter table vehicle_standing
        add column upkeep_overdue integer not null default 0,
        add column upkeep_title text,
        add column upkeep_due date;
      alter table intake_file
        drop constraint intake_file_kind_check,
        add constraint intake_file_kind_check
          check (kind in ('vehicles', 'readings', 'services', 'findings', 'upkeep'));

      create function upkeep_task_known() returns trigger language plpgsql as $$
        begin update family_state
        set revision = revision + 1
        where family_id in (select family_id from changed); return null; end $$;
      create trigger upkeep_task_added after insert on upkeep_task referencing new table as changed
        for each statement execute function upkeep_task_known();
      create trigger upkeep_task_altered after update on upkeep_task referencing new table as changed
        for each statement execute function upkeep_task_known();
      create trigger upkeep_task_taken after delete on upkeep_task referencing old table as changed
        for each statement execute function upkeep_task_known();
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      delete from intake_file where kind = 'upkeep';
      alter table intake_file
        drop constraint intake_file_kind_check,
        add constraint intake_file_kind_check check (kind in ('vehicles', 'readings', 'services', 'findings'));
      alter table vehicle_standing
        drop column upkeep_overdue,
        drop column upkeep_title,
        drop column upkeep_due;
      drop table visit_task;
      drop table upkeep_record;
      drop table upkeep_task;
      drop function upkeep_task_known();
    `);
  }
}
