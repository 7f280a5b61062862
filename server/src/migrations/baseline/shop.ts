/** People, sessions, settings and backups of the shop, and the files that came in. */
export const SHOP = `
  create table setting (
    id smallint primary key check (id = 1),
    "values" jsonb not null,
    version integer not null default 1 check (version > 0)
  );

  create table app_user (
    id uuid primary key default gen_random_uuid(),
    name text not null unique check ((name = lower(name)) and ((length(name) >= 1) and (length(name) <= 60))),
    display_name text not null,
    role text not null check (role in ('mechanic', 'adviser', 'owner')),
    password_hash text,
    demo_password text,
    active boolean not null default true,
    pin_hash text,
    version integer not null default 1 check (version > 0)
  );

  create table bay_tablet (
    id uuid primary key default gen_random_uuid(),
    name text not null,
    token_hash text not null unique,
    written_by uuid not null references app_user (id),
    made_at timestamptz not null default clock_timestamp(),
    ended_at timestamptz
  );

  create table session (
    sid text primary key,
    data jsonb not null,
    expires_at timestamptz not null,
    person_id uuid references app_user (id) on delete cascade,
    tablet_id uuid references bay_tablet (id) on delete cascade,
    began_at timestamptz not null default clock_timestamp(),
    seen_at timestamptz not null default clock_timestamp(),
    awake_at timestamptz not null default clock_timestamp(),
    agent text
  );
  create index session_expires on session (expires_at);
  create index session_person on session (person_id);
  create index session_tablet on session (tablet_id);

  create table one_time_link (
    id uuid primary key default gen_random_uuid(),
    person_id uuid not null references app_user (id) on delete cascade,
    token_hash text not null unique,
    written_by uuid references app_user (id),
    made_at timestamptz not null default clock_timestamp(),
    expires_at timestamptz not null
  );
  create index one_time_link_person on one_time_link (person_id);

  create table people_change (
    id bigint generated always as identity primary key,
    at timestamptz not null,
    user_id uuid references app_user (id),
    person_id uuid references app_user (id),
    kind text not null check (kind in ('set_up', 'added', 'renamed', 'role', 'deactivated', 'reactivated',
      'link_made', 'link_ended', 'password_set', 'password_changed', 'pin_set', 'pin_removed', 'signed_out',
      'tablet_added', 'tablet_ended')),
    before text,
    after text
  );
  create index people_change_at on people_change (at desc, id desc);
  create index people_change_person on people_change (person_id);

  create table sign_in_try (
    what text not null check (what in ('pair', 'address', 'name', 'pin')),
    who text not null,
    tries integer not null check (tries >= 0),
    last_at timestamptz not null,
    next_at timestamptz not null,
    primary key (what, who)
  );
  create index sign_in_try_at on sign_in_try (last_at);

  create table set_up_code (
    id smallint primary key default 1 check (id = 1),
    code_hash text not null,
    made_at timestamptz not null default clock_timestamp()
  );

  create table server_secret (
    id smallint primary key default 1 check (id = 1),
    secret text not null check (length(secret) >= 32)
  );

  create table sent_once (
    user_id uuid not null references app_user (id) on delete cascade,
    sending text not null,
    answer jsonb,
    at timestamptz not null default clock_timestamp(),
    primary key (user_id, sending)
  );
  create index sent_once_at on sent_once (at);

  create table backup_run (
    id bigint generated always as identity primary key,
    state text not null check (state in ('running', 'good', 'failed')),
    begun_at timestamptz not null,
    touched_at timestamptz not null,
    finished_at timestamptz,
    file text,
    bytes bigint,
    rows bigint,
    checked text check (checked in ('restored', 'read')),
    reason text
  );
  create index backup_run_begun on backup_run (begun_at desc);
  create unique index backup_run_one on backup_run ((true)) where state = 'running';

  create table intake_file (
    id uuid primary key default gen_random_uuid(),
    at timestamptz not null default clock_timestamp(),
    user_id uuid not null references app_user (id),
    name text not null,
    bytes integer not null,
    encoding text not null,
    delimiter text not null,
    headers jsonb not null default '[]'::jsonb,
    kind text check (kind in ('vehicles', 'readings', 'services', 'findings', 'upkeep')),
    mapping jsonb,
    formats jsonb,
    state text not null default 'held' check (state in ('held', 'running', 'done', 'stopped', 'failed')),
    rows_done integer not null default 0,
    bytes_done integer not null default 0,
    written integer not null default 0,
    known integer not null default 0,
    bad integer not null default 0,
    reason text,
    started_at timestamptz,
    touched_at timestamptz,
    finished_at timestamptz
  );
  create index intake_file_at on intake_file (at desc, id) where state <> 'held';

  create table intake_piece (
    file_id uuid not null references intake_file (id) on delete cascade,
    place integer not null,
    bytes bytea not null,
    primary key (file_id, place)
  );

  create table intake_fault (
    file_id uuid not null references intake_file (id) on delete cascade,
    line integer not null,
    cells jsonb not null,
    reason text not null,
    primary key (file_id, line)
  );
`;
