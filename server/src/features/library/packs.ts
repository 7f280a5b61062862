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
import { WeakPointEntity } from '../../knowledge/weak-point.ts';
import { once, type Author } from '../../platform/once.ts';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { markBehind } from '../../standings/batch.ts';
import { loadPack, writePack } from '../../knowledge/pack-in.ts';
import { readPack } from '../../knowledge/pack-text.ts';
import { changedColumns, nameOf } from './shelf.ts';
import {
  LIBRARY_TABLES,
  LibraryWriter,
  sameContent,
  textOf,
  type LibraryItem,
  type LibraryTable,
  type Row,
} from '../../knowledge/writer.ts';
import { inTransaction } from '../../platform/transaction.ts';

const ENTITY_WORDS: Readonly<Partial<Record<LibraryTable, string>>> = {
  maker: 'make',
  authority: 'authority',
  component: 'component',
  part: 'part',
  tool: 'tool',
  caution: 'caution',
  symptom: 'symptom',
  engine_family: 'engine',
  engine_variant: 'variant',
  family_feature: 'feature',
  labour_operation: 'operation',
  weak_point: 'weak point',
  upkeep_task: 'upkeep task',
  notice: 'notice',
};
/** Tables that a person decides on row by row; the rest goes with the row it belongs to. */
const DECIDED = Object.keys(ENTITY_WORDS) as LibraryTable[];
const keyOf = (entity: LibraryTable, row: Row): string => String(row[LIBRARY_TABLES[entity].at(-1)!]);

class Rollback extends Error {}

/** What a row becomes that a later edition no longer has and that is taken out of use. */
const OUT_OF_USE = { weak_point: 'superseded', notice: 'withdrawn', upkeep_task: 'withdrawn' } as const;
/**
 * What may be gone from a later edition: those that have a state take it, parts leave the list they are chosen from.
 */
type Leaving = keyof typeof OUT_OF_USE | 'part';

/** What a pack is read and imported by: a desk in the caller's own thread, or one behind a thread of its own. */
export interface PackWork {
  readonly preview: (author: Author, name: string, text: string) => Promise<PackPreview>;
  readonly take: (author: Author, uploadId: string, choices: Readonly<Record<string, PackChoice>>) => Promise<Changed>;
}

/** Packs as files: out of the library, and into it with everything seen before anything is written. */
export class PackDesk {
  /** `announce` tells that the library has changed, when that is committed. */
  constructor(
    private readonly source: DataSource,
    private readonly announce: () => void,
  ) {}

  /** What taking the pack in would write, found by writing it and rolling back: what is shown is what will be done. */
  private async dryRun(pack: Pack): Promise<readonly LibraryItem[]> {
    let items: readonly LibraryItem[] = [];
    try {
      await inTransaction(this.source, async (manager) => {
        const writer = new LibraryWriter(manager);
        await writePack(writer, pack);
        items = writer.items;
        throw new Rollback();
      });
    } catch (error) {
      if (!(error instanceof Rollback)) throw error;
    }
    return items;
  }

  /** Rows that came with an earlier edition of this pack and are not in it any more. */
  private async gone(manager: EntityManager, pack: Pack): Promise<{ table: Leaving; title: string; key: string }[]> {
    const parts = pack.components.flatMap((component) => component.parts.map(({ number }) => number));
    const points = pack.families.flatMap(({ weakPoints }) => weakPoints.map(({ key }) => key));
    return manager.query(
      `select 'weak_point' as table, title, key
        from weak_point
        where pack_key = $1 and state = 'published' and key <> all($2::text[])
       union all
       select 'notice', title, key
       from notice
       where pack_key = $1 and state = 'current' and key <> all($3::text[])
       union all
       select 'upkeep_task', title, key
       from upkeep_task
       where pack_key = $1 and state = 'current' and key <> all($5::text[])
       union all
       select 'part', number || ', ' || name, number
       from part
       where pack_key = $1 and number <> all($4::text[])
       order by 1 desc, 3`,
      [
        pack.key,
        points,
        pack.notices.map(({ key }) => key),
        parts,
        pack.families.flatMap(({ upkeep }) => upkeep.map(({ key }) => key)),
      ],
    );
  }

