import type { LimitPicture } from '@crosspeen/contract';
import { CONSEQUENCES } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';

/** Limits that the picture is drawn at, shares. */
const LIMITS = [
  0.001, 0.002, 0.005, 0.01, 0.015, 0.02, 0.03, 0.04, 0.05, 0.06, 0.08, 0.1, 0.12, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.7,
  1,
] as const;

/** How many saved vehicles have something of each consequence over each limit, as they are judged today. */
export async function limitPictureOf(manager: EntityManager): Promise<LimitPicture> {
  const rows = await manager.query<{ consequence: string; bucket: number; vehicles: number }[]>(
    `select consequence, bucket, count(*) as vehicles from (
       select consequence, width_bucket(max(chance), $1::float8[]) as bucket
       from judgement
       where verdict <> 'behind_it'
       group by consequence, vehicle_id
     ) as most group by consequence, bucket`,
    [LIMITS],
  );
  const [counted] = await manager.query<{ vehicles: number }[]>('select count(*) as vehicles from vehicle_standing');
  return {
    vehicles: Number(counted!.vehicles),
    classes: CONSEQUENCES.map((consequence) => ({
      consequence,
      atLimit: LIMITS.map((limit, i) => ({
        limit,
        vehicles: rows
          .filter((row) => row.consequence === consequence && Number(row.bucket) > i)
          .reduce((sum, row) => sum + Number(row.vehicles), 0),
      })),
    })),
  };
}
