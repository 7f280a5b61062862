import type { ENTRY_STATES, HELD_BECAUSE, WalkResult } from '@crosspeen/contract';
import {
  day,
  entity,
  float,
  instant,
  integer,
  json,
  nullable,
  text,
  uuid,
  uuidKey,
  writtenAt,
} from '../platform/entity.ts';

/** A walk round a vehicle. */
export interface WalkRow {
  id: string;
  vehicleId: string;
  userId: string;
  day: string;
  budgetMinutes: number | null;
  /** What was on the sheet when it began, in its order, with the chance of each as it was then. */
  items: readonly { readonly key: string; readonly chance: number | null }[];
  createdAt: Date;
  endedAt: Date | null;
  version: number;
}
export const WalkEntity = entity<WalkRow>('walk', {
  id: uuidKey,
  vehicleId: uuid,
  userId: uuid,
  day,
  budgetMinutes: nullable(integer),
  items: json,
  createdAt: writtenAt,
  endedAt: nullable(instant),
  version: integer,
});

/** What was entered on a walk, under the id that the device gave it. */
export interface WalkEntryRow {
  id: string;
  walkId: string;
  weakPointId: string | null;
  taskId: string | null;
  result: WalkResult;
  grade: string | null;
  measured: number | null;
  unit: string | null;
  note: string | null;
  madeAt: Date;
  /** The entry that the device had last seen for the same thing. */
  seen: string | null;
  userId: string;
  createdAt: Date;
  state: (typeof ENTRY_STATES)[number];
  heldBecause: (typeof HELD_BECAUSE)[number] | null;
  changeId: string | null;
  findingId: string | null;
  upkeepId: string | null;
}
export const WalkEntryEntity = entity<WalkEntryRow>('walk_entry', {
  id: { type: 'uuid', primary: true },
  walkId: uuid,
  weakPointId: nullable(uuid),
  taskId: nullable(uuid),
  result: text,
  grade: nullable(text),
  measured: nullable(float),
  unit: nullable(text),
  note: nullable(text),
  madeAt: instant,
  seen: nullable(uuid),
  userId: uuid,
  createdAt: writtenAt,
  state: text,
  heldBecause: nullable(text),
  changeId: nullable(uuid),
  findingId: nullable(uuid),
  upkeepId: nullable(uuid),
});
