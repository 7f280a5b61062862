/** Vehicles, their records, visits and walks, and every change that was made. */
export const VEHICLES = `
  create table vehicle (
    id uuid primary key default gen_random_uuid(),
    plate text,
    plate_key text,
    name text,
    name_key text,
    model text,
    family_id uuid not null references engine_family (id),
    variant_key text,
    first_registered date,
    odometer_unit text not null check (odometer_unit in ('km', 'mi', 'h')),
    severity double precision not null default 1 check (severity >= 0.2 and severity <= 5),
    note text,
    search_text text not null,
    version integer not null default 1 check (version > 0),
    retracted_at timestamptz,
    first_seen date,
    market text,
    serial bigint check (serial >= 0),
    features jsonb not null default '{}'::jsonb check (jsonb_typeof(features) = 'object'),
    fitted jsonb not null default '{}'::jsonb check (jsonb_typeof(fitted) = 'object'),
    duty jsonb not null default '{}'::jsonb check (jsonb_typeof(duty) = 'object'),
    contact text,
    planning jsonb,
    constraint vehicle_check check (plate is not null or name is not null),
    constraint vehicle_family_id_variant_key_fkey foreign key (family_id, variant_key) references
      engine_variant (family_id, key)
  );
  create index vehicle_family on vehicle (family_id);
  create index vehicle_name on vehicle (name_key) where retracted_at is null;
  create index vehicle_order on vehicle (coalesce(plate_key, name_key), id) where retracted_at is null;
  create unique index vehicle_plate on vehicle (plate_key) where (retracted_at is null) and (plate_key is
    not null);
  create index vehicle_search on vehicle using gin (search_text gin_trgm_ops) where retracted_at is null;

  create table meter_reading (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    day date not null,
    km double precision not null check (km >= 0 and km < 5000000),
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index meter_reading_vehicle on meter_reading (vehicle_id, day) where retracted_at is null;

  create table meter_change (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    day date not null,
    old_km double precision not null check (old_km >= 0),
    new_km double precision not null check (new_km >= 0),
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index meter_change_vehicle on meter_change (vehicle_id, day) where retracted_at is null;

  create table engine_swap (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    day date not null,
    engine_km double precision check (engine_km >= 0),
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index engine_swap_vehicle on engine_swap (vehicle_id, day) where retracted_at is null;

  create table change (
    id uuid primary key default gen_random_uuid(),
    at timestamptz not null default clock_timestamp(),
    user_id uuid not null references app_user (id),
    vehicle_id uuid references vehicle (id),
    summary text not null,
    undoes uuid unique references change (id)
  );
  create index change_vehicle on change (vehicle_id, at desc);

  create table change_item (
    id bigint generated always as identity primary key,
    change_id uuid not null references change (id) on delete cascade,
    entity text not null,
    entity_id text not null,
    before jsonb,
    after jsonb,
    constraint change_item_check check (before is not null or after is not null)
  );
  create index change_item_change on change_item (change_id, id);

  create table visit (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    state text not null check (state in ('planned', 'done', 'called_off')),
    day date not null,
    km double precision not null check (km >= 0),
    note text,
    done_day date,
    done_km double precision check (done_km >= 0),
    version integer not null default 1 check (version > 0),
    retracted_at timestamptz,
    constraint visit_check check (((state = 'done') = (done_day is not null)) and ((done_day is null) =
      (done_km is null)))
  );
  create index visit_coming on visit (day, id) where (state = 'planned') and (retracted_at is null);
  create index visit_vehicle on visit (vehicle_id, day) where retracted_at is null;

  create table visit_job (
    id uuid primary key default gen_random_uuid(),
    visit_id uuid not null references visit (id),
    weak_point_id uuid not null references weak_point (id),
    action text not null check (action in ('renew', 'look')),
    grade text not null check (grade in ('original', 'equivalent', 'cheap', 'used', 'rebuilt')),
    part_number text,
    revision text,
    "position" smallint not null,
    retracted_at timestamptz
  );
  create unique index visit_job_once on visit_job (visit_id, weak_point_id) where retracted_at is null;

  create table visit_task (
    id uuid primary key default gen_random_uuid(),
    visit_id uuid not null references visit (id),
    task_id uuid not null references upkeep_task (id),
    "position" integer not null,
    retracted_at timestamptz
  );
  create index visit_task_task on visit_task (task_id);
  create index visit_task_visit on visit_task (visit_id, "position") where retracted_at is null;

  create table service_record (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    component_id uuid not null references component (id),
    visit_id uuid references visit (id),
    certainty text not null check (certainty in ('done', 'believed', 'unknown', 'not_done')),
    day date,
    km double precision check (km >= 0),
    grade text not null check (grade in ('original', 'equivalent', 'cheap', 'used', 'rebuilt')),
    part_number text,
    revision text,
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz,
    source text check (source in ('own', 'invoice', 'stamp', 'owner', 'seller')),
    came_out text check (came_out in ('sound', 'worn', 'failed')),
    constraint service_record_check check (day is not null or certainty in ('unknown', 'not_done'))
  );
  create index service_record_vehicle on service_record (vehicle_id, day) where retracted_at is null;

  create table finding (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    weak_point_id uuid not null references weak_point (id),
    visit_id uuid references visit (id),
    day date not null,
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz,
    result text not null check (result in ('sound', 'worn', 'failed')),
    brought_in boolean not null default false,
    since_day date,
    grade text,
    measured double precision,
    unit text,
    constraint finding_check check (since_day is null or since_day < day),
    constraint finding_check1 check ((result = 'failed') or ((not brought_in) and (since_day is null)))
  );
  create index finding_point_vehicle on finding (vehicle_id, weak_point_id, day) where retracted_at is null;
  create index finding_vehicle on finding (vehicle_id, day) where retracted_at is null;
  create index finding_weak_point on finding (weak_point_id) where retracted_at is null;

  create table upkeep_record (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    task_id uuid not null references upkeep_task (id),
    visit_id uuid references visit (id),
    certainty text not null check (certainty in ('done', 'never')),
    day date not null,
    km double precision,
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index upkeep_record_task on upkeep_record (task_id);
  create index upkeep_record_vehicle on upkeep_record (vehicle_id, day) where retracted_at is null;
  create index upkeep_record_visit on upkeep_record (visit_id);

  create table walk (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    user_id uuid not null references app_user (id),
    day date not null,
    budget_minutes integer check (budget_minutes >= 1 and budget_minutes <= 600),
    items jsonb not null,
    created_at timestamptz not null default clock_timestamp(),
    ended_at timestamptz,
    version integer not null default 1 check (version > 0)
  );
  create unique index walk_open on walk (vehicle_id) where ended_at is null;
  create index walk_vehicle on walk (vehicle_id, created_at desc);

  create table walk_entry (
    id uuid primary key,
    walk_id uuid not null references walk (id) on delete cascade,
    weak_point_id uuid references weak_point (id),
    task_id uuid references upkeep_task (id),
    result text not null check (result in ('sound', 'worn', 'failed', 'unseen', 'done')),
    grade text,
    measured double precision,
    unit text,
    note text,
    made_at timestamptz not null,
    seen uuid,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    state text not null check (state in ('stands', 'held', 'dropped')),
    held_because text check (held_because in ('another_entry', 'renewed_meanwhile')),
    change_id uuid references change (id),
    finding_id uuid references finding (id),
    upkeep_id uuid references upkeep_record (id),
    constraint walk_entry_check check ((weak_point_id is null) <> (task_id is null)),
    constraint walk_entry_check1 check ((state = 'held') = (held_because is not null))
  );
  create index walk_entry_change on walk_entry (change_id);
  create index walk_entry_finding on walk_entry (finding_id);
  create index walk_entry_point on walk_entry (weak_point_id);
  create index walk_entry_task on walk_entry (task_id);
  create index walk_entry_upkeep on walk_entry (upkeep_id);
  create index walk_entry_walk on walk_entry (walk_id, created_at);

  create table school_choice (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    weak_point_id uuid references weak_point (id),
    school text not null check (school in ('book', 'early', 'condition', 'cost')),
    reason text not null check (length(reason) > 0),
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create unique index school_choice_once on school_choice (vehicle_id, coalesce(weak_point_id,
    '00000000-0000-0000-0000-000000000000'::uuid)) where retracted_at is null;

  create table symptom_report (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    symptom_id uuid references symptom (id),
    words text not null,
    condition text,
    day date not null,
    good_day date,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index symptom_report_symptom on symptom_report (symptom_id);
  create index symptom_report_vehicle on symptom_report (vehicle_id, day) where retracted_at is null;

  create table triage_answer (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    about text not null,
    words text not null,
    said boolean not null,
    day date not null,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index triage_answer_vehicle on triage_answer (vehicle_id, created_at) where retracted_at is null;

  create table triage_end (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    weak_point_id uuid references weak_point (id),
    outcome text not null check (outcome in ('proved', 'refuted', 'given_up')),
    symptoms jsonb not null,
    day date not null,
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index triage_end_point on triage_end (weak_point_id) where retracted_at is null;
  create index triage_end_vehicle on triage_end (vehicle_id, created_at) where retracted_at is null;

  create table photo (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    weak_point_id uuid references weak_point (id),
    task_id uuid references upkeep_task (id),
    entry_id uuid,
    user_id uuid not null references app_user (id),
    day date not null,
    width integer not null,
    height integer not null,
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz
  );
  create index photo_entry on photo (entry_id);
  create index photo_point on photo (weak_point_id);
  create index photo_task on photo (task_id);
  create index photo_vehicle on photo (vehicle_id, weak_point_id, day) where retracted_at is null;

  create table photo_file (
    id uuid primary key references photo (id) on delete cascade,
    picture bytea not null,
    thumbnail bytea not null
  );

  create table campaign_call (
    id uuid primary key default gen_random_uuid(),
    vehicle_id uuid not null references vehicle (id),
    weak_point_id uuid references weak_point (id) on delete cascade,
    notice_id uuid references notice (id) on delete cascade,
    day date not null,
    outcome text not null check (outcome in ('no_answer', 'thinking', 'coming', 'declined')),
    note text,
    user_id uuid not null references app_user (id),
    created_at timestamptz not null default clock_timestamp(),
    retracted_at timestamptz,
    constraint campaign_call_check check (num_nonnulls(weak_point_id, notice_id) = 1)
  );
  create index campaign_call_notice on campaign_call (notice_id);
  create index campaign_call_vehicle on campaign_call (vehicle_id, day desc) where retracted_at is null;
  create index campaign_call_weak_point on campaign_call (weak_point_id);
`;
