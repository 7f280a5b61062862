import type { MigrationInterface, QueryRunner } from 'typeorm';

const PLACES = "('inside', 'top', 'front', 'rear', 'underneath', 'opened', 'road')";
const SPOTS = `('timing_end', 'gearbox_end', 'head', 'valley', 'intake_side', 'exhaust_side', 'block', 'pan',
        'radiator', 'cabin')`;

/**
 * The walk round a vehicle: where things are, what was found on the way with its photos, what a customer reports, and
 * how its cause was searched for.
 */
export class Walk1765000000000 implements MigrationInterface {
  name = 'Walk1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table engine_family
        add column layout jsonb,
        add column checks jsonb not null default '[]';
      alter table symptom add column stop text;
      alter table upkeep_task
        add column place text check (place in ${PLACES}),
        add column spot text check (spot in ${SPOTS});

      create table walk (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        user_id uuid not null references app_user,
        day date not null,
        budget_minutes integer check (budget_minutes between 1 and 600),
        -- What was on the sheet when it began, in its order, with the chance of each as it was then.
        items jsonb not null,
        created_at timestamptz not null default clock_timestamp(),
        ended_at timestamptz,
        version integer not null default 1 check (version > 0)
      );
      create index walk_vehicle on walk (vehicle_id, created_at desc);
      -- One walk round a vehicle at a time: who begins another joins it.
      create unique index walk_open on walk (vehicle_id) where ended_at is null;

      alter table finding
        add column grade text,
        add column measured double precision,
        add column unit text;
      create index finding_point_vehicle on finding (vehicle_id, weak_point_id, day) where retracted_at is null;

      create table walk_entry (
        -- Made by the device on which it was tapped, so that it is written once however often it is sent.
        id uuid primary key,
        walk_id uuid not null references walk on delete cascade,
        weak_point_id uuid references weak_point,
        task_id uuid references upkeep_task,
        result text not null check (result in ('sound', 'worn', 'failed', 'unseen', 'done')),
        grade text,
        measured double precision,
        unit text,
        note text,
        -- When it was tapped; and the entry that the device had last seen for the same thing.
        made_at timestamptz not null,
        seen uuid,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        state text not null check (state in ('stands', 'held', 'dropped')),
        held_because text check (held_because in ('another_entry', 'renewed_meanwhile')),
        -- The record of the vehicle that it became, and the change that wrote it.
        change_id uuid references change,
        finding_id uuid references finding,
        upkeep_id uuid references upkeep_record,
        check ((weak_point_id is null) <> (task_id is null)),
        check ((state = 'held') = (held_because is not null))
      );
      create index walk_entry_walk on walk_entry (walk_id, created_at);
      create index walk_entry_change on walk_entry (change_id);
      create index walk_entry_finding on walk_entry (finding_id);
      create index walk_entry_upkeep on walk_entry (upkeep_id);
      create index walk_entry_point on walk_entry (weak_point_id);
      create index walk_entry_task on walk_entry (task_id);

      create table photo (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        weak_point_id uuid references weak_point,
        task_id uuid references upkeep_task,
        entry_id uuid,
        user_id uuid not null references app_user,
        day date not null,
        width integer not null,
        height integer not null,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create table photo_file (
        id uuid primary key references photo on delete cascade,
        picture bytea not null,
        thumbnail bytea not null
      );
      create index photo_vehicle on photo (vehicle_id, weak_point_id, day) where retracted_at is null;
      create index photo_entry on photo (entry_id);
      create index photo_point on photo (weak_point_id);
      create index photo_task on photo (task_id);

      create table symptom_report (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        symptom_id uuid references symptom,
        words text not null,
        condition text,
        day date not null,
        -- The last day on which it is known not to have shown.
        good_day date,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index symptom_report_vehicle on symptom_report (vehicle_id, day) where retracted_at is null;
      create index symptom_report_symptom on symptom_report (symptom_id);

      create table triage_answer (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        -- What was asked, by its key: a check of the engine, a look, another symptom.
        about text not null,
        words text not null,
        said boolean not null,
        day date not null,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index triage_answer_vehicle on triage_answer (vehicle_id, created_at) where retracted_at is null;

      create table triage_end (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        -- The explanation that the repair spoke of; null: something that is not listed.
        weak_point_id uuid references weak_point,
        outcome text not null check (outcome in ('proved', 'refuted', 'given_up')),
        symptoms jsonb not null,
        day date not null,
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index triage_end_vehicle on triage_end (vehicle_id, created_at) where retracted_at is null;
      create index triage_end_point on triage_end (weak_point_id) where retracted_at is null;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table triage_end;
      drop table triage_answer;
      drop table symptom_report;
      drop table photo_file;
      drop table photo;
      drop table walk_entry;
      drop index finding_point_vehicle;
      alter table finding
        drop column grade,
        drop column measured,
        drop column unit;
      drop table walk;
      alter table upkeep_task
        drop column place,
        drop column spot;
      alter table symptom drop column stop;
      alter table engine_family
        drop column layout,
        drop column checks;
    `);
  }
}
