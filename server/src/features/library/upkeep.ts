import type { Changed, LibraryTask, TaskDraft } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { FamilyEntity } from '../../knowledge/rows.ts';
import { TASK_COLUMNS, taskFromDraft, UpkeepTaskEntity } from '../../knowledge/upkeep.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { FAULTS } from '@crosspeen/contract';
import { slug, type Author, type LibraryDesk } from '../../knowledge/desk.ts';

const SELECT = `select ${TASK_COLUMNS}, t.id as "taskId", t.family_id as "familyId", f.code as "engineCode", t.version,
    t.state = 'current' as "inUse", (select title from library_pack where key = t.pack_key) as pack, counted.*
  from upkeep_task t
  join engine_family f on f.id = t.family_id
  cross join lateral (
    select count(*)::int as done, count(distinct r.vehicle_id)::int as vehicles
    from upkeep_record r
    where r.task_id = t.id and r.retracted_at is null and r.certainty = 'done'
  ) as counted`;

/** Services that UpkeepShelf works with. */
export interface UpkeepShelfNeeds {
  readonly source: DataSource;
  readonly desk: LibraryDesk;
}

/** The recurring tasks of engines: read, written by hand, and taken out of use. */
export class UpkeepShelf {
  constructor(private readonly needs: UpkeepShelfNeeds) {}

  /** One page of the tasks of an engine, those in use first, with how often each is on record. */
  ofFamily(familyId: string, asked: PageAsked): Promise<Paged<LibraryTask>> {
    return paged<LibraryTask>(this.needs.source, asked, {
      values: [familyId],
      counted: 'from upkeep_task where family_id = $1',
      rows: (limits) => `${SELECT} where t.family_id = $1 order by t.state, t.position, t.key ${limits}`,
    });
  }

  /** Writes a new task of an engine. */
  create(author: Author, draft: TaskDraft): Promise<Changed> {
    return this.needs.desk.change(author, async (writer) => {
      const { manager } = writer;
      const family = await manager.findOneBy(FamilyEntity, { id: draft.familyId });
      if (!family) throw badField('familyId', FAULTS.noEngine);
      const bench = await this.needs.desk.benchOf(writer);
      const columns = await taskFromDraft(manager, draft, null, bench.key);
      const key = await this.needs.desk.freeKey(manager, 'upkeep_task', `${family.key}-${slug(draft.title)}`);
      const last = await manager.maximum(UpkeepTaskEntity, 'position', { familyId: draft.familyId });
      const rows = await writer.upsert('upkeep_task', [
        { key, ...columns, position: (last ?? -1) + 1, written_by: author.userId },
      ]);
      return { id: rows.get(key)!, familyId: draft.familyId, summary: `Upkeep “${draft.title}” written` };
    });
  }

  /** Changes a task. Throws changed_meanwhile with the row as it is now. */
  update(author: Author, id: string, draft: TaskDraft, version: number): Promise<Changed> {
    return this.needs.desk.change(author, async (writer) => {
      const { manager } = writer;
      const now = await manager.findOneBy(UpkeepTaskEntity, { id });
      if (!now) throw new Problem('not_found');
      if (now.familyId !== draft.familyId) throw badField('familyId', FAULTS.engineStays);
      const bench = await this.needs.desk.benchOf(writer);
      await writer.update('upkeep_task', id, await taskFromDraft(manager, draft, now, bench.key), version);
      const words = draft.inUse ? 'changed' : 'taken out of use';
      return { id, familyId: draft.familyId, summary: `Upkeep “${draft.title}” ${words}` };
    });
  }
}
