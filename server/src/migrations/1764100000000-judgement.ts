import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables whose rows make up what is known of an engine family, with how a changed row names its family. */
const FAMILY_TABLES: Readonly<Record<string, string>> = {
  weak_point: 'select family_id from changed',
  engine_variant: 'select family_id from changed',
  family_feature: 'select family_id from changed',
  experience: 'select w.family_id from weak_point w where w.id in (select weak_point_id from changed)',
  statement: 'select w.family_id from weak_point w where w.id in (select weak_point_id from changed)',
  component: 'select w.family_id from weak_point w where w.component_id in (select id from changed)',
  part: 'select w.family_id from weak_point w where w.component_id in (select component_id from changed)',
  authority: `select w.family_id
      from weak_point w
      join statement s on s.weak_point_id = w.id
      where s.authority_id in (select id from changed)`,
};

/**
 * Evidence of what a vehicle is, history as it is, the workshop's own experience, and the stored judgement of every
 * vehicle.
 */
export class Judgement1764100000000 implements MigrationInterface {
  name = 'Judgement1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table component add column fitted_to text not null default 'engine' check (fitted_to in ('engine', 'vehicle'));
      alter table statement add column doubted boolean not null default false;
      alter table engine_variant add column serial_from bigint check (serial_from >= 0),
        add column serial_to bigint check (serial_to >= 0),
        add check (serial_from is null or serial_to is null or serial_from <= serial_to);
      create table family_feature (
        family_id uuid not null references engine_family,
        key text not null,
        name text not null,
        how_to_tell text,
        share double precision not null check (share > 0 and share < 1),
        position smallint not null,
        primary key (family_id, key)
      );

