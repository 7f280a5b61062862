import { entity, nullable, text, uuid, uuidKey, writtenAt, json } from '../platform/entity.ts';

export interface ChangeRecord {
  id: string;
  at: Date;
  userId: string;
  vehicleId: string | null;
  summary: string;
  undoes: string | null;
  /** The spreadsheet that wrote it, or whose import it takes back. */
  intakeId: string | null;
}
export const ChangeEntity = entity<ChangeRecord>('change', {
  id: uuidKey,
  at: writtenAt,
  userId: uuid,
  vehicleId: nullable(uuid),
  summary: text,
  undoes: nullable(uuid),
  intakeId: nullable(uuid),
});

export interface ChangeItemRow {
  id: number;
  changeId: string;
  entity: string;
  entityId: string;
  before: Record<string, unknown> | null;
  after: Record<string, unknown> | null;
}
export const ChangeItemEntity = entity<ChangeItemRow>('change_item', {
  id: { type: 'bigint', primary: true, generated: 'increment' },
  changeId: uuid,
  entity: text,
  entityId: text,
  before: nullable(json),
  after: nullable(json),
});
