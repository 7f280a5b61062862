import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables that a pack writes to; each row says which pack it came from, and none for what was written here. */
const PACKED = [
  'maker',
  'authority',
  'component',
  'part',
  'engine_family',
  'engine_variant',
  'family_feature',
  'weak_point',
] as const;

/** Tables whose words a weak point is found by, and how a changed row names its weak points. */
const WORDED = [
  ['part', 'component_id in (select component_id from changed)'],
  ['component', 'component_id in (select id from changed)'],
  ['engine_family', 'family_id in (select id from changed)'],
] as const;

/**
 * The library as something that is read, written and exchanged: labour operations, tools, cautions; where every row
 * came from; every change of it; what comes in from files.
 */
export class Library1764200000000 implements MigrationInterface {
  name = 'Library1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
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
      create table labour_operation (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        family_id uuid not null references engine_family,
        name text not null,
        minutes integer not null check (minutes > 0),
        position smallint not null,
        pack_key text
      );
      create index labour_operation_family on labour_operation (family_id, position);
      create table operation_need (
        id uuid primary key default gen_random_uuid(),
        operation_id uuid not null references labour_operation on delete cascade,
        needs_id uuid not null references labour_operation on delete cascade,
        unique (operation_id, needs_id),
        check (operation_id <> needs_id)
      );
      create index operation_need_needs on operation_need (needs_id);
      create table operation_tool (
        id uuid primary key default gen_random_uuid(),
        operation_id uuid not null references labour_operation on delete cascade,
        tool_id uuid not null references tool,
        unique (operation_id, tool_id)
      );
      create index operation_tool_tool on operation_tool (tool_id);
      create table operation_caution (
        id uuid primary key default gen_random_uuid(),
        operation_id uuid not null references labour_operation on delete cascade,
        caution_id uuid not null references caution,
        unique (operation_id, caution_id)
      );
      create index operation_caution_caution on operation_caution (caution_id);

      ${PACKED.map((table) => `alter table ${table} add column pack_key text;`).join('\n      ')}
      -- Until now whatever was loaded came from the packs on file; with one pack there is no doubt which.
      ${PACKED.map((table) => `update ${table} set pack_key = (select key from library_pack) where (select count(*) from library_pack) = 1;`).join('\n      ')}
      alter table family_feature add column id uuid not null default gen_random_uuid() unique;

      alter table weak_point
        add column operation_id uuid references labour_operation on delete set null,
        add column state text not null default 'published' check (
          state in ('draft', 'review', 'published', 'superseded', 'retired')
        ),
        add column superseded_by uuid references weak_point on delete set null,
        add column retired_from date,
        add column written_by uuid references app_user,
        add column version integer not null default 1 check (version > 0),
        add column search_text text not null default '',
        add check ((state = 'retired') = (retired_from is not null));
      create index weak_point_operation on weak_point (operation_id);
      create index weak_point_state on weak_point (state, title);
      create index weak_point_title on weak_point (title, id);
      create index component_name on component (name, id);
      create unique index statement_place on statement (weak_point_id, position);

      -- What a weak point is found by: its own words, its component's and its parts', its engine's; kept with it, so that one index serves the search.
      create function weak_point_words(point weak_point) returns text language sql stable as $$
        select lower(concat_ws(' ', point.title, point.signs, point.effect, c.name, f.code, f.code_key, m.name, f.name,
          (
            select string_agg(concat_ws(' ', p.number, p.name), ' ')
            from part p
            where p.component_id = point.component_id
          )))
        from component c, engine_family f
        join maker m on m.id = f.maker_id
        where c.id = point.component_id and f.id = point.family_id $$;
      create function weak_point_worded() returns trigger language plpgsql as $$
        begin new.search_text := coalesce(weak_point_words(new), ''); return new; end $$;
      create trigger weak_point_worded before insert
        or update on weak_point for each row execute function weak_point_worded();
      create index weak_point_search on weak_point using gin (search_text gin_trgm_ops);
      ${WORDED.map(
        ([table, points]) => `
      create function ${table}_worded() returns trigger language plpgsql as $$
        begin update weak_point set search_text = '' where ${points}; return null; end $$;
      ${table === 'part' ? `create trigger part_worded_added after insert on part referencing new table as changed for each statement execute function part_worded();` : ''}
      create trigger ${table}_worded after update on ${table} referencing new table as changed
        for each statement execute function ${table}_worded();`,
      ).join('')}
      update weak_point set search_text = '';

      create table library_change (
        id uuid primary key default gen_random_uuid(),
        at timestamptz not null default clock_timestamp(),
        user_id uuid references app_user,
        kind text not null check (kind in ('pack', 'edit', 'undo')),
        summary text not null,
        pack_key text,
        pack_version text,
        undoes uuid unique references library_change
      );
      create index library_change_at on library_change (at desc, id);
      create table library_change_item (
        id bigint generated always as identity primary key,
        change_id uuid not null references library_change on delete cascade,
        entity text not null,
        entity_id uuid not null,
        before jsonb,
        after jsonb,
        check (before is not null or after is not null)
      );
      create index library_change_item_change on library_change_item (change_id, id);
      create index library_change_item_entity on library_change_item (entity_id);
      create index library_change_item_said on library_change_item ((coalesce(after, before) ->> 'weak_point_id'))
      where entity = 'statement';
      create table pack_upload (
        id uuid primary key default gen_random_uuid(),
        at timestamptz not null default clock_timestamp(),
        user_id uuid not null references app_user,
        name text not null,
        pack jsonb not null
      );
      create index pack_upload_at on pack_upload (at);

      -- Spreadsheets as they came, in pieces, and what became of each.
      create table intake_file (
        id uuid primary key default gen_random_uuid(),
        at timestamptz not null default clock_timestamp(),
        user_id uuid not null references app_user,
        name text not null,
        bytes integer not null,
        encoding text not null,
        delimiter text not null,
        headers jsonb not null default '[]',
        kind text check (kind in ('vehicles', 'readings', 'services', 'findings')),
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
        file_id uuid not null references intake_file on delete cascade,
        place integer not null,
        bytes bytea not null,
        primary key (file_id, place)
      );
      create table intake_fault (
        file_id uuid not null references intake_file on delete cascade,
        line integer not null,
        cells jsonb not null,
        reason text not null,
        primary key (file_id, line)
      );

      -- Vehicles whose records were written many at a time: their parts are read with the next round.
      create table observation_due (vehicle_id uuid primary key references vehicle on delete cascade);
    `);
  }

  down(): Promise<void> {
    return Promise.reject(new Error('The library cannot be taken out of the schema; restore a backup instead.'));
  }
}
