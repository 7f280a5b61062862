import {
  SAID,
  pack as packSchema,
  type Changed,
  type LibraryPack,
  type Pack,
  type PackChoice,
  type PackDiffRow,
  type PackPreview,
} from '@crosspeen/contract';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { AuthorityEntity, PackEntity, PackUploadEntity } from '../../knowledge/rows.ts';
import { saidInPack, statementColumns, StatementEntity } from '../../knowledge/statement.ts';
import { WeakPointEntity } from '../../knowledge/weak-point-row.ts';
import { once, type Author } from '../../platform/once.ts';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { markBehind } from '../../standings/batch.ts';
import { loadPack } from '../../knowledge/pack-in.ts';
import { readPack } from '../../knowledge/pack-text.ts';
import { OUT_OF_USE, packDiff, type Leaving } from './diff.ts';
import type { LibraryWriter } from '../../knowledge/writer.ts';
import { inTransaction } from '../../platform/transaction.ts';

/** What a pack is read and imported by: a desk in the caller's own thread, or one behind a thread of its own. */
export interface PackWork {
  readonly preview: (author: Author, name: string, text: string) => Promise<PackPreview>;
  readonly take: (author: Author, uploadId: string, choices: Readonly<Record<string, PackChoice>>) => Promise<Changed>;
}

/** Services that PackDesk works with. */
export interface PackDeskNeeds {
  readonly source: DataSource;
  readonly announce: () => void;
}

/** Packs as files: out of the library, and into it with everything seen before anything is written. */
export class PackDesk {
  /** `announce` tells that the library has changed, when that is committed. */
  constructor(private readonly needs: PackDeskNeeds) {}

  /** One page of the packs on file, by title. */
  async list(asked: PageAsked): Promise<Paged<LibraryPack>> {
    const { rows, total } = await paged<Omit<LibraryPack, 'loadedAt'> & { loadedAt: Date }>(this.needs.source, asked, {
      counted: 'from library_pack',
      rows: (limits) => `select p.key, p.title, p.version, p.licence, p.loaded_at as "loadedAt",
            (select count(*)::int from engine_family f where f.pack_key = p.key) as engines,
           (
             select count(*)::int from weak_point w where w.pack_key = p.key and w.state in ('published', 'retired')
           ) as points,
             (select count(*)::int from notice n where n.pack_key = p.key and n.state = 'current') as notices
         from library_pack p order by p.title, p.key ${limits}`,
    });
    return { rows: rows.map((row) => ({ ...row, loadedAt: row.loadedAt.toISOString() })), total };
  }

  /** Reads a pack file and shows row by row what taking it in would do. Nothing of the library is written. */
  async preview(author: Author, name: string, text: string): Promise<PackPreview> {
    const pack = readPack(text);
    const rows = await packDiff(this.needs.source, pack);
    await this.needs.source.query("delete from pack_upload where at < now() - interval '2 days'");
    const { manager } = this.needs.source;
    const upload = await manager.save(
      PackUploadEntity,
      manager.create(PackUploadEntity, { userId: author.userId, name: name.slice(0, 200), pack }),
    );
    const loaded = await manager.findOneBy(PackEntity, { key: pack.key });
    const of = (what: PackDiffRow['what']): number => rows.filter((row) => row.what === what).length;
    const all =
      pack.notices.length +
      pack.makers.length +
      pack.authorities.length +
      pack.components.length +
      pack.components.reduce((sum, { parts }) => sum + parts.length, 0) +
      pack.tools.length +
      pack.cautions.length +
      pack.symptoms.length +
      pack.families.reduce(
        (sum, family) =>
          sum +
          1 +
          family.variants.length +
          family.features.length +
          family.operations.length +
          family.weakPoints.length +
          family.upkeep.length,
        0,
      );
    const counts = { new: of('new'), changed: of('changed'), conflict: of('conflict'), gone: of('gone') };
    return {
      uploadId: upload.id,
      key: pack.key,
      title: pack.title,
      version: pack.version,
      licence: pack.licence,
      loadedVersion: loaded?.version ?? null,
      counts: { ...counts, same: Math.max(0, all - counts.new - counts.changed - counts.conflict) },
      rows,
    };
  }

