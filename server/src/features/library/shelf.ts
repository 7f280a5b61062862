import { changedColumns, nameOf } from '../../knowledge/changed.ts';
import {
  SAID,
  type EngineChoice,
  type LibraryAuthority,
  type LibraryChange,
  type LibraryComponent,
  type LibraryFamily,
  type LibraryFamilyRow,
  type LibraryOperation,
  type LibraryPoint,
  type LibraryPointRow,
  type PointState,
} from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { isoInstant, paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { holdsAll, searchPatterns } from '../../platform/search.ts';
import { inOrder, OPERATIONS } from '../../knowledge/operation.ts';
import { statementsOf } from '../../knowledge/statement.ts';
import { TOLD_COLUMNS } from '../../knowledge/weak-point.ts';
import { WeakPointEntity } from '../../knowledge/weak-point-row.ts';
import { DAMAGES_IN_WORDS, LOOK_IN_WORDS, SYMPTOMS_IN_WORDS } from '../../knowledge/weak-point-words.ts';
import { columnsOf } from '../../platform/entity.ts';
import { engineOf, FAMILY_COLUMNS, familyKnowledge, VARIANTS, type VariantRow } from '../../knowledge/family.ts';
import { FamilyEntity } from '../../knowledge/rows.ts';
import { type LibraryTable, type Row } from '../../knowledge/writer.ts';

type EngineRow = Parameters<typeof engineOf>[0];

const POINT_COLUMNS = `w.id, w.key, w.title, c.name as component, c.grp as "group", m.name as maker, f.code as "engineCode",
    w.family_id as "familyId", w.consequence, w.safety, w.nature, w.share, w.causes, w.signs, w.state,
  (select count(*)::int from statement s where s.weak_point_id = w.id) as statements,
    (select count(*)::int from judgement j where j.weak_point_id = w.id and j.verdict <> 'behind_it') as vehicles`;
/** A weak point with all that is told of it; what is sent of it is the contract's to say. */
type WholeRow = LibraryPointRow &
  Omit<LibraryPoint, 'row' | 'engine' | 'variants' | 'statements' | 'notices' | 'parts' | 'operations'> & {
    readonly said: LibraryPoint['statements'];
    readonly operationId: string | null;
  };
/** What a weak point `w` is shown with. */
const OF_POINT = `join component c on c.id = w.component_id
    join engine_family f on f.id = w.family_id
    join maker m on m.id = f.maker_id`;

/** What stands in the library, for reading. */
export class LibraryShelf {
  constructor(private readonly source: DataSource) {}

  /** One page of weak points, found by code, symptom, component, part number or any of their words. */
  async points({
    q,
    group,
    state,
    familyId,
    ...asked
  }: PageAsked & {
    readonly q: string;
    readonly group?: string | undefined;
    readonly state?: PointState | undefined;
    readonly familyId?: string | undefined;
  }): Promise<Paged<LibraryPointRow>> {
    const values: unknown[] = [];
    const bound = (value: unknown): string => `$${values.push(value)}`;
    const conditions = [
      holdsAll('w.search_text', searchPatterns(q), bound),
      ...(group === undefined ? [] : [`c.grp = ${bound(group)}`]),
      ...(state === undefined ? ["w.state <> 'superseded'"] : [`w.state = ${bound(state)}`]),
      ...(familyId === undefined ? [] : [`w.family_id = ${bound(familyId)}`]),
    ].join(' and ');
    const counted = `from weak_point w ${group === undefined ? '' : 'join component c on c.id = w.component_id'}
      where ${conditions}`;
    // The page is found on ids alone; only its own rows are joined to what is shown.
    const { rows, total } = await paged<LibraryPointRow>(this.source, asked, {
      values,
      counted,
      rows: (limits) => `select ${POINT_COLUMNS}
        from (
          select w.id, row_number() over (order by w.title, w.id) as place ${counted} order by place ${limits}
        ) as found
        join weak_point w on w.id = found.id
        ${OF_POINT}
        order by found.place`,
    });
    return { rows, total };
  }

  /** One page of engines with their variants, for choosing one. */
  async engines(asked: PageAsked): Promise<Paged<EngineChoice>> {
    const { rows, total } = await paged<EngineRow & { variants: VariantRow[] | null }>(this.source, asked, {
      counted: 'from engine_family',
      rows: (limits) => `select ${FAMILY_COLUMNS}, ${VARIANTS} as variants
        from engine_family f
        join maker m on m.id = f.maker_id
        order by f.code_key ${limits}`,
    });
    return {
      total,
      rows: rows.map((row) => ({
        engine: engineOf(row),
        variants: (row.variants ?? []).map(({ serialFrom: _from, serialTo: _to, ...variant }) => ({
          ...variant,
          weight: 0,
          models: variant.models.map(({ model }) => model),
        })),
      })),
    };
  }

  /** One page of who speaks in the library. */
  authorities(asked: PageAsked): Promise<Paged<LibraryAuthority>> {
    return paged<LibraryAuthority>(this.source, asked, {
      counted: 'from authority',
      rows: (limits) => `select id, name, kind, region from authority order by name, id ${limits}`,
    });
  }

  /** One page of components, of those that an engine has weak points of where it is named. */
  components({
    familyId,
    ...asked
  }: PageAsked & { readonly familyId?: string | undefined }): Promise<Paged<LibraryComponent>> {
    const counted = `from component c
      where ${familyId === undefined ? 'true' : 'c.id in (select component_id from weak_point where family_id = $1)'}`;
    return paged<LibraryComponent>(this.source, asked, {
      values: familyId === undefined ? [] : [familyId],
      counted,
      rows: (limits) => `select c.id, c.name, c.class, c.grp as "group" ${counted} order by c.name, c.id ${limits}`,
    });
  }

  /** One page of engines, with how much the library has of each. */
  async families(asked: PageAsked): Promise<Paged<LibraryFamilyRow>> {
    const { rows, total } = await paged<EngineRow & Omit<LibraryFamilyRow, 'engine'>>(this.source, asked, {
      counted: 'from engine_family',
      rows: (limits) => `select ${FAMILY_COLUMNS}, (select title from library_pack where key = f.pack_key) as pack,
            (select count(*)::int from engine_variant where family_id = f.id) as variants,
            (select count(*)::int from weak_point where family_id = f.id and state <> 'superseded') as "weakPoints",
           (select count(*)::int from labour_operation where family_id = f.id) as operations,
             (select count(*)::int from vehicle where family_id = f.id and retracted_at is null) as vehicles
         from engine_family f join maker m on m.id = f.maker_id order by m.name, f.code ${limits}`,
    });
    return {
      rows: rows.map((row) => ({
        engine: engineOf(row),
        variants: row.variants,
        weakPoints: row.weakPoints,
        operations: row.operations,
        vehicles: row.vehicles,
        pack: row.pack,
      })),
      total,
    };
  }

  /** One engine with its variants, features, operations and weak points. Throws not_found. */
  async family(id: string): Promise<LibraryFamily> {
    const knowledge = await familyKnowledge(this.source.manager, id);
    if (!knowledge) throw new Problem(SAID.engineGone);
    const [points, operations, counts, told] = await Promise.all([
      this.source.query<(LibraryPointRow & Pick<LibraryFamily['points'][number], 'appliesTo' | 'renewMinutes'>)[]>(
        `select ${POINT_COLUMNS}, w.applies_to as "appliesTo", w.renew_minutes as "renewMinutes"
          from weak_point w ${OF_POINT}
          where w.family_id = $1 and w.state <> 'superseded'
          order by w.position, w.key`,
        [id],
      ),
      this.source.query<LibraryOperation[]>(OPERATIONS, [id]),
      this.source.query<{ key: string; vehicles: number }[]>(
        `select variant_key as key, count(*)::int as vehicles
          from vehicle
          where family_id = $1 and retracted_at is null and variant_key is not null
          group by variant_key`,
        [id],
      ),
      this.source.manager.findOneByOrFail(FamilyEntity, { id }),
    ]);
    return {
      engine: knowledge.engine,
      alsoWritten: [...told.alsoWritten],
      points,
      operations,
      features: [...knowledge.features],
      variants: knowledge.variants.map((variant) => ({
        ...variant,
        vehicles: counts.find(({ key }) => key === variant.key)?.vehicles ?? 0,
      })),
    };
  }

  /** One weak point with all that is known of it. Throws not_found. */
  async point(id: string): Promise<LibraryPoint> {
    const [row] = await this.source.query<WholeRow[]>(
      `select ${POINT_COLUMNS}, ${TOLD_COLUMNS}, ${LOOK_IN_WORDS} as look,
          ${SYMPTOMS_IN_WORDS} as symptoms, ${DAMAGES_IN_WORDS} as damages,
          ${columnsOf(WeakPointEntity, 'w', ['version', 'componentId', 'retiredFrom', 'operationId'])},
          c.class as "componentClass", c.fitted_to as "fittedTo",
          (select layout from engine_family where id = w.family_id) as layout,
          case when z.id is not null then jsonb_build_object('id', z.id, 'title', z.title) end as "supersededBy",
          u.display_name as "writtenBy", (select title from library_pack where key = w.pack_key) as pack,
          ${statementsOf('name')} as said
       from weak_point w ${OF_POINT}
       left join weak_point z on z.id = w.superseded_by
       left join app_user u on u.id = w.written_by
       where w.id = $1`,
      [id],
    );
    if (!row) throw new Problem(SAID.weakPointGone);
    const [parts, operations, engines, variants, notices] = await Promise.all([
      this.source.query<LibraryPoint['parts']>(
        `select number, name, grade, revision, how_to_tell as "howToTell", supersedes, price_minor as "priceMinor"
          from part
          where component_id = $1
          order by grade = 'original' desc, revision desc nulls last, number`,
        [row.componentId],
      ),
      this.source.query<LibraryOperation[]>(OPERATIONS, [row.familyId]),
      this.source.query<EngineRow[]>(
        `select ${FAMILY_COLUMNS} from engine_family f join maker m on m.id = f.maker_id where f.id = $1`,
        [row.familyId],
      ),
      this.source.query<{ key: string; name: string }[]>(
        'select key, name from engine_variant where family_id = $1 order by position',
        [row.familyId],
      ),
      this.source.query<LibraryPoint['notices']>(
        `select n.id, n.kind, n.number, n.title
          from notice_point p
          join notice n on n.id = p.notice_id
          where p.weak_point_id = $1 and n.state = 'current'
          order by n.issued desc, n.id`,
        [id],
      ),
    ]);
    const { said, operationId, ...told } = row;
    return {
      ...told,
      row,
      engine: engineOf(engines[0]!),
      variants,
      statements: said,
      notices,
      parts,
      operations: operationId === null ? [] : inOrder(operations, operationId),
    };
  }

  /** One page of what changed in the library, latest first; of one row's changes where an id is given. */
  async changes({
    entityId,
    ...asked
  }: PageAsked & { readonly entityId?: string | undefined }): Promise<Paged<LibraryChange>> {
    // A row's own changes, and those of what is said of it.
    const about =
      "(x.entity_id = $1 or (x.entity = 'statement' and coalesce(x.after, x.before) ->> 'weak_point_id' = $1::text))";
    const which =
      entityId === undefined
        ? 'true'
        : `c.id in (
            select change_id
            from library_change_item
            where entity_id = $1
            union
            select change_id
            from library_change_item
            where entity = 'statement' and coalesce(after, before) ->> 'weak_point_id' = $1::text
          )`;
    interface ChangeRow extends Omit<LibraryChange, 'items'> {
      items: { entity: LibraryTable; before: Row | null; after: Row | null }[];
    }
    const { rows, total } = await paged<ChangeRow>(this.source, asked, {
      values: entityId === undefined ? [] : [entityId],
      counted: `from library_change c where ${which}`,
      rows: (limits) => `select c.id, ${isoInstant('c.at')} as at, u.display_name as by,
            c.kind, c.summary, exists (select 1 from library_change z where z.undoes = c.id) as undone,
           c.undoes is null and not exists (select 1 from library_change z where z.undoes = c.id) as undoable,
             (select count(*)::int from library_change_item i where i.change_id = c.id) as rows,
           (select coalesce(jsonb_agg(jsonb_build_object('entity', i.entity, 'before', i.before, 'after', i.after) order by i.id), '[]') from
              (
                select *
                from library_change_item x
                where x.change_id = c.id ${entityId === undefined ? '' : `and ${about}`}
                order by x.id
                limit 40
              ) i) as items
         from library_change c
         left join app_user u on u.id = c.user_id
         where ${which}
         order by c.at desc, c.id ${limits}`,
    });
    return {
      total,
      rows: rows.map(({ items, ...row }) => ({
        ...row,
        items: items.map(({ entity, before, after }) => ({
          entity: entity.replaceAll('_', ' '),
          name: nameOf(after ?? before!),
          what: before === null ? ('new' as const) : after === null ? ('gone' as const) : ('changed' as const),
          columns: changedColumns(before, after),
        })),
      })),
    };
  }
}
