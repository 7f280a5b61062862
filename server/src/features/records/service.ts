import { dayFromIso, type Certainty, type Condition, type Grade, type School, type Source } from '@crosspeen/core';
import { In, type EntityManager } from 'typeorm';
import type { Subject } from '../lookup/answer.ts';
import { VehicleEntity, type VehicleRow } from '../vehicles/entity.ts';

export interface ReadingRecord { readonly id: string; readonly day: string; readonly km: number }
export interface ServiceRecord { readonly componentKey: string; readonly certainty: Certainty; readonly day: string | null; readonly grade: Grade; readonly revision: string | null; readonly source: Source | null; readonly cameOut: Condition | null }
export interface FindingRecord { readonly weakPointId: string; readonly day: string; readonly result: Condition; readonly broughtIn: boolean; readonly sinceDay: string | null }

/** A vehicle with everything on record that counts, oldest first. */
export interface VehicleRecords {
  readonly row: VehicleRow;
  readonly readings: readonly ReadingRecord[];
  readonly services: readonly ServiceRecord[];
  readonly findings: readonly FindingRecord[];
  readonly meterChanges: readonly { readonly day: string; readonly oldKm: number; readonly newKm: number }[];
  readonly engineSwaps: readonly { readonly day: string; readonly engineKm: number | null }[];
  readonly choices: readonly { readonly weakPointId: string | null; readonly school: School; readonly reason: string }[];
}

type Owned<T> = T & { readonly vehicleId: string };

/** Records of many vehicles with one query a table; vehicles taken back are left out. */
export async function recordsOf(manager: EntityManager, vehicleIds: readonly string[]): Promise<Map<string, VehicleRecords>> {
  const rows = await manager.findBy(VehicleEntity, { id: In([...vehicleIds]) });
  // One after the other: inside a transaction they share one connection.
  const each = async <T>(sql: string): Promise<Map<string, T[]>> => {
    const byVehicle = new Map<string, T[]>();
    for (const { vehicleId, ...record } of await manager.query<Owned<T>[]>(sql, [vehicleIds])) {
      const list = byVehicle.get(vehicleId);
      if (list) list.push(record as T);
      else byVehicle.set(vehicleId, [record as T]);
    }
    return byVehicle;
  };
  const where = 'vehicle_id = any($1::uuid[]) and retracted_at is null';
  const readings = await each<ReadingRecord>(`select vehicle_id as "vehicleId", id, day, km from meter_reading where ${where} order by day, km`);
  const services = await each<ServiceRecord>(
    `select r.vehicle_id as "vehicleId", c.key as "componentKey", r.certainty, r.day, r.grade, r.revision, r.source, r.came_out as "cameOut"
     from service_record r join component c on c.id = r.component_id where r.vehicle_id = any($1::uuid[]) and r.retracted_at is null order by r.created_at, r.id`);
  const findings = await each<FindingRecord>(
    `select vehicle_id as "vehicleId", weak_point_id as "weakPointId", day, result, brought_in as "broughtIn", since_day as "sinceDay" from finding where ${where} order by day, created_at`);
  const meterChanges = await each<VehicleRecords['meterChanges'][number]>(`select vehicle_id as "vehicleId", day, old_km as "oldKm", new_km as "newKm" from meter_change where ${where} order by day, created_at`);
  const engineSwaps = await each<VehicleRecords['engineSwaps'][number]>(`select vehicle_id as "vehicleId", day, engine_km as "engineKm" from engine_swap where ${where} order by day, created_at`);
  const choices = await each<VehicleRecords['choices'][number]>(`select vehicle_id as "vehicleId", weak_point_id as "weakPointId", school, reason from school_choice where ${where} order by created_at`);
  return new Map(rows.filter(({ retractedAt }) => retractedAt === null).map((row): [string, VehicleRecords] => [row.id, {
    row, readings: readings.get(row.id) ?? [], services: services.get(row.id) ?? [], findings: findings.get(row.id) ?? [],
    meterChanges: meterChanges.get(row.id) ?? [], engineSwaps: engineSwaps.get(row.id) ?? [], choices: choices.get(row.id) ?? [],
  }]));
}

const dayOf = (iso: string): number => dayFromIso(iso)!;
const dayOrNull = (iso: string | null): number | null => (iso === null ? null : dayOf(iso));

/** What is known of a vehicle on file, as the question that its answer is reckoned for. */
export function subjectOf({ row, ...records }: VehicleRecords, today: number): Subject {
  const readings = records.readings.map(({ day, km }) => ({ day: dayOf(day), km }));
  return {
    // Without any reading the usual distance stands in for one; the screen says that nothing was read.
    readings, registeredDay: dayOrNull(row.firstRegistered) ?? (readings.length === 0 ? today : null), registeredExact: true,
    meterChanges: records.meterChanges.map((change) => ({ ...change, day: dayOf(change.day) })),
    engineSwaps: records.engineSwaps.map((swap) => ({ ...swap, day: dayOf(swap.day) })),
    variantKey: row.variantKey, model: row.model, market: row.market, serial: row.serial, features: row.features, fitted: row.fitted, severity: row.severity, duty: row.duty,
    counted: true, choices: records.choices,
    services: records.services.map((service) => ({ ...service, day: dayOrNull(service.day) })),
    findings: records.findings.map((finding) => ({ ...finding, day: dayOf(finding.day), sinceDay: dayOrNull(finding.sinceDay) })),
  };
}

/** Day on which the vehicle first came to this workshop: as told, else that of its first reading or record. */
export function firstSeenDay({ row, readings, findings }: VehicleRecords, today: number): number {
  return dayOrNull(row.firstSeen) ?? Math.min(today, ...readings.slice(0, 1).map(({ day }) => dayOf(day)), ...findings.slice(0, 1).map(({ day }) => dayOf(day)));
}
