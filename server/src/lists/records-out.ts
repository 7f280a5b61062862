import type { Certainty, Condition, DistanceUnit, Grade, Source } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';

/** Which page of a list of records, of one vehicle or of all. */
export interface RecordsAsked {
  readonly vehicleId: string | null;
  readonly page: number;
  readonly pageSize: number;
}

/** What tells a vehicle when its records come back: its plate, else its name. */
interface OfVehicle {
  readonly vehicle: string;
  readonly unit: DistanceUnit;
}
export interface ReadingOut extends OfVehicle {
  readonly day: string;
  readonly km: number;
}
export interface ServiceOut extends OfVehicle {
  readonly component: string;
  readonly day: string | null;
  readonly km: number | null;
  readonly certainty: Certainty;
  readonly grade: Grade;
  readonly partNumber: string | null;
  readonly revision: string | null;
  readonly source: Source | null;
  readonly cameOut: Condition | null;
  readonly note: string | null;
}
export interface FindingOut extends OfVehicle {
  readonly title: string;
  readonly day: string;
  readonly result: Condition;
  readonly broughtIn: boolean;
  readonly note: string | null;
}

const OF_VEHICLE = 'coalesce(v.plate, v.name) as vehicle, v.odometer_unit as unit';
const CHOSEN = '($1::uuid is null or r.vehicle_id = $1::uuid) and r.retracted_at is null and v.retracted_at is null';

async function pageOf<Row>(
  manager: EntityManager,
  columns: string,
  from: string,
  order: string,
  { vehicleId, page, pageSize }: RecordsAsked,
): Promise<{ rows: Row[] }> {
  const rows = await manager.query<Row[]>(
    `select ${OF_VEHICLE}, ${columns}
     from ${from} join vehicle v on v.id = r.vehicle_id
     where ${CHOSEN}
     order by r.vehicle_id, ${order}, r.id
     limit $2 offset $3`,
    [vehicleId, pageSize, (page - 1) * pageSize],
  );
  return { rows };
}

// Records as the intake reads them again: what goes out comes back as known, row for row.

export const readingsOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: ReadingOut[] }> =>
  pageOf(manager, 'r.day, r.km', 'meter_reading r', 'r.day', asked);

export const servicesOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: ServiceOut[] }> =>
  pageOf(
    manager,
    `c.name as component, r.day, r.km, r.certainty, r.grade, r.part_number as "partNumber", r.revision, r.source, r.came_out as "cameOut", r.note`,
    'service_record r join component c on c.id = r.component_id',
    'r.day nulls first',
    asked,
  );

export const findingsOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: FindingOut[] }> =>
  pageOf(
    manager,
    `w.title, r.day, r.result, r.brought_in as "broughtIn", r.note`,
    'finding r join weak_point w on w.id = r.weak_point_id',
    'r.day',
    asked,
  );
