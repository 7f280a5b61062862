/** Judgements of the fleet, and what the workshop’s own parts taught. */
export const JUDGEMENT = `
  create table vehicle_standing (
    vehicle_id uuid primary key references vehicle (id) on delete cascade,
    rank double precision not null,
    title text,
    verdict text check (verdict in ('hold', 'renew', 'look', 'ride_along', 'watch', 'run_on', 'behind_it')),
    chance double precision check (chance >= 0 and chance <= 1),
    due_day date,
    due_km double precision,
    others integer not null default 0,
    km double precision,
    as_of date not null,
    model_version integer not null,
    most_chance double precision not null default 0,
    family_revision bigint not null default 0,
    settings_version integer not null default 0,
    judged_at timestamptz not null default clock_timestamp(),
    km_per_day double precision,
    upkeep_overdue integer not null default 0,
    upkeep_title text,
    upkeep_due date,
    if_first double precision check (if_first >= 0 and if_first <= 1)
  );
  create index vehicle_standing_as_of on vehicle_standing (as_of);
  create index vehicle_standing_chance on vehicle_standing (most_chance desc, vehicle_id);
  create index vehicle_standing_rank on vehicle_standing (rank, vehicle_id);

  create table judgement (
    vehicle_id uuid not null,
    weak_point_id uuid not null,
    consequence text not null,
    verdict text not null check (verdict in ('hold', 'renew', 'look', 'ride_along', 'watch', 'run_on',
      'behind_it')),
    chance double precision not null check (chance >= 0 and chance <= 1),
    due_day date,
    band smallint generated always as (width_bucket(chance, array[
      0.01::double precision, 0.03::double precision, 0.08::double precision, 0.25::double precision
    ])) stored,
    primary key (vehicle_id, weak_point_id)
  ) with (fillfactor='75');
  create index judgement_consequence on judgement (consequence, band);
  create index judgement_due on judgement (due_day) where verdict in ('hold', 'renew', 'look');
  create index judgement_weak_point on judgement (weak_point_id);

  create table fleet_run (
    id uuid primary key default gen_random_uuid(),
    reason text not null,
    state text not null check (state in ('running', 'done', 'stopped')),
    total integer not null,
    done integer not null default 0,
    started_at timestamptz not null default clock_timestamp(),
    touched_at timestamptz not null default clock_timestamp(),
    finished_at timestamptz,
    constraint fleet_run_check check ((state = 'running') = (finished_at is null))
  );
  create unique index fleet_run_one on fleet_run (state) where state = 'running';
  create index fleet_run_started on fleet_run (started_at desc);

  create table observation (
    vehicle_id uuid not null references vehicle (id) on delete cascade,
    weak_point_id uuid not null references weak_point (id) on delete cascade,
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

  create table observation_due (
    vehicle_id uuid primary key references vehicle (id) on delete cascade
  );

  create table experience (
    weak_point_id uuid primary key references weak_point (id) on delete cascade,
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
  create index experience_apart on experience (apart desc, weak_point_id);
  create index experience_failures on experience (failures desc, parts desc, weak_point_id);
  create index experience_parts on experience (parts desc, weak_point_id);

  create table experience_due (
    weak_point_id uuid primary key references weak_point (id) on delete cascade
  );
`;
