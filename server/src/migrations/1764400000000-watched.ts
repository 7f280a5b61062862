import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Vehicles on file since before parts were watched: what their records say of parts is read with the next round. And
 * what came with a pack is counted by its pack.
 */
export class Watched1764400000000 implements MigrationInterface {
  name = 'Watched1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      insert into observation_due select v.id from vehicle v
      where v.retracted_at is null and not exists (select 1 from observation o where o.vehicle_id = v.id)
      on conflict do nothing;
      create index weak_point_pack on weak_point (pack_key, state);
      create index engine_family_pack on engine_family (pack_key);
      create index notice_pack on notice (pack_key, state);
    `);
  }

  /** What is read of records stays true. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop index weak_point_pack, engine_family_pack, notice_pack');
  }
}
