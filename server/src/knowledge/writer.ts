import { sameJson } from '@crosspeen/contract';
import { QueryFailedError, type EntityManager } from 'typeorm';
import { Problem } from '../platform/problem.ts';

/** Tables of the library, with the columns that tell their rows apart. */
export const LIBRARY_TABLES = {
  maker: ['key'],
  authority: ['key'],
  component: ['key'],
  part: ['number'],
  tool: ['key'],
  caution: ['key'],
  symptom: ['key'],
  engine_family: ['key'],
  engine_variant: ['family_id', 'key'],
  family_feature: ['family_id', 'key'],
  labour_operation: ['key'],
  operation_need: ['operation_id', 'needs_id'],
  operation_tool: ['operation_id', 'tool_id'],
  operation_caution: ['operation_id', 'caution_id'],
  weak_point: ['key'],
  statement: ['weak_point_id', 'position'],
  upkeep_task: ['key'],
  notice: ['key'],
  notice_point: ['notice_id', 'weak_point_id'],
} as const satisfies Record<string, readonly string[]>;
export type LibraryTable = keyof typeof LIBRARY_TABLES;

export type Row = Readonly<Record<string, unknown>>;

/** A column of a row that holds text, as text; null where it holds nothing or something else. */
export const textOf = (row: Row, column: string): string | null => {
  const value = row[column];
  return typeof value === 'string' ? value : typeof value === 'number' ? String(value) : null;
};

/** One row before and after, as the database has it; null where there was none, or is none any more. */
export interface LibraryItem {
  readonly entity: LibraryTable;
  readonly entityId: string;
  readonly before: Row | null;
  readonly after: Row | null;
}

/** Tables whose rows people edit. */
const VERSIONED: ReadonlySet<LibraryTable> = new Set(['weak_point', 'notice', 'upkeep_task']);

/** Columns that say nothing of a row's content: where it came from, how often it was written, what it is found by. */
const BESIDE = new Set(['pack_key', 'version', 'search_text', 'position']);

/** Whether two rows of a table say the same. */
export const sameContent = (a: Row, b: Row, ignoring: ReadonlySet<string> = BESIDE): boolean =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].every(
    (column) => ignoring.has(column) || sameJson(a[column] ?? null, b[column] ?? null),
  );

const quoted = (columns: readonly string[]): string => columns.map((column) => `"${column}"`).join(', ');

/** Writes the library's tables in the caller's transaction and remembers every row before and after. */
export class LibraryWriter {
  readonly items: LibraryItem[] = [];

  constructor(readonly manager: EntityManager) {}

  /**
   * Brings rows up to date by what tells them apart, or adds them; rows that already say the same are left as they are.
   * `skip` names rows, by the last of those columns, that are not to be written even so. Returns the id of every row by
   * that column, of the skipped ones too where they are on file.
   */
  async upsert(
    table: LibraryTable,
    rows: readonly Row[],
    skip: ReadonlySet<string> = new Set(),
  ): Promise<Map<string, string>> {
    if (rows.length === 0) return new Map();
    const by = LIBRARY_TABLES[table];
    const name = (row: Row): string => String(row[by.at(-1)!]);
    const full = (row: Row): string => by.map((column) => String(row[column])).join(' ');
    const standing = await this.manager.query<{ row: Row }[]>(
      `select to_jsonb(t) as row
        from ${table} t
        where (${by.map((column) => `t."${column}"`).join(', ')}) in (
          select ${quoted(by)} from jsonb_populate_recordset(null::${table}, $1::jsonb)
        )`,
      [JSON.stringify(rows)],
    );
    const before = new Map(standing.map(({ row }) => [full(row), row]));
    const ids = new Map(standing.map(({ row }) => [name(row), String(row['id'])]));
    const wanted = rows.filter((row) => !skip.has(name(row)));
    if (wanted.length === 0) return ids;
    const columns = Object.keys(wanted[0]!);
    const content = columns.filter((column) => !BESIDE.has(column) && !(by as readonly string[]).includes(column));
    // A row of associations has nothing beside what tells it apart: there is nothing to bring up to date.
    const update =
      content.length === 0 && !columns.includes('position')
        ? 'nothing'
        : `update set ${columns
            .filter((column) => !(by as readonly string[]).includes(column))
            .map((column) => `"${column}" = excluded."${column}"`)
            .join(', ')}
      ${VERSIONED.has(table) ? `, version = ${table}.version + 1` : ''}
      where (
        ${[...content, ...columns.filter((column) => column === 'position')].map((column) => `${table}."${column}"`).join(', ')}
      ) is distinct from (${[...content, ...columns.filter((column) => column === 'position')].map((column) => `excluded."${column}"`).join(', ')})`;
    const written = await this.manager.query<{ row: Row }[]>(
      `insert into ${table} (${quoted(columns)})
        select ${quoted(columns)}
        from jsonb_populate_recordset(null::${table}, $1::jsonb)
       on conflict (${quoted(by)}) do ${update} returning to_jsonb(${table}) as row`,
      [JSON.stringify(wanted)],
    );
    for (const { row } of written) {
      ids.set(name(row), String(row['id']));
      this.items.push({
        entity: table,
        entityId: String(row['id']),
        before: before.get(full(row)) ?? null,
        after: row,
      });
    }
    return ids;
  }

