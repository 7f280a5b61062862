import { SAID, sameJson, type AuditedName, type Changed, type ChangeId, type VehicleId } from '@crosspeen/contract';
import type { DataSource, DeepPartial, EntityManager, EntitySchema } from 'typeorm';
import type { ShopClock } from '../platform/clock.ts';
import { once, type Author } from '../platform/once.ts';
import { Problem } from '../platform/problem.ts';
import { SettingEntity } from './setting-rows.ts';
import { RECORD_KINDS, type RecordName, type RowOfRecord } from './records.ts';
import { VehicleEntity } from './vehicle-rows.ts';
import { VisitEntity, VisitJobEntity, VisitTaskEntity } from './visit-rows.ts';
import { ChangeEntity, ChangeItemEntity, type ChangeItemRow } from './change-rows.ts';
import { inTransaction } from '../platform/transaction.ts';

/** Tables whose every change is recorded and can be undone. */
const AUDITED = {
  vehicle: VehicleEntity,
  visit: VisitEntity,
  visit_job: VisitJobEntity,
  visit_task: VisitTaskEntity,
  setting: SettingEntity,
  ...(Object.fromEntries(Object.entries(RECORD_KINDS).map(([table, { entity }]) => [table, entity])) as {
    readonly [Name in RecordName]: (typeof RECORD_KINDS)[Name]['entity'];
  }),
} as const satisfies Record<AuditedName, EntitySchema>;
type RowOf<Name extends AuditedName> = Name extends RecordName
  ? RowOfRecord<Name>
  : (typeof AUDITED)[Name] extends EntitySchema<infer Row>
    ? Row
    : never;
interface AuditedRow {
  id: string | number;
  version?: number;
  retractedAt?: Date | null;
}

export type ChangeAuthor = Author;

const asKept = (row: object): Record<string, unknown> => JSON.parse(JSON.stringify(row)) as Record<string, unknown>;

/** Writes audited rows inside one transaction and remembers what each was before and after. */
export class Journal {
  readonly items: Omit<ChangeItemRow, 'id' | 'changeId'>[] = [];

  constructor(
    readonly manager: EntityManager,
    readonly clock: ShopClock,
  ) {}

  /** The row as it is now, locked until the transaction ends. Throws not_found. */
  async lock<Name extends AuditedName>(name: Name, id: string | number): Promise<RowOf<Name>> {
    const schema = AUDITED[name] as unknown as EntitySchema<AuditedRow>;
    const row = await this.manager.findOne(schema, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!row || row.retractedAt) throw new Problem('not_found');
    return row as RowOf<Name>;
  }

  async insert<Name extends AuditedName>(name: Name, values: Partial<RowOf<Name>>): Promise<RowOf<Name>> {
    const schema = AUDITED[name] as unknown as EntitySchema<AuditedRow>;
    const row = await this.manager.save(schema, this.manager.create(schema, values as DeepPartial<AuditedRow>));
    this.items.push({ entity: name, entityId: String(row.id), before: null, after: asKept(row) });
    return row as RowOf<Name>;
  }

  /**
   * Changes a row; `expectedVersion`, where given, must be the row's own, else changed_meanwhile with the row as it is
   * now.
   */
  async update<Name extends AuditedName>(
    name: Name,
    id: string | number,
    patch: Partial<RowOf<Name>>,
    expectedVersion?: number,
  ): Promise<RowOf<Name>> {
    const schema = AUDITED[name] as unknown as EntitySchema<AuditedRow>;
    const row = (await this.lock(name, id)) as unknown as AuditedRow;
    const before = asKept(row);
    if (expectedVersion !== undefined && row.version !== expectedVersion)
      throw new Problem('changed_meanwhile', { current: before });
    Object.assign(row, patch);
    if (row.version !== undefined) row.version += 1;
    await this.manager.save(schema, row);
    this.items.push({ entity: name, entityId: String(id), before, after: asKept(row) });
    return row as unknown as RowOf<Name>;
  }

  /** Takes a row back: it stays in the database, marked, and no longer counts. */
  async retract(name: Exclude<AuditedName, 'setting'>, id: string): Promise<void> {
    await this.update(name, id, { retractedAt: this.clock.now() });
  }
}

/**
 * What a change does after its rows are written, inside the same transaction (such as computing a vehicle's standing
 * anew).
 */
export type AfterChange = (manager: EntityManager, vehicleId: string) => Promise<void>;

