import { FAULTS } from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import type { LibraryService, RevisedKnowledge } from './library.ts';
import { badField } from '../platform/problem.ts';

/** What the library knows of a vehicle's engine. Throws bad_input where there is no such engine. */
export async function engineOnFile(
  library: LibraryService,
  manager: EntityManager,
  familyId: string,
): Promise<RevisedKnowledge> {
  const knowledge = await library.family(manager, familyId);
  if (!knowledge) throw badField('familyId', FAULTS.noEngine);
  return knowledge;
}

/** A weak point of a vehicle's own engine, with its component. Throws bad_input for another engine's. */
export async function pointOfEngine(
  manager: EntityManager,
  familyId: string,
  weakPointId: string,
): Promise<{ title: string; component: string; componentId: string; renewMinutes: number }> {
  const rows = await manager.query<
    { title: string; component: string; componentId: string; renewMinutes: number; family_id: string }[]
  >(
    `select w.title, c.name as component, c.id as "componentId", w.renew_minutes as "renewMinutes", w.family_id
      from weak_point w
      join component c on c.id = w.component_id
      where w.id = $1`,
    [weakPointId],
  );
  if (rows[0]?.family_id !== familyId) throw badField('weakPointId', FAULTS.noWeakPoint);
  return rows[0];
}
