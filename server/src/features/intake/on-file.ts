import { compactKey, type DistanceUnit } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { type SheetRow, type RowFault, Fault, fault, text } from './cells.ts';

interface OnFile {
  readonly id: string;
  readonly familyId: string;
  readonly unit: DistanceUnit;
}

/** Saved vehicles that the rows name, by plate or name. */
export async function vehiclesNamed(
  manager: EntityManager,
  rows: readonly SheetRow[],
): Promise<(row: SheetRow) => OnFile> {
  const keys = [...new Set(rows.map((row) => compactKey(text(row, 'vehicle'))))].filter(Boolean);
  const found = await manager.query<(OnFile & { plateKey: string | null; nameKey: string | null })[]>(
    `select id, family_id as "familyId", odometer_unit as unit, plate_key as "plateKey", name_key as "nameKey"
      from vehicle
      where retracted_at is null and plate_key = any($1::text[])
     union
     select id, family_id, odometer_unit, plate_key, name_key
     from vehicle
     where retracted_at is null and name_key = any($1::text[])`,
    [keys],
  );
  const byPlate = new Map(
    found.flatMap((vehicle) => (vehicle.plateKey === null ? [] : [[vehicle.plateKey, vehicle] as const])),
  );
  const byName = new Map<string, OnFile | null>();
  for (const vehicle of found)
    if (vehicle.nameKey !== null) byName.set(vehicle.nameKey, byName.has(vehicle.nameKey) ? null : vehicle);
  return (row) => {
    const said = text(row, 'vehicle');
    if (said === '') fault('the vehicle is missing; write its plate or name');
    const key = compactKey(said);
    const named = byPlate.get(key) ?? byName.get(key);
    if (named === null) fault(`several vehicles are called “${said}”; write the plate`);
    return named ?? fault(`no saved vehicle has the plate or name “${said}”; import the vehicles first, or correct it`);
  };
}

interface PointOnFile {
  readonly id: string;
  readonly familyId: string;
  readonly componentId: string;
  readonly names: readonly string[];
}

/** Weak points and components of the engines concerned, by key, title or component. */
export async function pointsNamed(
  manager: EntityManager,
  familyIds: readonly string[],
): Promise<(familyId: string, said: string) => readonly PointOnFile[]> {
  const points = await manager.query<PointOnFile[]>(
    `select w.id, w.family_id as "familyId", w.component_id as "componentId",
        array[lower(w.title), lower(w.key), lower(c.name), lower(c.key)] as names
      from weak_point w
      join component c on c.id = w.component_id
     where w.family_id = any($1::uuid[]) and w.state in ('published', 'retired') order by w.position`,
    [familyIds],
  );
  return (familyId, said) => {
    const wanted = said.trim().toLowerCase();
    return points.filter((point) => point.familyId === familyId && point.names.includes(wanted));
  };
}

interface Attempted<Made> {
  readonly made: readonly { readonly made: Made; readonly same: string }[];
  readonly faults: RowFault[];
}

/** Tries to turn each row into its record; `same` tells it from what is on file. */
export function attempt<Made extends object>(
  rows: readonly SheetRow[],
  make: (row: SheetRow) => { made: Made; same: string },
): Attempted<Made> {
  const made: { made: Made; same: string }[] = [];
  const faults: RowFault[] = [];
  for (const row of rows) {
    try {
      made.push(make(row));
    } catch (error) {
      if (!(error instanceof Fault)) throw error;
      faults.push({ line: row.line, raw: row.raw, reason: error.message });
    }
  }
  return { made, faults };
}

/** Records that are neither on file nor earlier in the file. */
export function fresh<Made>(made: Attempted<Made>['made'], onFile: Iterable<string>): { fresh: Made[]; known: number } {
  const seen = new Set(onFile);
  const left = made.filter(({ same }) => !seen.has(same) && seen.add(same));
  return { fresh: left.map((one) => one.made), known: made.length - left.length };
}

/** Rows of a table on the days that records name, each vehicle's own: what the records may be the same as. */
export const onThoseDays = <Row>(
  manager: EntityManager,
  table: 'meter_reading' | 'service_record' | 'finding' | 'upkeep_record',
  columns: string,
  records: readonly { readonly vehicleId: string; readonly day: string }[],
): Promise<Row[]> =>
  manager.query<Row[]>(
    `select ${columns}
      from (select distinct vehicle_id, day from jsonb_to_recordset($1::jsonb) as c(vehicle_id uuid, day date)) as c
      join ${table} r on r.vehicle_id = c.vehicle_id and r.day = c.day
      where r.retracted_at is null`,
    [JSON.stringify(records.map(({ vehicleId, day: on }) => ({ vehicle_id: vehicleId, day: on })))],
  );

/** A service record as far as another may be the same. */
export interface ServiceOnFile {
  readonly vehicleId: string;
  readonly componentId: string;
  readonly certainty: string;
  readonly day: string | null;
  readonly partNumber: string | null;
  readonly revision: string | null;
}

/** What is stated on file, never renewed or nobody knows, of the parts of the engines that are in vehicles now. */
export const statedOfWhatIsIn = (manager: EntityManager, vehicleIds: readonly string[]): Promise<ServiceOnFile[]> =>
  manager.query<ServiceOnFile[]>(
    `select r.vehicle_id as "vehicleId", r.component_id as "componentId", r.certainty, r.day,
            r.part_number as "partNumber", r.revision
      from service_record r
      where r.vehicle_id = any($1::uuid[])
        and r.certainty in ('not_done', 'unknown')
        and r.retracted_at is null
        and not exists (
          select 1
          from engine_swap s
          where s.vehicle_id = r.vehicle_id and s.retracted_at is null and s.day > coalesce(r.day, '-infinity')
        )`,
    [vehicleIds],
  );

export const joined = (...parts: readonly (string | number | null)[]): string =>
  parts.map((part) => part ?? '').join(' | ');
