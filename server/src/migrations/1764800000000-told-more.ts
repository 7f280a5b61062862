import type { MigrationInterface, QueryRunner } from 'typeorm';

const GRADED = ['part', 'service_record', 'visit_job'] as const;
const GRADES_NOW = "('original', 'equivalent', 'cheap', 'used', 'rebuilt')";

/**
 * What practitioners say besides: what a failure harms and costs, how it shows, what use hastens it, what later
 * revisions of the part live; what goes in new with a job and is never fitted twice; used and rebuilt parts; notices
 * that name models, and coverages that pay a part.
 */
export class ToldMore1764800000000 implements MigrationInterface {
  name = 'ToldMore1764800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table symptom (
        id uuid primary key default gen_random_uuid(),
        key text not null unique,
        words text not null,
        codes jsonb not null default '[]',
        tells text,
        pack_key text
      );
      create index symptom_words on symptom using gin (lower(words) gin_trgm_ops);

      alter table weak_point
        add column damages jsonb not null default '[]',
        add column symptoms jsonb not null default '[]',
        add column failure jsonb,
        add column hastens jsonb not null default '[]',
        add column revisions jsonb not null default '[]',
        add column not_told jsonb not null default '[]';
      create index weak_point_symptoms on weak_point using gin (symptoms jsonb_path_ops);
      alter table labour_operation
        add column renew_with jsonb not null default '[]',
        add column one_time jsonb not null default '[]';
      -- Where a verdict goes by what it is if it is the first part: that chance.
      alter table vehicle_standing add column if_first double precision check (if_first between 0 and 1);
      alter table notice
        add column models jsonb not null default '[]',
        add column pays double precision check (pays > 0 and pays <= 1);
      ${GRADED.map(
        (table) => `alter table ${table}
        drop constraint ${table}_grade_check,
        add constraint ${table}_grade_check check (grade in ${GRADES_NOW});`,
      ).join('\n      ')}

      -- A weak point is found by how it shows, and by the codes that go with that.
      create or replace function weak_point_words(point weak_point) returns text language sql stable as $$
        select lower(concat_ws(' ', point.title, point.signs, point.effect, c.name, f.code, f.code_key, m.name, f.name,
          (
            select string_agg(concat_ws(' ', p.number, p.name), ' ')
            from part p
            where p.component_id = point.component_id
          ),
          (
            select string_agg(concat_ws(' ', s.words, s.codes::text), ' ')
            from symptom s
            where s.key in (select told ->> 'symptom' from jsonb_array_elements(point.symptoms) as told)
          )))
        from component c, engine_family f
        join maker m on m.id = f.maker_id
        where c.id = point.component_id and f.id = point.family_id $$;
      create function symptom_worded() returns trigger language plpgsql as $$
        begin update weak_point w set search_text = '' from changed
        where w.symptoms @> jsonb_build_array(jsonb_build_object('symptom', changed.key)); return null; end $$;
      create trigger symptom_worded after update on symptom referencing new table as changed
        for each statement execute function symptom_worded();
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table symptom;
      drop function symptom_worded();
      create or replace function weak_point_words(point weak_point) returns text language sql stable as $$
        select lower(concat_ws(' ', point.title, point.signs, point.effect, c.name, f.code, f.code_key, m.name, f.name,
          (
            select string_agg(concat_ws(' ', p.number, p.name), ' ')
            from part p
            where p.component_id = point.component_id
          )))
        from component c, engine_family f
        join maker m on m.id = f.maker_id
        where c.id = point.component_id and f.id = point.family_id $$;
      alter table weak_point
        drop column damages,
        drop column symptoms,
        drop column failure,
        drop column hastens,
        drop column revisions,
        drop column not_told;
      alter table labour_operation
        drop column renew_with,
        drop column one_time;
      alter table vehicle_standing drop column if_first;
      alter table notice
        drop column models,
        drop column pays;
      ${GRADED.map(
        (table) => `update ${table} set grade = 'equivalent' where grade in ('used', 'rebuilt');
      alter table ${table}
        drop constraint ${table}_grade_check,
        add constraint ${table}_grade_check check (grade in ('original', 'equivalent', 'cheap'));`,
      ).join('\n      ')}
    `);
  }
}