  /**
   * Keeps our weak point and puts the other pack's view beside it, as an authority of its own: two that disagree are
   * not averaged.
   */
  private async beside(writer: LibraryWriter, pack: Pack, key: string): Promise<void> {
    const point = pack.families.flatMap(({ weakPoints }) => weakPoints).find((candidate) => candidate.key === key);
    const ours = await writer.manager.findOneBy(WeakPointEntity, { key });
    if (!point || !ours) return;
    const authority = `pack-${pack.key}`;
    const ids = await writer.upsert('authority', [
      { key: authority, kind: 'specialist', name: pack.title, region: null, pack_key: pack.key },
    ]);
    const standing = await writer.manager.find(StatementEntity, {
      where: { weakPointId: ours.id },
      order: { position: 'ASC' },
    });
    const speaking = point.statements.map((statement) => statement.authority);
    const authorities = new Map(
      (await writer.manager.findBy(AuthorityEntity, { key: In(speaking) })).map((row) => [row.key, row.id]),
    );
    let next = (standing.at(-1)?.position ?? -1) + 1;
    const own = standing.find(({ authorityId }) => authorityId === ids.get(authority));
    await writer.upsert('statement', [
      statementColumns({
        weakPointId: ours.id,
        position: own?.position ?? next,
        authorityId: ids.get(authority)!,
        edition: pack.version,
        words: `Says: ${point.share} of them, at ${point.causes.join('; ')}.`,
        interval: [],
        asks: 'renew',
        doubted: false,
        always: false,
        strength: null,
      }),
    ]);
    if (!own) next += 1;
    for (const statement of point.statements) {
      const authorityId = authorities.get(statement.authority);
      if (
        authorityId === undefined ||
        standing.some((row) => row.authorityId === authorityId && row.words === statement.words)
      )
        continue;
      await writer.upsert('statement', [
        statementColumns({
          ...saidInPack(statement),
          weakPointId: ours.id,
          position: next,
          authorityId,
          // An interval of another's view would move what is customary here.
          interval: [],
        }),
      ]);
      next += 1;
    }
  }

  /** Takes what a later edition no longer has out of use. Records name parts by their number, and keep it. */
  private async takeOut(writer: LibraryWriter, table: Leaving, key: string): Promise<void> {
    if (table === 'part') {
      await writer.remove('part', 'number = $1', key);
      return;
    }
    const [row] = await writer.manager.query<{ id: string }[]>(`select id from ${table} where key = $1`, [key]);
    if (row) await writer.update(table, row.id, { state: OUT_OF_USE[table] });
  }

  /**
   * Takes an uploaded pack in as it was chosen, all or nothing, in one change that can be taken back. Throws
   * changed_meanwhile when the library has moved on since the preview.
   */
  async take(author: Author, uploadId: string, choices: Readonly<Record<string, PackChoice>>): Promise<Changed> {
    const done = await inTransaction(this.needs.source, (manager) =>
      once(manager, author, () => this.takeIn(manager, author, uploadId, choices)),
    );
    this.needs.announce();
    return done;
  }

  private async takeIn(
    manager: EntityManager,
    author: Author,
    uploadId: string,
    choices: Readonly<Record<string, PackChoice>>,
  ): Promise<Changed> {
    const upload = await manager.findOneBy(PackUploadEntity, { id: uploadId });
    if (!upload) throw new Problem(SAID.fileGone);
    const pack = packSchema.parse(upload.pack);
    const rows = await packDiff(this.needs.source, pack);
    const unknown = Object.keys(choices).filter((id) => !rows.some((row) => row.id === id));
    if (unknown.length > 0) throw new Problem(SAID.libraryMovedOn);
    for (const row of rows)
      if (choices[row.id] !== undefined && !row.choices.includes(choices[row.id]!))
        throw new Problem('bad_input', {
          fields: [{ path: `choices.${row.id}`, message: `must be ${row.choices.join(' or ')}` }],
        });
    const chosen = new Map(rows.map((row) => [row.id, choices[row.id] ?? row.proposed]));
    const skipped = (table: string): ReadonlySet<string> =>
      new Set(
        [...chosen]
          .filter(([id, choice]) => id.startsWith(`${table}:`) && choice !== 'take')
          .map(([id]) => id.slice(table.length + 1)),
      );
    const changeId = await loadPack(manager, pack, {
      userId: author.userId,
      skipped,
      beside: async (writer) => {
        for (const [id, choice] of chosen) {
          const key = id.slice(id.indexOf(':') + 1);
          if (choice === 'both') await this.beside(writer, pack, key);
          if (choice === 'retire') await this.takeOut(writer, id.slice(0, id.indexOf(':')) as Leaving, key);
        }
      },
    });
    const vehicles = await manager.query<{ id: string }[]>(
      `select v.id
        from vehicle v
        join engine_family f on f.id = v.family_id
        where f.key = any($1::text[]) and v.retracted_at is null`,
      [pack.families.map(({ key }) => key)],
    );
    if (vehicles.length > 0)
      await markBehind(
        manager,
        vehicles.map(({ id }) => id),
      );
    await manager.delete(PackUploadEntity, { id: uploadId });
    return {
      id: uploadId,
      changeId: changeId as Changed['changeId'],
      vehicleId: null,
      summary:
        changeId === null
          ? `Pack “${pack.title}” was imported already; nothing changed`
          : `Pack “${pack.title}” ${pack.version} imported`,
    };
  }
}
