/** The library: packs, engines, components, weak points, operations, recurring tasks and notices. */
export const LIBRARY = `
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
    name text not null,
    pack_key text
  );

  create table authority (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    kind text not null check (kind in ('book', 'regional_book', 'bulletin', 'parts_maker', 'specialist',
      'bench')),
    name text not null,
    region text,
    pack_key text
  );
  create index authority_name on authority (name, id);

  create table component (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    name text not null,
    class text not null check (class in ('rubber', 'plastic', 'chain', 'bearing', 'gasket', 'electronics',
      'sensor', 'early')),
    grp text not null check (grp in ('timing', 'seals', 'cooling', 'other')),
    fitted_to text not null default 'engine' check (fitted_to in ('engine', 'vehicle')),
    pack_key text
  );
  create index component_name on component (name, id);

  create table part (
    id uuid primary key default gen_random_uuid(),
    component_id uuid not null references component (id),
    number text not null unique,
    name text not null,
    grade text not null check (grade in ('original', 'equivalent', 'cheap', 'used', 'rebuilt')),
    revision text,
    how_to_tell text,
    supersedes text,
    price_minor integer check (price_minor >= 0),
    pack_key text
  );
  create index part_component on part (component_id);

  create table tool (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    name text not null,
    without_it text,
    pack_key text
  );

  create table caution (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    words text not null,
    pack_key text
  );

  create table symptom (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    words text not null,
    codes jsonb not null default '[]'::jsonb,
    tells text,
    pack_key text,
    stop text
  );
  create index symptom_words on symptom using gin (lower(words) gin_trgm_ops);

  create table engine_family (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    maker_id uuid not null references maker (id),
    code text not null,
    code_key text not null unique,
    name text not null,
    displacement_l double precision not null check (displacement_l > 0),
    fuel text not null check (fuel in ('petrol', 'diesel')),
    aspiration text not null check (aspiration in ('natural', 'turbo')),
    timing_drive text not null check (timing_drive in ('belt', 'chain', 'belt in oil', 'gears')),
    interference boolean not null,
    note text,
    search_text text not null,
    pack_key text,
    layout jsonb,
    checks jsonb not null default '[]'::jsonb,
    also_written jsonb not null default '[]'::jsonb
  );
  create index engine_family_code_near on engine_family using gin (code_key gin_trgm_ops);
  create index engine_family_maker on engine_family (maker_id);
  create index engine_family_pack on engine_family (pack_key);
  create index engine_family_search on engine_family using gin (search_text gin_trgm_ops);

  create table family_state (
    family_id uuid primary key references engine_family (id) on delete cascade,
    revision bigint not null default 1
  );

  create table engine_variant (
    id uuid primary key default gen_random_uuid(),
    family_id uuid not null references engine_family (id),
    key text not null,
    name text not null,
    produced_from date,
    produced_to date,
    how_to_tell text,
    models jsonb not null default '[]'::jsonb,
    "position" smallint not null,
    serial_from bigint check (serial_from >= 0),
    serial_to bigint check (serial_to >= 0),
    pack_key text,
    constraint engine_variant_check check (produced_from is null or produced_to is null or produced_from <=
      produced_to),
    constraint engine_variant_check1 check (serial_from is null or serial_to is null or serial_from <=
      serial_to),
    constraint engine_variant_family_id_key_key unique (family_id, key)
  );

  create table family_feature (
    family_id uuid not null references engine_family (id),
    key text not null,
    name text not null,
    how_to_tell text,
    share double precision not null check (share > 0 and share < 1),
    "position" smallint not null,
    pack_key text,
    id uuid not null default gen_random_uuid() unique,
    primary key (family_id, key)
  );

  create table labour_operation (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    family_id uuid not null references engine_family (id),
    name text not null,
    minutes integer not null check (minutes > 0),
    "position" smallint not null,
    pack_key text,
    renew_with jsonb not null default '[]'::jsonb,
    one_time jsonb not null default '[]'::jsonb,
    fluids jsonb not null default '[]'::jsonb,
    afterwards jsonb not null default '[]'::jsonb,
    minutes_by jsonb not null default '{}'::jsonb
  );
  create index labour_operation_family on labour_operation (family_id, "position");

  create table operation_need (
    id uuid primary key default gen_random_uuid(),
    operation_id uuid not null references labour_operation (id) on delete cascade,
    needs_id uuid not null references labour_operation (id) on delete cascade,
    constraint operation_need_check check (operation_id <> needs_id),
    constraint operation_need_operation_id_needs_id_key unique (operation_id, needs_id)
  );
  create index operation_need_needs on operation_need (needs_id);

  create table operation_tool (
    id uuid primary key default gen_random_uuid(),
    operation_id uuid not null references labour_operation (id) on delete cascade,
    tool_id uuid not null references tool (id),
    constraint operation_tool_operation_id_tool_id_key unique (operation_id, tool_id)
  );
  create index operation_tool_tool on operation_tool (tool_id);

  create table operation_caution (
    id uuid primary key default gen_random_uuid(),
    operation_id uuid not null references labour_operation (id) on delete cascade,
    caution_id uuid not null references caution (id),
    constraint operation_caution_operation_id_caution_id_key unique (operation_id, caution_id)
  );
  create index operation_caution_caution on operation_caution (caution_id);

  create table weak_point (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    family_id uuid not null references engine_family (id),
    component_id uuid not null references component (id),
    title text not null,
    consequence text not null check (consequence in ('engine', 'stranded', 'damage', 'leak', 'drivability',
      'emissions', 'cosmetic')),
    safety boolean not null,
    effect text not null,
    signs text not null,
    share double precision not null check (share > 0 and share <= 1),
    causes jsonb not null check (jsonb_typeof(causes) = 'array' and jsonb_array_length(causes) > 0),
    look jsonb,
    renew_minutes integer not null check (renew_minutes > 0),
    applies_to jsonb not null,
    retired_by_revision text,
    "position" integer not null,
    pack_key text,
    operation_id uuid references labour_operation (id) on delete set null,
    state text not null default 'published' check (state in ('draft', 'review', 'published', 'superseded',
      'retired')),
    superseded_by uuid references weak_point (id) on delete set null,
    retired_from date,
    written_by uuid references app_user (id),
    version integer not null default 1 check (version > 0),
    search_text text not null default '',
    nature text not null default 'wear' check (nature in ('wear', 'defect')),
    watch jsonb,
    damages jsonb not null default '[]'::jsonb,
    symptoms jsonb not null default '[]'::jsonb,
    failure jsonb,
    hastens jsonb not null default '[]'::jsonb,
    revisions jsonb not null default '[]'::jsonb,
    not_told jsonb not null default '[]'::jsonb,
    constraint weak_point_check check ((state = 'retired') = (retired_from is not null))
  );
  create index weak_point_component on weak_point (component_id);
  create index weak_point_family on weak_point (family_id, "position");
  create index weak_point_operation on weak_point (operation_id);
  create index weak_point_pack on weak_point (pack_key, state);
  create index weak_point_search on weak_point using gin (search_text gin_trgm_ops);
  create index weak_point_state on weak_point (state, title);
  create index weak_point_symptoms on weak_point using gin (symptoms jsonb_path_ops);
  create index weak_point_title on weak_point (title, id);

  create table statement (
    id uuid primary key default gen_random_uuid(),
    weak_point_id uuid not null references weak_point (id) on delete cascade,
    authority_id uuid not null references authority (id),
    edition text,
    words text not null,
    "interval" jsonb not null,
    "position" smallint not null,
    doubted boolean not null default false,
    strength text check (strength in ('counted', 'practice', 'hearsay')),
    asks text not null default 'renew' check (asks in ('renew', 'look'))
  );
  create unique index statement_place on statement (weak_point_id, "position");
  create index statement_weak_point on statement (weak_point_id, "position");

  create table upkeep_task (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    family_id uuid not null references engine_family (id) on delete cascade,
    kind text not null check (kind in ('look', 'measure', 'adjust', 'clean', 'fluid', 'renew')),
    title text not null,
    how text not null,
    minutes integer not null check (minutes > 0),
    owner_can boolean not null default false,
    season text check (season in ('spring', 'summer', 'autumn', 'winter')),
    applies_to jsonb not null default '{}'::jsonb,
    says jsonb not null default '[]'::jsonb,
    protects jsonb not null default '[]'::jsonb,
    cautions jsonb not null default '[]'::jsonb,
    "position" integer not null,
    state text not null default 'current' check (state in ('current', 'withdrawn')),
    written_by uuid references app_user (id),
    version integer not null default 1 check (version > 0),
    pack_key text,
    place text check (place in ('inside', 'top', 'front', 'rear', 'underneath', 'opened', 'road')),
    spot text check (spot in ('timing_end', 'gearbox_end', 'head', 'valley', 'intake_side', 'exhaust_side',
      'block', 'pan', 'radiator', 'cabin'))
  );
  create index upkeep_task_family on upkeep_task (family_id, "position");
  create index upkeep_task_pack on upkeep_task (pack_key);

  create table notice (
    id uuid primary key default gen_random_uuid(),
    key text not null unique,
    kind text not null check (kind in ('bulletin', 'coverage')),
    authority_id uuid not null references authority (id),
    number text not null,
    title text not null,
    words text not null,
    issued date not null,
    asks text not null check (asks in ('look', 'renew')),
    produced_from date,
    produced_to date,
    covered_days integer check (covered_days > 0),
    covered_km double precision check (covered_km > 0),
    ends_on date,
    state text not null default 'current' check (state in ('current', 'withdrawn')),
    written_by uuid references app_user (id),
    version integer not null default 1 check (version > 0),
    pack_key text,
    models jsonb not null default '[]'::jsonb,
    pays double precision check (pays > 0 and pays <= 1),
    constraint notice_check check ((kind = 'coverage') = ((covered_days is not null) or (covered_km is not
      null) or (ends_on is not null)))
  );
  create index notice_issued on notice (issued desc, id);
  create unique index notice_number on notice (authority_id, lower(number));
  create index notice_pack on notice (pack_key, state);
  create index notice_search on notice using gin (lower(((((number || ' ') || title) || ' ') || words))
    gin_trgm_ops);

  create table notice_point (
    id uuid primary key default gen_random_uuid(),
    notice_id uuid not null references notice (id) on delete cascade,
    weak_point_id uuid not null references weak_point (id) on delete cascade,
    constraint notice_point_notice_id_weak_point_id_key unique (notice_id, weak_point_id)
  );
  create index notice_point_weak_point on notice_point (weak_point_id);

  create table library_change (
    id uuid primary key default gen_random_uuid(),
    at timestamptz not null default clock_timestamp(),
    user_id uuid references app_user (id),
    kind text not null check (kind in ('pack', 'edit', 'undo')),
    summary text not null,
    pack_key text,
    pack_version text,
    undoes uuid unique references library_change (id)
  );
  create index library_change_at on library_change (at desc, id);
  create index library_change_pack on library_change (pack_key, at desc) where kind = 'pack';

  create table library_change_item (
    id bigint generated always as identity primary key,
    change_id uuid not null references library_change (id) on delete cascade,
    entity text not null,
    entity_id uuid not null,
    before jsonb,
    after jsonb,
    constraint library_change_item_check check (before is not null or after is not null)
  );
  create index library_change_item_change on library_change_item (change_id, id);
  create index library_change_item_entity on library_change_item (entity_id);
  create index library_change_item_said on library_change_item (((coalesce(after, before) ->>
    'weak_point_id'))) where entity = 'statement';

  create table pack_upload (
    id uuid primary key default gen_random_uuid(),
    at timestamptz not null default clock_timestamp(),
    user_id uuid not null references app_user (id),
    name text not null,
    pack jsonb not null
  );
  create index pack_upload_at on pack_upload (at);
`;
