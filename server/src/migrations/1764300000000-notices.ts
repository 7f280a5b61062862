import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Bulletins and coverages, whom to ring up about them, and how strong a statement is; judgements that a new day
 * rewrites in place.
 */
export class Notices1764300000000 implements MigrationInterface {
  name = 'Notices1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table notice (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        kind text not null check (kind in ('bulletin', 'coverage')),
        authority_id uuid not null references authority,
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
        written_by uuid references app_user,
        version integer not null default 1 check (version > 0),
        pack_key text,
        check ((kind = 'coverage') = (covered_days is not null or covered_km is not null or ends_on is not null))
      );
      create unique index notice_number on notice (authority_id, lower(number));
      create index authority_name on authority (name, id);
      create index notice_issued on notice (issued desc, id);
      create index notice_search on notice using gin ((lower(number || ' ' || title || ' ' || words)) gin_trgm_ops);
      create table notice_point (
        id uuid primary key default gen_random_uuid(),
        notice_id uuid not null references notice on delete cascade,
        weak_point_id uuid not null references weak_point on delete cascade,
        unique (notice_id, weak_point_id)
      );
      create index notice_point_weak_point on notice_point (weak_point_id);

      create table campaign_call (
        id uuid primary key default gen_random_uuid(),
        vehicle_id uuid not null references vehicle,
        weak_point_id uuid references weak_point on delete cascade,
        notice_id uuid references notice on delete cascade,
        day date not null,
        outcome text not null check (outcome in ('no_answer', 'thinking', 'coming', 'declined')),
        note text,
        user_id uuid not null references app_user,
        created_at timestamptz not null default clock_timestamp(),
        retracted_at timestamptz,
        check (num_nonnulls(weak_point_id, notice_id) = 1)
      );
      create index campaign_call_vehicle on campaign_call (vehicle_id, day desc) where retracted_at is null;
      create index campaign_call_weak_point on campaign_call (weak_point_id);
      create index campaign_call_notice on campaign_call (notice_id);

      alter table vehicle add column contact text;
      -- How far it runs in a day by the forecast: a coverage in km ends on a date.
      alter table vehicle_standing add column km_per_day double precision;
      -- Every chance moves a little from one day to the next. What is indexed is only the band it lies in, so that a row is mostly rewritten where it stands
      -- and no index is touched; the bounds are those a list can be cut off at.
      alter table judgement add column band smallint generated always as (
        width_bucket(chance, array[0.01, 0.03, 0.08, 0.25]::float8[])
      ) stored;
      drop index judgement_weak_point;
      drop index judgement_consequence;
      create index judgement_weak_point on judgement (weak_point_id);
      create index judgement_consequence on judgement (consequence, band);
      alter table judgement set (fillfactor = 75);
      alter table statement add column strength text check (strength in ('counted', 'practice', 'hearsay'));
    `);
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Notices cannot be taken out of the schema; restore a backup instead.'));
  }
}