/** Services that ChangeService works with. */
export interface ChangeServiceNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Changes of vehicles and settings: each is one transaction with its journal, and can be taken back. */
export class ChangeService {
  private readonly after: AfterChange[] = [];
  private readonly committed: (() => void)[] = [];

  constructor(private readonly needs: ChangeServiceNeeds) {}

  /** Registers work that belongs to every change of a vehicle. */
  onVehicleChange(work: AfterChange): void {
    this.after.push(work);
  }

  /** Registers work to begin when a change is committed; it must not throw. */
  onCommitted(work: () => void): void {
    this.committed.push(work);
  }

  /**
   * Runs `work` in one transaction and records it as one change that can be undone. Nothing is half-written, and a form
   * sent twice writes once.
   */
  async record(
    author: ChangeAuthor,
    work: (journal: Journal) => Promise<{ id: string; vehicleId: string | null; summary: string }>,
  ): Promise<Changed> {
    const done = await inTransaction(this.needs.source, (manager) =>
      once(manager, author, async () => {
        const journal = new Journal(manager, this.needs.clock);
        const result = await work(journal);
        const changeId = await this.write(manager, author, { ...result, undoes: null }, journal.items);
        return { ...result, changeId, vehicleId: result.vehicleId as VehicleId | null };
      }),
    );
    for (const begin of this.committed) begin();
    return done;
  }

  /** Whether a change wrote rows of a table. */
  touches(changeId: string, entity: AuditedName): Promise<boolean> {
    return this.needs.source.manager.existsBy(ChangeItemEntity, { changeId, entity });
  }

  /**
   * Takes a change back: inserted rows are retracted, changed rows get their earlier values, unless something changed
   * them since.
   */
  async undo(author: ChangeAuthor, changeId: string): Promise<Changed> {
    const done = await inTransaction(this.needs.source, async (manager) => {
      const change = await manager.findOne(ChangeEntity, {
        where: { id: changeId },
        lock: { mode: 'pessimistic_write' },
      });
      if (!change) throw new Problem('not_found');
      if (change.undoes !== null) throw new Problem(SAID.undoIsNotUndone);
      if (await manager.existsBy(ChangeEntity, { undoes: changeId })) throw new Problem('already_undone');
      const items = await manager.find(ChangeItemEntity, { where: { changeId }, order: { id: 'DESC' } });
      const journal = new Journal(manager, this.needs.clock);
      for (const item of items) await undoItem(journal, item);
      const summary = `Undone: ${change.summary}`;
      const undoId = await this.write(
        manager,
        author,
        { vehicleId: change.vehicleId, summary, undoes: changeId },
        journal.items,
      );
      return { id: changeId, summary, changeId: undoId, vehicleId: change.vehicleId as VehicleId | null };
    });
    for (const work of this.committed) work();
    return done;
  }

  private async write(
    manager: EntityManager,
    { userId }: ChangeAuthor,
    { vehicleId, summary, undoes }: { vehicleId: string | null; summary: string; undoes: string | null },
    items: Journal['items'],
  ): Promise<ChangeId> {
    const change = await manager.save(
      ChangeEntity,
      manager.create(ChangeEntity, { userId, vehicleId, summary, undoes }),
    );
    await manager.insert(ChangeItemEntity, items.map((item) => ({ ...item, changeId: change.id })) as never);
    if (vehicleId !== null) for (const work of this.after) await work(manager, vehicleId);
    return change.id as ChangeId;
  }
}

async function undoItem(journal: Journal, { entity, entityId, before, after }: ChangeItemRow): Promise<void> {
  const name = entity as AuditedName;
  const schema = AUDITED[name] as unknown as EntitySchema<AuditedRow>;
  const id = name === 'setting' ? Number(entityId) : entityId;
  const row = await journal.manager.findOne(schema, { where: { id }, lock: { mode: 'pessimistic_write' } });
  if (!row || after === null) throw new Problem('not_found');
  const current = asKept(row);
  // Whatever this change wrote must still stand; otherwise a later change built on it.
  const touched = Object.keys(after).filter(
    (property) => property !== 'createdAt' && (before === null || !sameJson(before[property], after[property])),
  );
  if (touched.some((property) => !sameJson(current[property], after[property]))) throw new Problem('changed_since');
  const back =
    before === null
      ? { retractedAt: journal.clock.now() }
      : Object.fromEntries(
          touched.filter((property) => property !== 'version').map((property) => [property, before[property]]),
        );
  Object.assign(row, back);
  if (row.version !== undefined) row.version += 1;
  await journal.manager.save(schema, row);
  journal.items.push({ entity, entityId, before: current, after: asKept(row) });
}
