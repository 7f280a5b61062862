import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables of notices, each with the families of the rows that changed. */
const FAMILIES_OF = {
  notice: `select w.family_id
      from notice_point p
      join weak_point w on w.id = p.weak_point_id
      where p.notice_id in (select id from changed)`,
  notice_point: 'select w.family_id from weak_point w where w.id in (select weak_point_id from changed)',
} as const;

/** What a name is said with: an authority is named beside statements and beside notices. */
const NAMED_BY = `select w.family_id
      from weak_point w
      join statement s on s.weak_point_id = w.id
      where s.authority_id in (select id from changed)
      union
      select w.family_id
      from notice n
      join notice_point p on p.notice_id = n.id
      join weak_point w on w.id = p.weak_point_id
      where n.authority_id in (select id from changed)`;
const SAID_BY = `select w.family_id
      from weak_point w
      join statement s on s.weak_point_id = w.id
      where s.authority_id in (select id from changed)`;

const raises = (table: string, families: string): string => `
  create or replace function ${table}_known() returns trigger language plpgsql as $$
    begin
      update family_state set revision = revision + 1 where family_id in (${families});
      return null;
    end $$;`;

/** What a notice asks for is part of the decision: vehicles are judged again when one comes, changes or goes. */
export class NoticesCount1766700000000 implements MigrationInterface {
  name = 'NoticesCount1766700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(raises('authority', NAMED_BY));
    for (const [table, families] of Object.entries(FAMILIES_OF))
      await runner.query(`${raises(table, families)}
        create trigger ${table}_added after insert on ${table} referencing new table as changed
          for each statement execute function ${table}_known();
        create trigger ${table}_altered after update on ${table} referencing new table as changed
          for each statement execute function ${table}_known();
        create trigger ${table}_taken after delete on ${table} referencing old table as changed
          for each statement execute function ${table}_known();`);
    await runner.query('update family_state set revision = revision + 1');
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of Object.keys(FAMILIES_OF)) await runner.query(`drop function ${table}_known() cascade`);
    await runner.query(raises('authority', SAID_BY));
  }
}
