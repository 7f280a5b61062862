import { randomUUID } from 'node:crypto';
import { snake } from '../../platform/entity.ts';
import type { EntityManager, EntitySchema } from 'typeorm';
import { markBehind } from '../../standings/batch.ts';
import { VehicleEntity, type VehicleRow } from '../../ledger/vehicle-rows.ts';
import type { RECORD_KINDS } from '../../ledger/records.ts';
import { RECORDS, type RecordName, type RowOfRecord } from '../../ledger/records.ts';
import { VisitEntity, VisitJobEntity, type VisitJobRow, type VisitRow } from '../../ledger/visit-rows.ts';

type Fresh<Row> = Omit<Row, 'id' | 'retractedAt' | 'userId' | 'createdAt' | 'version'> & { readonly id?: string };
type BulkName<Name extends RecordName> = (typeof RECORD_KINDS)[Name]['bulk'] & string;

/**
 * Rows that come in many at a time, checked already; each names its vehicle, which is on file or among them. Ids are
 * made where there is none.
 */
export type BulkRows = {
  readonly vehicles?: readonly Fresh<VehicleRow>[];
  readonly visits?: readonly Fresh<VisitRow>[];
  readonly jobs?: readonly (Fresh<VisitJobRow> & { readonly vehicleId: string })[];
} & { readonly [Name in RecordName as BulkName<Name>]?: readonly Fresh<RowOfRecord<Name>>[] };

/** Who writes them, and what the trail of each vehicle says of it. */
export interface BulkBy {
  readonly userId: string;
  readonly summary: (vehicleId: string) => string;
  /** The spreadsheet they come from, where they come from one. */
  readonly fileId?: string;
}

/** What others refer to first: vehicles, visits, and then the records of both. */
const TABLES: readonly (readonly [keyof BulkRows, string, EntitySchema])[] = [
  ['vehicles', 'vehicle', VehicleEntity],
  ['visits', 'visit', VisitEntity],
  ['jobs', 'visit_job', VisitJobEntity],
  ...RECORDS.flatMap(([table, { bulk, entity }]) =>
    bulk === null ? [] : [[bulk as keyof BulkRows, table, entity] as const],
  ),
];
/** Names of the tables, each after those it refers to. */
export const BULK_TABLES: readonly string[] = TABLES.map(([, table]) => table);
/** Tables whose rows say who wrote them, and those that people edit. */
const WRITTEN: ReadonlySet<string> = new Set(RECORDS.map(([table]) => table));
export const EDITED: ReadonlySet<string> = new Set(['vehicle', 'visit']);

/** Writes one table's rows in one statement; answers each as it then stands, with its vehicle. */
async function insertAll(
  manager: EntityManager,
  { table, schema }: { readonly table: string; readonly schema: EntitySchema },
  rows: readonly Readonly<Record<string, unknown>>[],
  { userId, at }: { readonly userId: string; readonly at: string },
): Promise<{ vehicleId: string; id: string; after: object }[]> {
  const full: (Record<string, unknown> & { id: string })[] = rows.map((row) => ({
    id: randomUUID(),
    ...row,
    ...(WRITTEN.has(table) ? { userId, createdAt: at } : {}),
    ...(EDITED.has(table) ? { version: 1 } : {}),
  }));
  const properties = Object.keys(schema.options.columns).filter((property) => property !== 'retractedAt');
  const columns = properties.map((property) => `"${snake(property)}"`).join(', ');
  const values = full.map((row) =>
    Object.fromEntries(properties.map((property) => [snake(property), row[property] ?? null])),
  );
  await manager.query(
    `insert into ${table} (${columns}) select ${columns} from jsonb_populate_recordset(null::${table}, $1::jsonb)`,
    [JSON.stringify(values)],
  );
  // As the trail knows rows, so that each can be undone as if it had been typed.
  const unset = { ...Object.fromEntries(properties.map((property) => [property, null])), retractedAt: null };
  return full.map((row) => ({
    vehicleId: String(table === 'vehicle' ? row.id : row['vehicleId']),
    id: row.id,
    after: { ...unset, ...Object.fromEntries(properties.map((property) => [property, row[property] ?? null])) },
  }));
}

/**
 * Writes many rows at once in the caller's transaction, with a change on the trail of every vehicle they touch; what
 * the workshop has seen of those vehicles and their judgement are marked as behind, for the next round. Answers how
 * many rows of each table were written.
 */
export async function writeBulk(manager: EntityManager, rows: BulkRows, by: BulkBy): Promise<Record<string, number>> {
  const kept: Record<string, number> = {};
  const items: { changeId: string; entity: string; entityId: string; after: object }[] = [];
  const changes = new Map<string, string>();
  // When a row was written is the database's to say, for what is typed as for what comes in many at a time.
  const [now] = await manager.query<{ at: Date }[]>('select clock_timestamp() as at');
  const at = now!.at.toISOString();
  for (const [name, table, schema] of TABLES) {
    const own = rows[name] ?? [];
    if (own.length === 0) continue;
    kept[table] = own.length;
    for (const { vehicleId, id, after } of await insertAll(manager, { table, schema }, own, {
      userId: by.userId,
      at,
    })) {
      const changeId = changes.get(vehicleId) ?? randomUUID();
      changes.set(vehicleId, changeId);
      items.push({ changeId, entity: table, entityId: id, after });
    }
  }
  if (changes.size === 0) return kept;
  const touched = [...changes.keys()];
  await manager.query(
    `insert into change (id, user_id, vehicle_id, summary, intake_id)
      select id, $1, vehicle_id, summary, $3
      from jsonb_to_recordset($2::jsonb) as c(id uuid, vehicle_id uuid, summary text)`,
    [
      by.userId,
      JSON.stringify(
        [...changes].map(([vehicleId, id]) => ({ id, vehicle_id: vehicleId, summary: by.summary(vehicleId) })),
      ),
      by.fileId ?? null,
    ],
  );
  await manager.query(
    `insert into change_item (change_id, entity, entity_id, after)
      select change_id, entity, entity_id, after
      from jsonb_to_recordset($1::jsonb) as i(change_id uuid, entity text, entity_id text, after jsonb)`,
    [
      JSON.stringify(
        items.map(({ changeId, entity, entityId, after }) => ({
          change_id: changeId,
          entity,
          entity_id: entityId,
          after,
        })),
      ),
    ],
  );
  await markBehind(manager, touched);
  return kept;
}
