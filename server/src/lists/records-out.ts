import type { Certainty, Condition, DistanceUnit, Grade, Source } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { RECORD_KINDS } from '../ledger/records.ts';

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

export interface UpkeepOut extends OfVehicle {
  readonly title: string;
  readonly day: string;
  readonly km: number | null;
  readonly certainty: 'done' | 'never';
  readonly note: string | null;
}

const OF_VEHICLE = 'coalesce(v.plate, v.name) as vehicle, v.odometer_unit as unit';
const CHOSEN = '($1::uuid is null or r.vehicle_id = $1::uuid) and r.retracted_at is null and v.retracted_at is null';

/** One page of a kind of record as the intake reads it again: what goes out comes back as known, row for row. */
async function outOf<Row>(
  manager: EntityManager,
  table: 'meter_reading' | 'service_record' | 'finding' | 'upkeep_record',
  { vehicleId, page, pageSize }: RecordsAsked,
): Promise<{ rows: Row[] }> {
  const out: { columns: Readonly<Record<string, string>>; joins?: string; order: string } = RECORD_KINDS[table].out;
  const columns = Object.entries(out.columns).map(([property, column]) => `${column} as "${property}"`);
  const rows = await manager.query<Row[]>(
    `select ${OF_VEHICLE}, ${columns.join(', ')}
     from ${table} r ${out.joins ?? ''}
     join vehicle v on v.id = r.vehicle_id
     where ${CHOSEN}
     order by r.vehicle_id, ${out.order}, r.id
     limit $2 offset $3`,
    [vehicleId, pageSize, (page - 1) * pageSize],
  );
  return { rows };
}

export const readingsOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: ReadingOut[] }> =>
  outOf(manager, 'meter_reading', asked);

export const servicesOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: ServiceOut[] }> =>
  outOf(manager, 'service_record', asked);

export const findingsOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: FindingOut[] }> =>
  outOf(manager, 'finding', asked);

export const upkeepOut = (manager: EntityManager, asked: RecordsAsked): Promise<{ rows: UpkeepOut[] }> =>
  outOf(manager, 'upkeep_record', asked);
