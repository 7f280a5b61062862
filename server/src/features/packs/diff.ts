import type { Pack, PackDiffRow } from '@crosspeen/contract';
import type { DataSource, EntityManager } from 'typeorm';
import { writePack } from '../../knowledge/pack-in.ts';
import { PackEntity } from '../../knowledge/rows.ts';
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
import { changedColumns, nameOf } from '../../knowledge/changed.ts';

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
export const OUT_OF_USE = { weak_point: 'superseded', notice: 'withdrawn', upkeep_task: 'withdrawn' } as const;
/**
 * What may be gone from a later edition: those that have a state take it, parts leave the list they are chosen from.
 */
export type Leaving = keyof typeof OUT_OF_USE | 'part';

/**
 * What may become of a row that is there already, the proposal first: of two that disagree on a weak point both can
 * stand, beside each other.
 */
function choiceOf(entity: LibraryTable, conflict: boolean): Pick<PackDiffRow, 'choices' | 'proposed'> {
  if (!conflict) return { choices: ['take', 'keep'], proposed: 'take' };
  return entity === 'weak_point'
    ? { choices: ['both', 'take', 'keep'], proposed: 'both' }
    : { choices: ['keep', 'take'], proposed: 'keep' };
}

/** What taking the pack in would write, found by writing it and rolling back: what is shown is what will be done. */
async function dryRun(source: DataSource, pack: Pack): Promise<readonly LibraryItem[]> {
  let items: readonly LibraryItem[] = [];
  try {
    await inTransaction(source, async (manager) => {
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
async function gone(manager: EntityManager, pack: Pack): Promise<{ table: Leaving; title: string; key: string }[]> {
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

/**
 * Row by row what taking a pack in would do: what is new, what it changes, what stands in its way, and what its later
 * edition no longer has. Nothing of the library is written.
 */
export async function packDiff(source: DataSource, pack: Pack): Promise<PackDiffRow[]> {
  const items = await dryRun(source, pack);
  const titles = new Map((await source.manager.find(PackEntity)).map(({ key, title }) => [key, title]));
  const pointTitles = new Map(
    pack.families.flatMap(({ weakPoints }) => weakPoints).map(({ key, title }) => [key, title]),
  );
  const titleById = new Map(
    (
      await source.query<{ id: string; key: string; title: string }[]>(
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
        ...(before === null ? { choices: ['take'], proposed: 'take' } : choiceOf(entity, conflict)),
      };
    });
  // Rows of which only what goes with them differs.
  const quiet = await source.query<
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
    rows.push({
      id: `${table}:${key}`,
      entity: ENTITY_WORDS[table]!,
      name: title,
      what: conflict ? 'conflict' : 'changed',
      columns: withOwner.get(id)!,
      owner: owner === null ? null : (titles.get(owner) ?? owner),
      ...choiceOf(table, conflict),
    });
  }
  for (const { table, key, title } of await gone(source.manager, pack))
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