  private async diff(pack: Pack): Promise<PackDiffRow[]> {
    const items = await this.dryRun(pack);
    const titles = new Map((await this.source.manager.find(PackEntity)).map(({ key, title }) => [key, title]));
    const pointTitles = new Map(
      pack.families.flatMap(({ weakPoints }) => weakPoints).map(({ key, title }) => [key, title]),
    );
    const titleById = new Map(
      (
        await this.source.query<{ id: string; key: string; title: string }[]>(
          'select id, key, title from weak_point where id = any($1::uuid[])',
          [
            items
              .filter(({ entity }) => entity === 'notice_point')
              .map(({ before, after }) => (after ?? before)!['weak_point_id']),
          ],
        )
      ).map((row) => [row.id, pointTitles.get(row.key) ?? row.title]),
    );
    // Rows that go with another: what is said of a weak point, what a notice is about.
    const withOwner = new Map<string, { column: string; before: string; after: string }[]>();
    for (const { entity, before, after } of items) {
      if (entity !== 'statement' && entity !== 'notice_point') continue;
      const row = (after ?? before)!;
      const owner = String(row[entity === 'statement' ? 'weak_point_id' : 'notice_id']);
      const says = (side: Row | null): string =>
        side === null
          ? 'nothing'
          : entity === 'statement'
            ? String(side['words'])
            : (titleById.get(String(side['weak_point_id'])) ?? 'a new weak point');
      withOwner.set(owner, [
        ...(withOwner.get(owner) ?? []),
        { column: entity === 'statement' ? 'statement' : 'about', before: says(before), after: says(after) },
      ]);
    }
    const rows = items
      .filter(
        ({ entity, entityId, before, after }) =>
          DECIDED.includes(entity) &&
          // One that only moved up, since another before it is gone, says nothing new.
          (before === null || after === null || withOwner.has(entityId) || !sameContent(before, after)),
      )
      .map(({ entity, entityId, before, after }): PackDiffRow => {
        const owner = before === null ? null : textOf(before, 'pack_key');
        // What another pack or somebody here wrote last is not overwritten silently.
        const conflict = before !== null && owner !== pack.key;
        const said = withOwner.get(entityId) ?? [];
        withOwner.delete(entityId);
        return {
          id: `${entity}:${keyOf(entity, after!)}`,
          entity: ENTITY_WORDS[entity]!,
          name: nameOf(after!),
          what: before === null ? 'new' : conflict ? 'conflict' : 'changed',
          columns: [...changedColumns(before, after), ...(before === null ? [] : said)],
          owner: owner === null ? null : (titles.get(owner) ?? owner),
          choices:
            before === null
              ? ['take']
              : conflict && entity === 'weak_point'
                ? ['both', 'take', 'keep']
                : conflict
                  ? ['keep', 'take']
                  : ['take', 'keep'],
          proposed: conflict ? (entity === 'weak_point' ? 'both' : 'keep') : 'take',
        };
      });
    // Rows of which only what goes with them differs.
    const quiet = await this.source.query<
      { table: 'weak_point' | 'notice'; id: string; key: string; title: string; pack: string | null }[]
    >(
      `select 'weak_point' as table, id, key, title, pack_key as pack
        from weak_point
        where id = any($1::uuid[])
        union all
        select 'notice', id, key, title, pack_key
        from notice
        where id = any($1::uuid[])`,
      [[...withOwner.keys()]],
    );
    for (const { table, id, key, title, pack: owner } of quiet) {
      const conflict = owner !== pack.key;
      const [choices, proposed] = !conflict
        ? ([['take', 'keep'], 'take'] as const)
        : table === 'notice'
          ? ([['keep', 'take'], 'keep'] as const)
          : ([['both', 'take', 'keep'], 'both'] as const);
      rows.push({
        id: `${table}:${key}`,
        entity: ENTITY_WORDS[table]!,
        name: title,
        what: conflict ? 'conflict' : 'changed',
        columns: withOwner.get(id)!,
        owner: owner === null ? null : (titles.get(owner) ?? owner),
        choices: [...choices],
        proposed,
      });
    }
    for (const { table, key, title } of await this.gone(this.source.manager, pack))
      rows.push({
        id: `${table}:${key}`,
        entity: ENTITY_WORDS[table]!,
        name: title,
        what: 'gone',
        columns: [],
        owner: null,
        choices: ['keep', 'retire'],
        proposed: 'keep',
      });
    return rows;
  }

  /** One page of the packs on file, by title. */
  async list(asked: PageAsked): Promise<Paged<LibraryPack>> {
    const { rows, total } = await paged<Omit<LibraryPack, 'loadedAt'> & { loadedAt: Date }>(this.source, asked, {
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
    const rows = await this.diff(pack);
    await this.source.query("delete from pack_upload where at < now() - interval '2 days'");
    const { manager } = this.source;
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
      pack.families.reduce(
        (sum, family) =>
          sum +
          1 +
          family.variants.length +
          family.features.length +
          family.operations.length +
          family.weakPoints.length,
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
    const done = await inTransaction(this.source, (manager) =>
      once(manager, author, () => this.takeIn(manager, author, uploadId, choices)),
    );
    this.announce();
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
    const rows = await this.diff(pack);
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
      changeId: (changeId ?? uploadId) as Changed['changeId'],
      vehicleId: null,
      summary:
        changeId === null
          ? `Pack “${pack.title}” was imported already; nothing changed`
          : `Pack “${pack.title}” ${pack.version} imported`,
    };
  }
}
