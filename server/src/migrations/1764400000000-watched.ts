import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Vehicles on file since before parts were watched: what their records say of parts is read with the next round. */
export class Watched1764400000000 implements MigrationInterface {
  name = 'Watched1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      insert into observation_due select v.id from vehicle v
      where v.retracted_at is null and not exists (select 1 from observation o where o.vehicle_id = v.id) on conflict do nothing;
    `);
  }

  /** What is read of records stays true. */
  async down(): Promise<void> { /* nothing to take back */ }
}
