import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Whether a weak point wears or was built into some, what the driver watches where nobody renews it before it fails,
 * and whether an interval asks for a new part or for a look. The custom is read off what is said, and no longer kept. A
 * verdict may be to watch.
 */
export class Told1764600000000 implements MigrationInterface {
  name = 'Told1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table weak_point
        add column nature text not null default 'wear' check (nature in ('wear', 'defect')),
        add column watch jsonb,
        drop column custom_km;
      update weak_point w set nature = 'defect' from component c where c.id = w.component_id and c.class = 'early';
      alter table statement
        add column asks text not null default 'renew' check (asks in ('renew', 'look'));
      alter table judgement
        drop constraint judgement_verdict_check,
        add constraint judgement_verdict_check
          check (verdict in ('hold', 'renew', 'look', 'ride_along', 'watch', 'run_on', 'behind_it'));
      alter table vehicle_standing
        drop constraint vehicle_standing_verdict_check,
        add constraint vehicle_standing_verdict_check
          check (verdict in ('hold', 'renew', 'look', 'ride_along', 'watch', 'run_on', 'behind_it'));
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      delete from judgement where verdict = 'watch';
      delete from vehicle_standing where verdict = 'watch';
      alter table judgement
        drop constraint judgement_verdict_check,
        add constraint judgement_verdict_check
          check (verdict in ('hold', 'renew', 'look', 'ride_along', 'run_on', 'behind_it'));
      alter table vehicle_standing
        drop constraint vehicle_standing_verdict_check,
        add constraint vehicle_standing_verdict_check
          check (verdict in ('hold', 'renew', 'look', 'ride_along', 'run_on', 'behind_it'));
      alter table statement drop column asks;
      alter table weak_point
        drop column nature,
        drop column watch,
        add column custom_km double precision check (custom_km > 0);
    `);
  }
}
