import type { Observation, WatchedPart } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';

/** One watched part as it is kept. Days are ISO dates, `km` what the part had run at its end. */
export interface ObservationRow {
  readonly vehicleId: string;
  readonly weakPointId: string;
  readonly ordinal: number;
  readonly kind: Observation['kind'];
  readonly broughtIn: boolean;
  readonly installDay: string;
  readonly endDay: string;
  readonly km: number;
  readonly seen: WatchedPart['observation'];
}

const COLUMNS =
  'vehicle_id as "vehicleId", weak_point_id as "weakPointId", ordinal, kind, brought_in as "broughtIn", install_day as "installDay", end_day as "endDay", km, seen';

export const observationsOfVehicle = (manager: EntityManager, vehicleId: string): Promise<ObservationRow[]> =>
  manager.query<ObservationRow[]>(
    `select ${COLUMNS} from observation where vehicle_id = $1 order by weak_point_id, ordinal`,
    [vehicleId],
  );

export const observationsOfPoint = (manager: EntityManager, weakPointId: string): Promise<ObservationRow[]> =>
  manager.query<ObservationRow[]>(
    `select ${COLUMNS} from observation where weak_point_id = $1 order by vehicle_id, ordinal`,
    [weakPointId],
  );

/** Replaces all that is kept of some vehicles. */
export async function replaceObservations(
  manager: EntityManager,
  vehicleIds: readonly string[],
  rows: readonly ObservationRow[],
): Promise<void> {
  await manager.query('delete from observation where vehicle_id = any($1::uuid[])', [vehicleIds]);
  if (rows.length === 0) return;
  await manager.query(
    `insert into observation (vehicle_id, weak_point_id, ordinal, kind, brought_in, install_day, end_day, km, seen)
     select vehicle_id, weak_point_id, ordinal, kind, brought_in, install_day, end_day, km, seen
     from jsonb_populate_recordset(null::observation, $1::jsonb)`,
    [
      JSON.stringify(
        rows.map((row) => ({
          vehicle_id: row.vehicleId,
          weak_point_id: row.weakPointId,
          ordinal: row.ordinal,
          kind: row.kind,
          brought_in: row.broughtIn,
          install_day: row.installDay,
          end_day: row.endDay,
          km: row.km,
          seen: row.seen,
        })),
      ),
    ],
  );
}
