import {
  dayFromIso,
  type Certainty,
  type Condition,
  type Forbiddable,
  type Grade,
  type School,
  type Source,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { jsonPairs, RECORDS } from '../ledger/records.ts';
import { VehicleEntity, type VehicleRow } from '../ledger/vehicle-rows.ts';
import { columnsOf } from '../platform/entity.ts';
import { Problem } from '../platform/problem.ts';
import type { Subject } from './subject.ts';

export interface ReadingRecord {
  readonly id: string;
  readonly day: string;
  readonly km: number;
}
export interface ServiceRecord {
  readonly componentKey: string;
  readonly certainty: Certainty;
  readonly day: string | null;
  readonly grade: Grade;
  readonly revision: string | null;
  readonly source: Source | null;
  readonly cameOut: Condition | null;
}
export interface FindingRecord {
  readonly weakPointId: string;
  readonly day: string;
  readonly result: Condition;
  readonly broughtIn: boolean;
  readonly sinceDay: string | null;
}

/** An open complaint about a symptom that the library knows. */
export interface ReportRecord {
  readonly symptom: string;
  readonly words: string;
  readonly day: string;
  readonly goodDay: string | null;
  readonly stop: string | null;
  readonly drive: string | null;
  readonly forbids: readonly Forbiddable[];
}

/** A vehicle with everything on record that counts, oldest first. */
export interface VehicleRecords {
  readonly row: VehicleRow;
  readonly readings: readonly ReadingRecord[];
  readonly services: readonly ServiceRecord[];
  readonly findings: readonly FindingRecord[];
  readonly reports: readonly ReportRecord[];
  readonly upkeep: readonly { readonly taskId: string; readonly certainty: 'done' | 'never'; readonly day: string }[];
  readonly meterChanges: readonly { readonly day: string; readonly oldKm: number; readonly newKm: number }[];
  readonly engineSwaps: readonly { readonly day: string; readonly engineKm: number | null }[];
  readonly choices: readonly {
    readonly weakPointId: string | null;
    readonly school: School;
    readonly reason: string;
  }[];
}

// One query and one row a vehicle, whether it is one vehicle or a fleet's worth: no entity objects, no round trip a
// table.
const OF_VEHICLES = `
  select ${[
    columnsOf(VehicleEntity, 'v'),
    ...RECORDS.flatMap(([table, { reckoned }]) =>
      reckoned === null
        ? []
        : [
            `(
      select coalesce(json_agg(json_build_object(${jsonPairs(reckoned.columns)}) order by ${reckoned.order}), '[]')
      from ${table} r ${reckoned.joins ?? ''}
      where r.vehicle_id = v.id and r.retracted_at is null
    ) as "${reckoned.as}"`,
          ],
    ),
  ].join(',\n    ')}
  from vehicle v
  where v.id = any($1::uuid[]) and v.retracted_at is null`;

/** Records of some vehicles; those taken back are left out. */
export async function recordsOf(
  manager: EntityManager,
  vehicleIds: readonly string[],
): Promise<Map<string, VehicleRecords>> {
  const rows = await manager.query<(VehicleRow & Omit<VehicleRecords, 'row'>)[]>(OF_VEHICLES, [vehicleIds]);
  return new Map(
    rows.map(
      ({
        readings,
        services,
        findings,
        reports,
        upkeep,
        meterChanges,
        engineSwaps,
        choices,
        ...row
      }): [string, VehicleRecords] => [
        row.id,
        { row, readings, services, findings, reports, upkeep, meterChanges, engineSwaps, choices },
      ],
    ),
  );
}

/** Records of one vehicle. Throws not_found. */
export async function recordsOfVehicle(manager: EntityManager, id: string): Promise<VehicleRecords> {
  const records = (await recordsOf(manager, [id])).get(id);
  if (!records) throw new Problem('not_found');
  return records;
}

const dayOf = (iso: string): number => dayFromIso(iso)!;
const dayOrNull = (iso: string | null): number | null => (iso === null ? null : dayOf(iso));

/** What is known of a vehicle on file, as the question that its answer is reckoned for. */
export function subjectOf({ row, ...records }: VehicleRecords, today: number): Subject {
  const readings = records.readings.map(({ day, km }) => ({ day: dayOf(day), km }));
  return {
    // Without any reading the usual distance stands in for one; the screen says that nothing was read.
    readings,
    registeredDay: dayOrNull(row.firstRegistered) ?? (readings.length === 0 ? today : null),
    registeredExact: true,
    meterChanges: records.meterChanges.map((change) => ({ ...change, day: dayOf(change.day) })),
    engineSwaps: records.engineSwaps.map((swap) => ({ ...swap, day: dayOf(swap.day) })),
    variantKey: row.variantKey,
    model: row.model,
    market: row.market,
    serial: row.serial,
    features: row.features,
    fitted: row.fitted,
    severity: row.severity,
    duty: row.duty,
    counted: true,
    choices: records.choices,
    services: records.services.map((service) => ({ ...service, day: dayOrNull(service.day) })),
    reports: records.reports.map((report) => ({
      ...report,
      day: dayOf(report.day),
      goodDay: dayOrNull(report.goodDay),
    })),
    suspects: new Map(),
    upkeep: records.upkeep.map((record) => ({ ...record, day: dayOf(record.day) })),
    findings: records.findings.map((finding) => ({
      ...finding,
      day: dayOf(finding.day),
      sinceDay: dayOrNull(finding.sinceDay),
    })),
  };
}

/** Day on which the vehicle first came to this workshop: as told, else that of its first reading or record. */
export function firstSeenDay({ row, readings, findings }: VehicleRecords, today: number): number {
  return (
    dayOrNull(row.firstSeen) ??
    Math.min(
      today,
      ...readings.slice(0, 1).map(({ day }) => dayOf(day)),
      ...findings.slice(0, 1).map(({ day }) => dayOf(day)),
    )
  );
}
