import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The first schema: people, library, vehicles and what happened to them, visits, and the record of every change. */
export class Start1764000000000 implements MigrationInterface {
  name = 'Start1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create extension if not exists pg_trgm;

      create table setting (
        id smallint primary key check (id = 1),
        "values" jsonb not null,
        version integer not null default 1 check (version > 0)
      );

      create table app_user (
        id uuid primary key default gen_random_uuid(),
        name text not null check (name = lower(name) and length(name) between 1 and 60),
        display_name text not null,
        role text not null check (role in ('mechanic', 'adviser', 'owner')),
        password_hash text not null,
        demo_password text,
        unique (name)
      );
      create table session (
        sid text primary key,
        data jsonb not null,
        expires_at timestamptz not null
      );
      create index session_expires on session (expires_at);
      create table sign_in_try (
        name text primary key,
        failures integer not null default 0 check (failures >= 0),
        last_at timestamptz not null
      );

      create table library_pack (
        key text primary key,
        title text not null,
        version text not null,
        licence text not null,
        loaded_at timestamptz not null default now()
      );
      create table maker (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        name text not null
      );
      create table authority (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        kind text not null check (kind in ('book', 'regional_book', 'bulletin', 'parts_maker', 'specialist', 'bench')),
        name text not null,
        region text
      );
      create table component (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        name text not null,
        class text not null check (
          class in ('rubber', 'plastic', 'chain', 'bearing', 'gasket', 'electronics', 'sensor', 'early')
        ),
        grp text not null check (grp in ('timing', 'seals', 'cooling', 'other'))
      );
      create table part (
        id uuid primary key default gen_random_uuid(),
        component_id uuid not null references component,
        number text not null unique,
        name text not null,
        grade text not null check (grade in ('original', 'equivalent', 'cheap')),
        revision text,
        how_to_tell text,
        supersedes text,
        price_minor integer check (price_minor >= 0)
      );
      create index part_component on part (component_id);
      create table engine_family (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        maker_id uuid not null references maker,
        code text not null,
        code_key text not null unique,
        name text not null,
        displacement_l double precision not null check (displacement_l > 0),
        fuel text not null check (fuel in ('petrol', 'diesel')),
        aspiration text not null check (aspiration in ('natural', 'turbo')),
        timing_drive text not null check (timing_drive in ('belt', 'chain', 'belt in oil', 'gears')),
        interference boolean not null,
        note text,
        search_text text not null
      );
      create index engine_family_search on engine_family using gin (search_text gin_trgm_ops);
      create index engine_family_code_near on engine_family using gin (code_key gin_trgm_ops);
      create index engine_family_maker on engine_family (maker_id);
      create table engine_variant (
        id uuid primary key default gen_random_uuid(),
        family_id uuid not null references engine_family,
        key text not null,
        name text not null,
        produced_from date,
        produced_to date,
        how_to_tell text,
        models jsonb not null default '[]',
        position smallint not null,
        unique (family_id, key),
        check (produced_from is null or produced_to is null or produced_from <= produced_to)
      );
      create table weak_point (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        family_id uuid not null references engine_family,
        component_id uuid not null references component,
        title text not null,
        consequence text not null check (
          consequence in ('engine', 'stranded', 'damage', 'leak', 'drivability', 'emissions', 'cosmetic')
        ),
        safety boolean not null,
        effect text not null,
        signs text not null,
        share double precision not null check (share > 0 and share <= 1),
        causes jsonb not null check (jsonb_typeof(causes) = 'array' and jsonb_array_length(causes) > 0),
        look jsonb,
        renew_minutes integer not null check (renew_minutes > 0),
        applies_to jsonb not null,
        retired_by_revision text,
        custom_km double precision check (custom_km > 0),
        position integer not null
      );
      create index weak_point_family on weak_point (family_id, position);
      create index weak_point_component on weak_point (component_id);
      create table statement (
        id uuid primary key default gen_random_uuid(),
        weak_point_id uuid not null references weak_point on delete cascade,
        authority_id uuid not null references authority,
        edition text,
        words text not null,
        "interval" jsonb not null,
        position smallint not null
      );
      create index statement_weak_point on statement (weak_point_id, position);

      create table library_state (
        id smallint primary key check (id = 1),
        revision bigint not null
      );
      insert into library_state values (1, 1);
      -- Whoever writes to the library, and however: what processes remember of it is known to be old.
      create function library_changed() returns trigger language plpgsql as $$
        begin update library_state set revision = revision + 1; return null; end $$;
      create trigger maker_changed after insert
        or update
        or delete
        or truncate on maker for each statement execute function library_changed();
      create trigger authority_changed after insert
        or update
        or delete
        or truncate on authority for each statement execute function library_changed();
      create trigger component_changed after insert
        or update
        or delete
        or truncate on component for each statement execute function library_changed();
      create trigger part_changed after insert
        or update
        or delete
        or truncate on part for each statement execute function library_changed();
      create trigger engine_family_changed after insert
        or update
        or delete
        or truncate on engine_family for each statement execute function library_changed();
      create trigger engine_variant_changed after insert
        or update
        or delete
        or truncate on engine_variant for each statement execute function library_changed();
      create trigger weak_point_changed after insert
        or update
        or delete
        or truncate on weak_point for each statement execute function library_changed();
      create trigger statement_changed after insert
        or update
        or delete
        or truncate on statement for each statement execute function library_changed();

