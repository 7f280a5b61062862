import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A workshop of its own: people who come and go, one-time links, who is signed in where, bay tablets, the trail of all
 * that, the code that sets a workshop up, what signs its cookies, and its backups.
 */
export class OwnShop1764900000000 implements MigrationInterface {
  name = 'OwnShop1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table app_user
        alter column password_hash drop not null,
        add column active boolean not null default true,
        add column pin_hash text,
        add column version integer not null default 1 check (version > 0);

      create table bay_tablet (
        id uuid primary key default gen_random_uuid(),
        name text not null,
        token_hash text not null unique,
        written_by uuid not null references app_user,
        made_at timestamptz not null default clock_timestamp(),
        ended_at timestamptz
      );

      create table one_time_link (
        id uuid primary key default gen_random_uuid(),
        person_id uuid not null references app_user on delete cascade,
        token_hash text not null unique,
        written_by uuid references app_user,
        made_at timestamptz not null default clock_timestamp(),
        expires_at timestamptz not null
      );
      create index one_time_link_person on one_time_link (person_id);

      create table people_change (
        id bigint generated always as identity primary key,
        at timestamptz not null,
        user_id uuid references app_user,
        person_id uuid references app_user,
        kind text not null check (kind in (
          'set_up', 'added', 'renamed', 'role', 'deactivated', 'reactivated', 'link_made', 'link_ended',
          'password_set', 'password_changed', 'pin_set', 'pin_removed', 'signed_out', 'tablet_added', 'tablet_ended'
        )),
        before text,
        after text
      );
      create index people_change_at on people_change (at desc, id desc);
      create index people_change_person on people_change (person_id);

      alter table session
        add column person_id uuid references app_user on delete cascade,
        add column tablet_id uuid references bay_tablet on delete cascade,
        add column began_at timestamptz not null default clock_timestamp(),
        add column seen_at timestamptz not null default clock_timestamp(),
        add column awake_at timestamptz not null default clock_timestamp(),
        add column agent text;
      update session set person_id = (data #>> '{user,id}')::uuid
      where exists (select 1 from app_user u where u.id = (data #>> '{user,id}')::uuid);
      create index session_person on session (person_id);
      create index session_tablet on session (tablet_id);

      alter table sign_in_try
        drop constraint sign_in_try_what_check,
        add constraint sign_in_try_what_check check (what in ('pair', 'address', 'name', 'pin'));

      create table set_up_code (
        id smallint primary key default 1 check (id = 1),
        code_hash text not null,
        made_at timestamptz not null default clock_timestamp()
      );

      create table server_secret (
        id smallint primary key default 1 check (id = 1),
        secret text not null check (length(secret) >= 32)
      );

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
      create index library_change_pack on library_change (pack_key, at desc) where kind = 'pack';
      create unique index backup_run_one on backup_run ((true)) where state = 'running';
      create index backup_run_begun on backup_run (begun_at desc);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop index library_change_pack;
      drop table backup_run;
      drop table server_secret;
      drop table set_up_code;
      delete from sign_in_try where what = 'pin';
      alter table sign_in_try
        drop constraint sign_in_try_what_check,
        add constraint sign_in_try_what_check check (what in ('pair', 'address', 'name'));
      alter table session
        drop column person_id,
        drop column tablet_id,
        drop column began_at,
        drop column seen_at,
        drop column awake_at,
        drop column agent;
      drop table people_change;
      drop table one_time_link;
      drop table bay_tablet;
      update app_user set password_hash = '' where password_hash is null;
      alter table app_user
        alter column password_hash set not null,
        drop column active,
        drop column pin_hash,
        drop column version;
    `);
  }
}
