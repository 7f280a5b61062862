import { SAID, type Changed } from '@crosspeen/contract';
import type { DataSource, EntityManager } from 'typeorm';
import { once, type Author as Sender } from '../platform/once.ts';
import { Problem } from '../platform/problem.ts';
import { AuthorityEntity, LibraryChangeEntity } from './rows.ts';
import { LibraryWriter } from './writer.ts';
import { inTransaction } from '../platform/transaction.ts';

/** Somebody who writes in the library. */
export interface Author extends Sender {
  readonly role: string;
}

/** A key from words: lower case, hyphens, no more than is worth reading. */
export const slug = (words: string): string =>
  words
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 70)
    .replace(/^-+|-+$/g, '') || 'entry';

/** Marks vehicles to be judged again. */
type MarkBehind = (manager: EntityManager, vehicleIds: readonly string[]) => Promise<unknown>;

/** Changes of the library by hand: each is one transaction, kept with before and after, and can be taken back. */
export class LibraryDesk {
  private readonly source: DataSource;
  private readonly markBehind: MarkBehind;
  private readonly written: (() => void)[] = [];

  constructor({ source, markBehind }: { readonly source: DataSource; readonly markBehind: MarkBehind }) {
    this.source = source;
    this.markBehind = markBehind;
  }

  /** Registers work to begin when a change is committed; it must not throw. */
  onWritten(work: () => void): void {
    this.written.push(work);
  }

  announce(): void {
    for (const work of this.written) work();
  }

  private async familyVehiclesBehind(manager: EntityManager, familyId: string): Promise<void> {
    const ids = await manager.query<{ id: string }[]>(
      'select id from vehicle where family_id = $1 and retracted_at is null',
      [familyId],
    );
    if (ids.length > 0)
      await this.markBehind(
        manager,
        ids.map(({ id }) => id),
      );
  }

  /** A key made of `words` that no row of the table has yet. */
  async freeKey(
    manager: EntityManager,
    table: 'maker' | 'engine_family' | 'weak_point' | 'component' | 'authority' | 'notice' | 'upkeep_task',
    words: string,
  ): Promise<string> {
    const wanted = slug(words);
    // Whoever writes at the same moment waits: two must not find the same key free.
    await manager.query("select pg_advisory_xact_lock(hashtext('library key of ' || $1))", [table]);
    const taken = new Set(
      (
        await manager.query<{ key: string }[]>(`select key from ${table} where key = $1 or key like $1 || '-%'`, [
          wanted,
        ])
      ).map(({ key }) => key),
    );
    if (!taken.has(wanted)) return wanted;
    let n = 2;
    while (taken.has(`${wanted}-${n}`)) n += 1;
    return `${wanted}-${n}`;
  }

  /** The workshop's own authority in the library; it is written with its first statement. */
  async benchOf(writer: LibraryWriter): Promise<{ readonly id: string; readonly key: string }> {
    const bench = await writer.manager.findOne(AuthorityEntity, { where: { kind: 'bench' }, order: { key: 'ASC' } });
    if (bench) return bench;
    const written = await writer.upsert('authority', [
      { key: 'own-bench', kind: 'bench', name: 'Our own bench', region: null, pack_key: null },
    ]);
    return { id: written.get('own-bench')!, key: 'own-bench' };
  }

  /**
   * One change of the library, all or nothing; the vehicles of the family it is about, if it is about one, are judged
   * again.
   */
  async change(
    author: Author,
    work: (writer: LibraryWriter) => Promise<{ id: string; familyId: string | null; summary: string }>,
  ): Promise<Changed> {
    const done = await inTransaction(this.source, (manager) =>
      once(manager, author, async () => {
        const writer = new LibraryWriter(manager);
        const { id, familyId, summary } = await work(writer);
        // Only now: what belongs to a row may differ where the row does not, and its version moves on all the same.
        if (!writer.differs()) throw new Problem(SAID.nothingDiffers);
        const changeId = await writer.keep({ userId: author.userId, kind: 'edit', summary });
        if (familyId !== null) await this.familyVehiclesBehind(manager, familyId);
        return { id, changeId: changeId as Changed['changeId'], summary, vehicleId: null };
      }),
    );
    this.announce();
    return done;
  }

  /** The pack counts again as the edition that stood before; as none where there was none. */
  private async packVersionBack(manager: EntityManager, changeId: string): Promise<void> {
    await manager.query(
      `update library_pack p
        set version = coalesce(
          (
            select e.pack_version
            from library_change e
            where e.pack_key = c.pack_key
              and e.kind = 'pack'
              and e.at < c.at
              and not exists (select 1 from library_change z where z.undoes = e.id)
            order by e.at desc
            limit 1
          ), 'none'
        )
       from library_change c where c.id = $1 and p.key = c.pack_key`,
      [changeId],
    );
    await manager.query("delete from library_pack where version = 'none'");
  }

  /** What kind of change of the library an id names; null where it is none. */
  async kindOf(changeId: string): Promise<'pack' | 'edit' | 'undo' | null> {
    const change = await this.source.manager.findOneBy(LibraryChangeEntity, { id: changeId });
    return change?.kind ?? null;
  }

  /** Takes a change of the library back, whole. Throws already_undone, changed_since, in_use. */
  async undo(author: Author, changeId: string): Promise<Changed> {
    const done = await inTransaction(this.source, async (manager) => {
      const change = await manager.findOne(LibraryChangeEntity, {
        where: { id: changeId },
        lock: { mode: 'pessimistic_write' },
      });
      if (!change) throw new Problem('not_found');
      if (author.role !== 'owner' && change.userId !== author.userId) throw new Problem(SAID.writtenBySomebodyElse);
      if (change.kind === 'undo') throw new Problem(SAID.undoIsNotUndone);
      if (await manager.existsBy(LibraryChangeEntity, { undoes: changeId })) throw new Problem('already_undone');
      const writer = new LibraryWriter(manager);
      await writer.undo(changeId);
      if (change.kind === 'pack') await this.packVersionBack(manager, changeId);
      const summary = `Undone: ${change.summary}`;
      const undoId = await writer.keep({ userId: author.userId, kind: 'undo', summary, undoes: changeId });
      const families = new Set(
        writer.items
          .flatMap(({ before, after }) => [before, after])
          .flatMap((row) => (typeof row?.['family_id'] === 'string' ? [row['family_id']] : [])),
      );
      for (const familyId of families) await this.familyVehiclesBehind(manager, familyId);
      return { id: changeId, changeId: undoId as Changed['changeId'], summary, vehicleId: null };
    });
    this.announce();
    return done;
  }
}
