import { SAID } from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import { Problem } from '../../platform/problem.ts';
import { markBehind } from '../../standings/batch.ts';
import { BULK_TABLES, EDITED } from './bulk.ts';

/**
 * Vehicles of an import on which something else was written since, which stay as they are: another change stands on a
 * vehicle that came in with the file, or a row that came in was changed. A change that was undone, and its undo, do not
 * count.
 */
const WORKED_ON = `
  with ours as (
    select id, vehicle_id
    from change
    where intake_id = $1 and not exists (select 1 from change u where u.undoes = change.id)
  ),
  others as (
    select c.id, c.vehicle_id
    from change c
    where c.vehicle_id in (select vehicle_id from ours)
      and c.intake_id is distinct from $1
      and c.undoes is null
      and not exists (select 1 from change u where u.undoes = c.id)
  )
  select o.vehicle_id as id
  from ours o
  join change_item i on i.change_id = o.id
  join others x on x.vehicle_id = o.vehicle_id
  where i.entity = 'vehicle'
  union
  select o.vehicle_id
  from ours o
  join change_item i on i.change_id = o.id
  join others x on x.vehicle_id = o.vehicle_id
  join change_item later on later.change_id = x.id and later.entity = i.entity and later.entity_id = i.entity_id`;

/** Takes the rows of one table back, as a journal would: marked, no longer counted. */
async function retractRows(manager: EntityManager, table: string, changeIds: readonly string[]): Promise<void> {
  await manager.query(
    `update "${table}" t
      set retracted_at = clock_timestamp()${EDITED.has(table) ? ', version = t.version + 1' : ''}
      from change_item i
      where i.change_id = any($1) and i.entity = $2 and t.id = i.entity_id::uuid and t.retracted_at is null`,
    [changeIds, table],
  );
}

/** Writes an undo for each change, with what each row was and is, so that every vehicle's trail says it. */
async function writeUndos(
  manager: EntityManager,
  { changeIds, userId }: { readonly changeIds: readonly string[]; readonly userId: string },
): Promise<void> {
  await manager.query(
    `insert into change (user_id, vehicle_id, summary, undoes, intake_id)
      select $2, vehicle_id, 'Undone: ' || summary, id, intake_id
      from change
      where id = any($1)`,
    [changeIds, userId],
  );
  await manager.query(
    `insert into change_item (change_id, entity, entity_id, before, after)
      select u.id, i.entity, i.entity_id, i.after,
        i.after || jsonb_build_object('retractedAt', clock_timestamp()) ||
          case when i.after ? 'version' and i.entity = any($2)
            then jsonb_build_object('version', (i.after ->> 'version')::int + 1) else '{}' end
      from change_item i
      join change u on u.undoes = i.change_id
      where i.change_id = any($1)`,
    [changeIds, [...EDITED]],
  );
}

/**
 * Takes an import back in the caller's transaction, all that still stands as it came in. Vehicles that were worked on
 * since stay whole, and are counted. Throws not_found, already_undone, and bad_file while it runs.
 */
export async function undoImport(manager: EntityManager, fileId: string, userId: string): Promise<void> {
  const [file] = await manager.query<{ state: string; undoneAt: Date | null }[]>(
    'select state, undone_at as "undoneAt" from intake_file where id = $1 for update',
    [fileId],
  );
  if (!file || file.state === 'held') throw new Problem('not_found');
  if (file.state === 'running') throw new Problem(SAID.importStillRuns);
  if (file.undoneAt !== null) throw new Problem('already_undone');
  // Whoever writes on one of these vehicles meanwhile waits for this, or is waited for.
  await manager.query(
    `select v.id
      from vehicle v
      where v.id in (select vehicle_id from change where intake_id = $1)
      order by v.id
      for update`,
    [fileId],
  );
  const worked = (await manager.query<{ id: string }[]>(WORKED_ON, [fileId])).map(({ id }) => id);
  const changes = await manager.query<{ id: string; vehicleId: string }[]>(
    `select c.id, c.vehicle_id as "vehicleId"
      from change c
      where c.intake_id = $1 and c.undoes is null and c.vehicle_id <> all($2)
        and not exists (select 1 from change u where u.undoes = c.id)`,
    [fileId, worked],
  );
  const changeIds = changes.map(({ id }) => id);
  for (const table of [...BULK_TABLES].reverse()) await retractRows(manager, table, changeIds);
  await writeUndos(manager, { changeIds, userId });
  await markBehind(manager, [...new Set(changes.map(({ vehicleId }) => vehicleId))]);
  await manager.query(
    'update intake_file set undone_at = clock_timestamp(), undone_by = $2, left_standing = $3 where id = $1',
    [fileId, userId, worked.length],
  );
}