  /** Takes rows out, those that `where` (with $1) holds for. */
  async remove(table: LibraryTable, where: string, value: unknown): Promise<void> {
    const gone = await this.manager.query<[{ row: Row }[], number]>(
      `delete from ${table} where ${where} returning to_jsonb(${table}) as row`,
      [value],
    );
    for (const { row } of gone[0])
      this.items.push({ entity: table, entityId: String(row['id']), before: row, after: null });
  }

  /**
   * Changes columns of one row. Throws not_found, or changed_meanwhile when it has a version and that is not
   * `expectedVersion`.
   */
  async update(table: LibraryTable, id: string, patch: Row, expectedVersion?: number): Promise<Row> {
    const [found] = await this.manager.query<{ row: Row }[]>(
      `select to_jsonb(t) as row from ${table} t where id = $1 for update`,
      [id],
    );
    if (!found) throw new Problem('not_found');
    if (expectedVersion !== undefined && found.row['version'] !== expectedVersion)
      throw new Problem('changed_meanwhile', { current: found.row });
    const columns = Object.keys(patch);
    const written = await this.manager.query<[{ row: Row }[], number]>(
      `update ${table}
        set ${columns.map((column) => `"${column}" = given."${column}"`).join(', ')}${VERSIONED.has(table) ? `, version = ${table}.version + 1` : ''}
       from jsonb_populate_record(null::${table}, $1::jsonb) as given
       where ${table}.id = $2
       returning to_jsonb(${table}) as row`,
      [JSON.stringify(patch), id],
    );
    const after = written[0][0]!.row;
    this.items.push({ entity: table, entityId: id, before: found.row, after });
    return after;
  }

  /** Whether anything that was written says something else than before. */
  differs(): boolean {
    return this.items.some(({ before, after }) => before === null || after === null || !sameContent(before, after));
  }

  /** Keeps what was written as one change; null when nothing was. */
  async keep(change: {
    readonly userId: string | null;
    readonly kind: 'pack' | 'edit' | 'undo';
    readonly summary: string;
    readonly packKey?: string;
    readonly packVersion?: string;
    readonly undoes?: string;
  }): Promise<string | null> {
    if (this.items.length === 0) return null;
    const [row] = await this.manager.query<{ id: string }[]>(
      `insert into library_change (user_id, kind, summary, pack_key, pack_version, undoes)
        values ($1, $2, $3, $4, $5, $6)
        returning id`,
      [
        change.userId,
        change.kind,
        change.summary,
        change.packKey ?? null,
        change.packVersion ?? null,
        change.undoes ?? null,
      ],
    );
    await this.manager.query(
      `insert into library_change_item (change_id, entity, entity_id, before, after)
        select $1, entity, entity_id, before, after
        from jsonb_to_recordset($2::jsonb) as item(entity text, entity_id uuid, before jsonb, after jsonb)`,
      [
        row!.id,
        JSON.stringify(
          this.items.map(({ entity, entityId, before, after }) => ({ entity, entity_id: entityId, before, after })),
        ),
      ],
    );
    return row!.id;
  }

  /**
   * Takes a change back, last row first. Throws changed_since when a row has been written again meanwhile, in_use when
   * something rests on a row that would go.
   */
  async undo(changeId: string): Promise<void> {
    const items = await this.manager.query<LibraryItem[]>(
      `select entity, entity_id as "entityId", before, after
        from library_change_item
        where change_id = $1
        order by id desc`,
      [changeId],
    );
    const now = new Map<string, Row>();
    for (const table of new Set(items.map(({ entity }) => entity))) {
      const ids = items.filter(({ entity }) => entity === table).map(({ entityId }) => entityId);
      for (const { row } of await this.manager.query<{ row: Row }[]>(
        `select to_jsonb(t) as row from ${table} t where id = any($1::uuid[]) for update`,
        [ids],
      ))
        now.set(`${table} ${String(row['id'])}`, row);
    }
    for (const { entity, entityId, before, after } of items) {
      const current = now.get(`${entity} ${entityId}`) ?? null;
      if (
        after === null
          ? current !== null
          : current === null || !sameContent(current, after, new Set(['search_text', 'version']))
      )
        throw new Problem('changed_since');
      try {
        if (before === null) await this.remove(entity, 'id = $1', entityId);
        else if (after === null) {
          await this.manager.query(
            `insert into ${entity} select * from jsonb_populate_record(null::${entity}, $1::jsonb)`,
            [JSON.stringify(before)],
          );
          this.items.push({ entity, entityId, before: null, after: before });
        } else
          await this.update(
            entity,
            entityId,
            Object.fromEntries(
              Object.entries(before).filter(
                ([column]) => column !== 'id' && column !== 'version' && column !== 'search_text',
              ),
            ),
          );
      } catch (error) {
        if (error instanceof QueryFailedError && (error.driverError as { code?: string }).code === '23503')
          throw new Problem('in_use');
        throw error;
      }
    }
  }
}