      alter table vehicle
        add column first_seen date,
        add column market text,
        add column serial bigint check (serial >= 0),
        add column features jsonb not null default '{}' check (jsonb_typeof(features) = 'object'),
        add column fitted jsonb not null default '{}' check (jsonb_typeof(fitted) = 'object'),
        add column duty jsonb not null default '{}' check (jsonb_typeof(duty) = 'object'),
        drop constraint vehicle_odometer_unit_check,
        add check (odometer_unit in ('km', 'mi', 'h'));
      create table meter_change (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        day date not null,
        old_km double precision not null check (old_km >= 0),
        new_km double precision not null check (new_km >= 0),
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index meter_change_vehicle on meter_change (vehicle_id, day) where retracted_at is null;
      create table engine_swap (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        day date not null,
        engine_km double precision check (engine_km >= 0),
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index engine_swap_vehicle on engine_swap (vehicle_id, day) where retracted_at is null;
      create table school_choice (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        weak_point_id uuid references weak_point,
        school text not null check (school in ('book', 'early', 'condition', 'cost')),
        reason text not null check (length(reason) > 0),
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create unique index school_choice_once on school_choice (
        vehicle_id, coalesce(weak_point_id, '00000000-0000-0000-0000-000000000000')
      )
      where retracted_at is null;

      alter table service_record
        add column source text check (source in ('own', 'invoice', 'stamp', 'owner', 'seller')),
        add column came_out text check (came_out in ('sound', 'worn', 'failed'));
      alter table finding
        add column result text check (result in ('sound', 'worn', 'failed')),
        add column brought_in boolean not null default false,
        add column since_day date,
        add check (since_day is null or since_day < day),
        add check (result = 'failed' or (not brought_in and since_day is null));
      update finding set result = case when worn then 'worn' else 'sound' end;
      alter table finding alter column result set not null, drop column worn;
      -- What the trail remembers of findings speaks the new words too, so that it can still be undone.
      update change_item set
        before = case
          when before ? 'worn' then (before - 'worn') || jsonb_build_object(
            'result', case when (before ->> 'worn')::boolean then 'worn' else 'sound' end, 'broughtIn', false,
              'sinceDay', null
          )
          else before
        end,
        after = case
          when after ? 'worn' then (after - 'worn') || jsonb_build_object(
            'result', case when (after ->> 'worn')::boolean then 'worn' else 'sound' end, 'broughtIn', false,
              'sinceDay', null
          )
          else after
        end
        where entity = 'finding';
      create index finding_weak_point on finding (weak_point_id) where retracted_at is null;

      -- Each part that this workshop watched, counted once, as read off its vehicle's records.
      create table observation (
        vehicle_id uuid not null references vehicle on delete cascade,
        weak_point_id uuid not null references weak_point on delete cascade,
        ordinal smallint not null,
        kind text not null check (kind in ('exact', 'right', 'interval', 'worn')),
        brought_in boolean not null,
        install_day date not null,
        end_day date not null,
        km double precision not null,
        seen jsonb not null,
        primary key (vehicle_id, weak_point_id, ordinal)
      );
      create index observation_weak_point on observation (weak_point_id, vehicle_id);
      create table experience (
        weak_point_id uuid primary key references weak_point on delete cascade,
        vehicles integer not null,
        parts integer not null,
        failures integer not null,
        worn integer not null,
        brought_in integer not null,
        apart double precision not null,
        summary jsonb not null,
        model_version integer not null,
        computed_at timestamptz not null default clock_timestamp()
      );
      -- Figures that are behind their observations; whoever brings one up to date takes it out.
      create table experience_due (weak_point_id uuid primary key references weak_point on delete cascade);
      create index experience_failures on experience (failures desc, parts desc, weak_point_id);
      create index experience_apart on experience (apart desc, weak_point_id);
      create index experience_parts on experience (parts desc, weak_point_id);

      -- One number for everything known of a family; whoever changes any of it, and however, what was judged by the old is known to be old.
      create table family_state (
        family_id uuid primary key references engine_family on delete cascade,
        revision bigint not null default 1
      );
      insert into family_state (family_id) select id from engine_family;
      create function family_born() returns trigger language plpgsql as $$
        begin insert into family_state (family_id) select id from changed on conflict do nothing; return null; end $$;
      create trigger family_born after insert on engine_family referencing new table as changed
        for each statement execute function family_born();
      create function family_altered() returns trigger language plpgsql as $$
        begin update family_state
        set revision = revision + 1
        where family_id in (select id from changed); return null; end $$;
      create trigger family_altered after update on engine_family referencing new table as changed
        for each statement execute function family_altered();
      drop function library_changed() cascade;
      drop table library_state;

      -- Worked out anew whenever anything changes, and a million rows at a time: foreign keys on it would cost more than the judging itself.
      create table judgement (
        vehicle_id uuid not null,
        weak_point_id uuid not null,
        consequence text not null,
        verdict text not null check (verdict in ('hold', 'renew', 'look', 'ride_along', 'run_on', 'behind_it')),
        chance double precision not null check (chance between 0 and 1),
        due_day date,
        primary key (vehicle_id, weak_point_id)
      );
      create index judgement_weak_point on judgement (weak_point_id, chance desc);
      create index judgement_consequence on judgement (consequence, chance desc);

      alter table vehicle_standing
        add column most_chance double precision not null default 0,
        add column family_revision bigint not null default 0,
        add column settings_version integer not null default 0,
        add column judged_at timestamptz not null default clock_timestamp();
      create index vehicle_standing_chance on vehicle_standing (most_chance desc, vehicle_id);

      create table fleet_run (
        id uuid primary key default gen_random_uuid(),
        reason text not null,
        state text not null check (state in ('running', 'done', 'stopped')),
        total integer not null,
        done integer not null default 0,
        started_at timestamptz not null default clock_timestamp(),
        touched_at timestamptz not null default clock_timestamp(),
        finished_at timestamptz,
        check ((state = 'running') = (finished_at is null))
      );
      create index fleet_run_started on fleet_run (started_at desc);
      create unique index fleet_run_one on fleet_run (state) where state = 'running';
    `);
    for (const [table, families] of Object.entries(FAMILY_TABLES)) {
      await runner.query(`
        create function ${table}_known() returns trigger language plpgsql as $$
          begin update family_state set revision = revision + 1 where family_id in (${families}); return null; end $$;
        create trigger ${table}_added after insert on ${table} referencing new table as changed
          for each statement execute function ${table}_known();
        create trigger ${table}_altered after update on ${table} referencing new table as changed
          for each statement execute function ${table}_known();
        create trigger ${table}_taken after delete on ${table} referencing old table as changed
          for each statement execute function ${table}_known();
      `);
    }
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Judgements cannot be taken out of the schema; restore a backup instead.'));
  }
}
