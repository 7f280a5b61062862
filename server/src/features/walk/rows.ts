import { type WalkEntry, type WalkPhoto } from '@crosspeen/contract';
import { type EntityManager } from 'typeorm';
import { type WalkEntryRow } from '../../ledger/walk-rows.ts';

export const keyOf = ({ weakPointId, taskId }: Pick<WalkEntryRow, 'weakPointId' | 'taskId'>): WalkEntry['key'] =>
  weakPointId === null ? `task:${taskId}` : `point:${weakPointId}`;

/** Entries of a walk as they are read; one whose record was taken back since was put aside with it. */
export const ENTRIES = `
  select e.id, e.weak_point_id as "weakPointId", e.task_id as "taskId", e.result, e.grade, e.measured, e.unit, e.note,
    e.made_at as "madeAt", u.display_name as by, e.held_because as "heldBecause",
    case when e.finding_id is not null or e.upkeep_id is not null then e.change_id end as "changeId",
    case
      when e.state = 'stands' and coalesce(f.retracted_at, k.retracted_at) is not null then 'dropped'
      else e.state
    end as state
  from walk_entry e
  join app_user u on u.id = e.user_id
  left join finding f on f.id = e.finding_id
  left join upkeep_record k on k.id = e.upkeep_id
  where e.walk_id = $1
  order by e.created_at, e.id`;

export type EntryOut = Omit<WalkEntry, 'key' | 'madeAt'> & Pick<WalkEntryRow, 'weakPointId' | 'taskId' | 'madeAt'>;

/** Photos of a vehicle by a condition on `p`, oldest first. */
export const photosWhere = (condition: string): string => `
  select p.id, p.weak_point_id as "weakPointId", p.task_id as "taskId", p.entry_id as "entryId", p.day, p.width, p.height,
    u.display_name as by
  from photo p
  join app_user u on u.id = p.user_id
  where ${condition} and p.retracted_at is null
  order by p.day, p.created_at`;

export type PhotoOut = Omit<WalkPhoto, 'key'> & { weakPointId: string | null; taskId: string | null };

export const wirePhoto = ({ weakPointId, taskId, ...photo }: PhotoOut): WalkPhoto => ({
  ...photo,
  key: weakPointId === null && taskId === null ? null : keyOf({ weakPointId, taskId }),
});

/** The photos of one weak point of a vehicle. */
export const photosOfPoint = async (
  manager: EntityManager,
  vehicleId: string,
  weakPointId: string,
): Promise<WalkPhoto[]> =>
  (
    await manager.query<PhotoOut[]>(photosWhere('p.vehicle_id = $1 and p.weak_point_id = $2'), [vehicleId, weakPointId])
  ).map(wirePhoto);
