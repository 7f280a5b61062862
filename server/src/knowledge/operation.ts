import type { EntityManager } from 'typeorm';
import type { LibraryOperation, Pack, PackInput } from '@crosspeen/contract';
import { asColumns, entity, integer, json, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

/** An operation of labour on one engine family; minutes for itself alone, once all it needs is off. */
export interface OperationRow {
  id: string;
  key: string;
  familyId: string;
  name: string;
  minutes: number;
  position: number;
  /** Components, by key, that go in new at the same time. */
  renewWith: readonly string[];
  /** What is never fitted twice. */
  oneTime: readonly string[];
  /** What is lost and filled anew; what has to be done afterwards. */
  fluids: readonly string[];
  afterwards: readonly string[];
  /** Minutes by variant, by its key, where they differ. */
  minutesBy: Readonly<Record<string, number>>;
  packKey: string | null;
}

export const OperationEntity = entity<OperationRow>('labour_operation', {
  id: uuidKey,
  key: text,
  familyId: uuid,
  name: text,
  minutes: integer,
  position: integer,
  renewWith: json,
  oneTime: json,
  fluids: json,
  afterwards: json,
  minutesBy: json,
  packKey: nullable(text),
});

type PackOperation = Pack['families'][number]['operations'][number];

/** An operation of a pack, as columns; what it needs stands in tables of its own. */
export const operationColumns = (
  { needs: _needs, tools: _tools, cautions: _cautions, ...told }: PackOperation,
  familyId: string,
  position: number,
  packKey: string,
): Record<string, unknown> => asColumns(OperationEntity, { ...told, familyId, position, packKey });

/** What an operation goes with, each a table of pairs, and the column of the other side. */
export const OPERATION_PAIRS = [
  { table: 'operation_need', column: 'needs_id', of: 'needs' },
  { table: 'operation_tool', column: 'tool_id', of: 'tools' },
  { table: 'operation_caution', column: 'caution_id', of: 'cautions' },
] as const;

/** SQL: the operations of the engine family $1, in their order. */
export const OPERATIONS = `
  select o.id, o.key, o.name, o.minutes, o.one_time as "oneTime", o.fluids, o.afterwards, o.minutes_by as "minutesBy",
    (
      select coalesce(jsonb_agg(c.name order by c.name), '[]')
      from component c
      where c.key in (select jsonb_array_elements_text(o.renew_with))
    ) as "renewWith", o.renew_with as "renewKeys",
    (
      select coalesce(jsonb_agg(n.key order by n.position), '[]')
      from operation_need x
      join labour_operation n on n.id = x.needs_id
      where x.operation_id = o.id
    ) as needs,
    (
      select coalesce(jsonb_agg(jsonb_build_object('name', t.name, 'without', t.without_it) order by t.name), '[]')
      from operation_tool x
      join tool t on t.id = x.tool_id
      where x.operation_id = o.id
    ) as tools,
    (
      select coalesce(jsonb_agg(k.words order by k.key), '[]')
      from operation_caution x
      join caution k on k.id = x.caution_id
      where x.operation_id = o.id
    ) as cautions
  from labour_operation o
  where o.family_id = $1
  order by o.position`;

/** An operation as minutes are reckoned with it, and as it is called. */
export interface NamedOperation {
  readonly name: string;
  readonly minutes: number;
  readonly needs: readonly string[];
  readonly minutesBy: Readonly<Record<string, number>>;
}

/** Operations with the minutes that they take on one variant; the usual ones where it is not known. */
export function minutesOn<O extends Pick<NamedOperation, 'minutes' | 'minutesBy'>>(
  operations: ReadonlyMap<string, O>,
  variantKey: string | null,
): ReadonlyMap<string, O> {
  if (variantKey === null || ![...operations.values()].some(({ minutesBy }) => variantKey in minutesBy))
    return operations;
  return new Map(
    [...operations].map(([key, operation]) => [
      key,
      { ...operation, minutes: operation.minutesBy[variantKey] ?? operation.minutes },
    ]),
  );
}

/** The operations of some engine families, by family and key. */
export async function operationsOfFamilies(
  manager: EntityManager,
  familyIds: readonly string[],
): Promise<Map<string, Map<string, NamedOperation>>> {
  const rows = await manager.query<(NamedOperation & { familyId: string; key: string })[]>(
    `select o.family_id as "familyId", o.key, o.name, o.minutes, o.minutes_by as "minutesBy",
        array(
          select n.key from operation_need x join labour_operation n on n.id = x.needs_id where x.operation_id = o.id
        ) as needs
      from labour_operation o
      where o.family_id = any($1::uuid[])`,
    [familyIds],
  );
  const found = new Map<string, Map<string, NamedOperation>>();
  for (const { familyId, key, ...operation } of rows) {
    const of = found.get(familyId) ?? new Map<string, NamedOperation>();
    found.set(familyId, of.set(key, operation));
  }
  return found;
}

/** An operation as it leaves in a pack: what it goes with is named by key. */
export type OperationOut = NonNullable<PackInput['families'][number]['operations']>[number] & {
  readonly familyId: string;
};

/** SQL: the operations of the engine families $1, as they leave in a pack. */
export const OPERATIONS_OUT = `
  select o.family_id as "familyId", o.key, o.name, o.minutes, o.renew_with as "renewWith", o.one_time as "oneTime",
    o.fluids, o.afterwards, o.minutes_by as "minutesBy",
    array(
      select n.key
      from operation_need x
      join labour_operation n on n.id = x.needs_id
      where x.operation_id = o.id
      order by n.position
    ) as needs,
    array(
      select t.key from operation_tool x join tool t on t.id = x.tool_id where x.operation_id = o.id order by t.key
    ) as tools,
    array(
      select k.key
      from operation_caution x
      join caution k on k.id = x.caution_id
      where x.operation_id = o.id
      order by k.key
    ) as cautions
  from labour_operation o
  where o.family_id = any($1::uuid[])
  order by o.position`;

/** An operation and all it needs, in the order it is done: what gives access first. */
export function inOrder(all: readonly LibraryOperation[], id: string): LibraryOperation[] {
  const byKey = new Map(all.map((operation) => [operation.key, operation]));
  const done: LibraryOperation[] = [];
  const visit = (operation: LibraryOperation): void => {
    if (done.includes(operation)) return;
    for (const need of operation.needs) {
      const found = byKey.get(need);
      if (found) visit(found);
    }
    done.push(operation);
  };
  const wanted = all.find((operation) => operation.id === id);
  if (wanted) visit(wanted);
  return done;
}