      create table vehicle (
        id uuid primary key default gen_random_uuid(),
        plate text,
        plate_key text,
        name text,
        name_key text,
        model text,
        family_id uuid not null references engine_family,
        variant_key text,
        first_registered date,
        odometer_unit text not null check (odometer_unit in ('km', 'mi')),
        severity double precision not null default 1 check (severity between 0.2 and 5),
        note text,
        search_text text not null,
        version integer not null default 1 check (version > 0),
        retracted_at timestamptz,
        check (plate is not null or name is not null),
        foreign key (family_id, variant_key) references engine_variant (family_id, key)
      );
      create unique index vehicle_plate on vehicle (plate_key) where retracted_at is null and plate_key is not null;
      create index vehicle_name on vehicle (name_key) where retracted_at is null;
      create index vehicle_search on vehicle using gin (search_text gin_trgm_ops) where retracted_at is null;
      create index vehicle_order on vehicle ((coalesce(plate_key, name_key)), id) where retracted_at is null;
      create index vehicle_family on vehicle (family_id);
      create table meter_reading (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        day date not null,
        km double precision not null check (km >= 0 and km < 5000000),
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index meter_reading_vehicle on meter_reading (vehicle_id, day) where retracted_at is null;
      create table service_record (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        component_id uuid not null references component,
        visit_id uuid,
        certainty text not null check (certainty in ('done', 'believed', 'unknown', 'not_done')),
        day date,
        km double precision check (km >= 0),
        grade text not null check (grade in ('original', 'equivalent', 'cheap')),
        part_number text,
        revision text,
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz,
        check (day is not null or certainty in ('unknown', 'not_done'))
      );
      create index service_record_vehicle on service_record (vehicle_id, day) where retracted_at is null;
      create table finding (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        weak_point_id uuid not null references weak_point,
        visit_id uuid,
        day date not null,
        worn boolean not null,
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz
      );
      create index finding_vehicle on finding (vehicle_id, day) where retracted_at is null;
      create table visit (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        state text not null check (state in ('planned', 'done', 'called_off')),
        day date not null,
        km double precision not null check (km >= 0),
        note text,
        done_day date,
        done_km double precision check (done_km >= 0),
        version integer not null default 1 check (version > 0),
        retracted_at timestamptz,
        check ((state = 'done') = (done_day is not null) and (done_day is null) = (done_km is null))
      );
      create index visit_vehicle on visit (vehicle_id, day) where retracted_at is null;
      create index visit_coming on visit (day, id) where state = 'planned' and retracted_at is null;
      create table visit_job (
        id uuid primary key default gen_random_uuid(),
        visit_id uuid not null references visit,
        weak_point_id uuid not null references weak_point,
        action text not null check (action in ('renew', 'look')),
        grade text not null check (grade in ('original', 'equivalent', 'cheap')),
        part_number text,
        revision text,
        position smallint not null,
        retracted_at timestamptz
      );
      create unique index visit_job_once on visit_job (visit_id, weak_point_id) where retracted_at is null;
      alter table service_record add foreign key (visit_id) references visit;
      alter table finding add foreign key (visit_id) references visit;

      create table vehicle_standing (
        vehicle_id uuid primary key references vehicle on delete cascade,
        rank double precision not null,
        title text,
        verdict text check (verdict in ('hold', 'renew', 'look', 'ride_along', 'run_on', 'behind_it')),
        chance double precision check (chance between 0 and 1),
        due_day date,
        due_km double precision,
        others integer not null default 0,
        km double precision,
        as_of date not null,
        model_version integer not null
      );
      create index vehicle_standing_rank on vehicle_standing (rank, vehicle_id);
      create index vehicle_standing_as_of on vehicle_standing (as_of);

      create table change (
        id uuid primary key default gen_random_uuid(),
        at timestamptz not null default clock_timestamp(),
        user_id uuid not null references app_user,
        vehicle_id uuid references vehicle,
        summary text not null,
        undoes uuid unique references change
      );
      create index change_vehicle on change (vehicle_id, at desc);
      create table change_item (
        id bigint generated always as identity primary key,
        change_id uuid not null references change on delete cascade,
        entity text not null,
        entity_id text not null,
        before jsonb,
        after jsonb,
        check (before is not null or after is not null)
      );
      create index change_item_change on change_item (change_id, id);
    `);
  }

  down(): Promise<void> {
    return Promise.reject(new Error('There is nothing before the first schema; restore a backup instead.'));
  }
}
