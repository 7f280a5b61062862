import type { EngineSummary, LibraryOperation } from '@crosspeen/contract';
import {
  closureOf,
  type EngineLayout,
  type FeatureFact,
  type UpkeepTaskFact,
  type WeakPointFact,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { columnsOf } from '../platform/entity.ts';
import { holdsAll, searchPatterns } from '../platform/search.ts';
import { minutesOn, OPERATIONS } from './operation.ts';
import type { CheckTold } from './rows.ts';
import { statementsOf } from './statement.ts';
import { tasksOfFamily } from './upkeep.ts';
import { IN_USE, TOLD_COLUMNS } from './weak-point.ts';
import { WeakPointEntity } from './weak-point-row.ts';
import { DAMAGES_IN_WORDS, LOOK_IN_WORDS, SYMPTOMS_IN_WORDS } from './weak-point-words.ts';

export interface VariantRow {
  id: string;
  key: string;
  name: string;
  howToTell: string | null;
  producedFrom: string | null;
  producedTo: string | null;
  serialFrom: number | null;
  serialTo: number | null;
  models: { model: string; from: number; to: number }[];
}

export interface FamilyKnowledge {
  readonly engine: EngineSummary;
  readonly variants: readonly VariantRow[];
  readonly features: readonly FeatureFact[];
  /** How it lies in its bay; null where nobody tells. */
  readonly layout: EngineLayout | null;
  /** What tells apart causes that show alike, their cautions in words. */
  readonly checks: readonly CheckTold[];
  readonly operations: readonly LibraryOperation[];
  readonly weakPoints: readonly WeakPointFact[];
  /** What is done again and again. */
  readonly tasks: readonly UpkeepTaskFact[];
}

interface FamilyRow {
  id: string;
  code: string;
  name: string;
  maker: string;
  displacement_l: number;
  fuel: string;
  aspiration: string;
  timing_drive: string;
  interference: boolean;
  note: string | null;
}

/** Columns of an engine family `f` with its maker `m`. */
export const FAMILY_COLUMNS =
  'f.id, f.code, f.name, m.name as maker, f.displacement_l, f.fuel, f.aspiration, f.timing_drive, f.interference, f.note';

export const engineOf = (row: FamilyRow): EngineSummary => ({
  familyId: row.id as EngineSummary['familyId'],
  code: row.code,
  name: row.name,
  maker: row.maker,
  displacementL: row.displacement_l,
  fuel: row.fuel,
  aspiration: row.aspiration,
  timingDrive: row.timing_drive,
  interference: row.interference,
  note: row.note,
});

/** A date column as a day number. */
const dayNumber = (column: string): string => `(${column} - date '1970-01-01')`;

/** Bulletins and coverages about weak point `w`, latest first. */
const NOTICES = `(
      select coalesce(
        jsonb_agg(
          jsonb_build_object(
            'id', n.id, 'number', n.number, 'title', n.title, 'authority', a.name, 'asks', n.asks,
            'issuedDay', ${dayNumber('n.issued')}, 'producedFromDay', ${dayNumber('n.produced_from')},
            'producedToDay', ${dayNumber('n.produced_to')}, 'models', n.models,
            'cover', case when n.kind = 'coverage' then jsonb_build_object(
              'days', n.covered_days, 'km', n.covered_km, 'lastDay', ${dayNumber('n.ends_on')},
              'pays', coalesce(n.pays, 1)
            ) end
          )
          order by n.issued desc, n.id
        ), '[]'
      )
      from notice_point p
      join notice n on n.id = p.notice_id
      join authority a on a.id = n.authority_id
      where p.weak_point_id = w.id and n.state = 'current'
    )`;

const WEAK_POINTS_OF_FAMILY = `
  select ${columnsOf(WeakPointEntity, 'w', ['id', 'key', 'operationId'])}, ${TOLD_COLUMNS}, ${LOOK_IN_WORDS} as look,
    ${SYMPTOMS_IN_WORDS} as symptoms, ${DAMAGES_IN_WORDS} as damages,
    c.name as component, c.key as "componentKey", c.class as "componentClass", c.grp as "group",
    c.fitted_to as "fittedTo",
    priced.price as "partPrice",
    case when priced.price is null then (
      select percentile_disc(0.5) within group (order by p.price_minor)
      from part p
      join component o on o.id = p.component_id
      where o.class = c.class and p.grade = 'original'
    ) end as "usualPrice",
    (
      select p.how_to_tell
      from part p
      where p.component_id = w.component_id and p.revision = w.retired_by_revision
      limit 1
    ) as "revisedHowToTell",
    (
      select jsonb_build_object('nodes', e.summary -> 'nodes', 'parts', e.parts, 'failures', e.failures)
      from experience e
      where e.weak_point_id = w.id and e.parts > 0
    ) as experience,
    ${statementsOf('name')} as statements, ${NOTICES} as notices
  from weak_point w
  join component c on c.id = w.component_id
  cross join lateral (
    select min(p.price_minor) as price from part p where p.component_id = w.component_id and p.grade = 'original'
  ) priced
  where w.family_id = $1 and ${IN_USE}
  order by w.position, w.key`;

/** The variants of an engine family `f`, in their order; null where it has none. */
export const VARIANTS = `(
      select jsonb_agg(
        jsonb_build_object(
          'id', v.id, 'key', v.key, 'name', v.name, 'howToTell', v.how_to_tell, 'producedFrom', v.produced_from,
          'producedTo', v.produced_to, 'serialFrom', v.serial_from, 'serialTo', v.serial_to, 'models', v.models
        )
        order by v.position
      )
      from engine_variant v
      where v.family_id = f.id
    )`;

/** The checks of an engine family `f` as people read them: their cautions are kept by key, and said in their words. */
const CHECKS_IN_WORDS = `(
    select coalesce(
      jsonb_agg(
        told.told || jsonb_build_object(
          'cautions', (
            select coalesce(jsonb_agg(k.words order by k.key), '[]')
            from caution k
            where k.key in (select jsonb_array_elements_text(coalesce(told.told -> 'cautions', '[]')))
          )
        )
        order by told.place
      ), '[]'
    )
    from jsonb_array_elements(f.checks) with ordinality as told(told, place)
  )`;

const FAMILY_WITH_VARIANTS = `
  select ${FAMILY_COLUMNS}, f.layout, ${CHECKS_IN_WORDS} as checks, ${VARIANTS} as variants,
    (
      select jsonb_agg(
        jsonb_build_object('key', q.key, 'name', q.name, 'howToTell', q.how_to_tell, 'share', q.share)
        order by q.position
      )
      from family_feature q
      where q.family_id = f.id
    ) as features
  from engine_family f join maker m on m.id = f.maker_id where f.id = $1`;

/** The queries of a lookup, for measuring them without anything around them. */
export const LOOKUP_SQL = { weakPoints: WEAK_POINTS_OF_FAMILY, family: FAMILY_WITH_VARIANTS } as const;

/** What renewing takes, by the id of an operation: all it needs, those that give access first. */
function workOf(
  told: readonly LibraryOperation[],
): (id: string) => Required<Pick<WeakPointFact, 'operation' | 'access' | 'goesWith' | 'work'>> {
  const operations = new Map(told.map((operation) => [operation.key, operation]));
  const keys = new Map(told.map(({ id, key }) => [id, key]));
  return (id) => {
    const taken = closureOf(operations, [keys.get(id)!]).map((key) => operations.get(key)!);
    const each = <T>(of: (operation: LibraryOperation) => readonly T[], same: (one: T) => unknown): T[] => [
      ...new Map(taken.flatMap(of).map((one) => [same(one), one])).values(),
    ];
    const words = (one: string): string => one;
    return {
      operation: keys.get(id)!,
      access: taken.map(({ key, minutes }) => ({ key, minutes })),
      goesWith: each(({ renewKeys }) => renewKeys, words),
      work: {
        tools: each(
          ({ tools }) => tools,
          ({ name }) => name,
        ),
        cautions: each(({ cautions }) => cautions, words),
        renewWith: each(({ renewWith }) => renewWith, words),
        oneTime: each(({ oneTime }) => oneTime, words),
        fluids: each(({ fluids }) => fluids, words),
        afterwards: each(({ afterwards }) => afterwards, words),
      },
    };
  };
}

/** A look with the minutes of all that must come off for it. */
function lookOff(look: WeakPointFact['look'], told: readonly LibraryOperation[]): WeakPointFact['look'] {
  const operations = new Map(told.map((operation) => [operation.key, operation]));
  const off = (look?.off ?? []).filter((key) => operations.has(key));
  if (look === null || off.length === 0) return look;
  const minutes = closureOf(operations, off).reduce((sum, key) => sum + operations.get(key)!.minutes, 0);
  return { ...look, offMinutes: minutes };
}

/** An engine family with its variants and all its weak points, or null when there is no such family. */
export async function familyKnowledge(manager: EntityManager, familyId: string): Promise<FamilyKnowledge | null> {
  const families = await manager.query<
    (FamilyRow &
      Pick<FamilyKnowledge, 'layout' | 'checks'> & { variants: VariantRow[] | null; features: FeatureFact[] | null })[]
  >(FAMILY_WITH_VARIANTS, [familyId]);
  const rows = await manager.query<(Omit<WeakPointFact, 'access'> & { operationId: string | null })[]>(
    WEAK_POINTS_OF_FAMILY,
    [familyId],
  );
  const family = families[0];
  if (!family) return null;
  const operations = await manager.query<LibraryOperation[]>(OPERATIONS, [familyId]);
  const work = workOf(operations);
  const weakPoints = rows.map(({ operationId, ...row }) => ({
    ...row,
    look: lookOff(row.look, operations),
    ...(operationId === null ? { access: [] } : work(operationId)),
  }));
  return {
    engine: engineOf(family),
    variants: family.variants ?? [],
    features: family.features ?? [],
    layout: family.layout,
    checks: family.checks,
    operations,
    weakPoints,
    tasks: await tasksOfFamily(manager, familyId),
  };
}

/** Families as they are on one of their variants, made once for each. */
const onVariants = new WeakMap<FamilyKnowledge, Map<string, FamilyKnowledge>>();

/** An engine family with the minutes that its work takes on one variant; as it is where they are the usual ones. */
export function onVariant(knowledge: FamilyKnowledge, variantKey: string | null): FamilyKnowledge {
  if (variantKey === null || !knowledge.operations.some(({ minutesBy }) => variantKey in minutesBy)) return knowledge;
  const made = onVariants.get(knowledge) ?? new Map<string, FamilyKnowledge>();
  onVariants.set(knowledge, made);
  const known = made.get(variantKey);
  if (known) return known;
  const operations = [
    ...minutesOn(new Map(knowledge.operations.map((operation) => [operation.key, operation])), variantKey).values(),
  ];
  const minutes = new Map(operations.map((operation) => [operation.key, operation.minutes]));
  const own = {
    ...knowledge,
    operations,
    weakPoints: knowledge.weakPoints.map((point) => {
      const access = (point.access ?? []).map(({ key, minutes: usual }) => ({
        key,
        minutes: minutes.get(key) ?? usual,
      }));
      const more = access.reduce((sum, { minutes: of }, i) => sum + of - point.access[i]!.minutes, 0);
      return { ...point, look: lookOff(point.look, operations), access, renewMinutes: point.renewMinutes + more };
    }),
  };
  made.set(variantKey, own);
  return own;
}

export interface FoundEngines {
  readonly engines: readonly EngineSummary[];
  /** The words name exactly this one. */
  readonly exact: boolean;
  /** Only near in spelling. */
  readonly near: boolean;
}

/** Everything that contiguous words may spell when written together: a code may be typed with spaces in it. */
export function spellings(words: readonly string[], compact: (text: string) => string, most = 24): string[] {
  const found = new Set<string>();
  for (let i = 0; i < words.length; i += 1) {
    for (let j = i + 1; j <= Math.min(words.length, i + 4); j += 1) found.add(compact(words.slice(i, j).join('')));
  }
  return [...found].filter((spelling) => spelling.length > 1).slice(0, most);
}

/**
 * Engines that the words name: by code first; else all words (and the displacement) in maker, model or name; else codes
 * near in spelling.
 */
export async function findEngines(
  manager: EntityManager,
  words: readonly string[],
  codes: readonly string[],
  displacementL: number | null,
): Promise<FoundEngines> {
  const from = 'from engine_family f join maker m on m.id = f.maker_id';
  const byCode = await manager.query<FamilyRow[]>(
    `select ${FAMILY_COLUMNS} ${from} where f.code_key = any($1) order by length(f.code_key) desc limit 8`,
    [codes],
  );
  if (byCode.length > 0) return { engines: byCode.map(engineOf), exact: byCode.length === 1, near: false };
  const patterns = searchPatterns(words.join(' '));
  if (patterns.length > 0 || displacementL !== null) {
    const values: unknown[] = [displacementL];
    const byWords = await manager.query<FamilyRow[]>(
      `select ${FAMILY_COLUMNS} ${from}
        where ${holdsAll('f.search_text', patterns, (value) => `$${values.push(value)}`)}
          and ($1::float8 is null or abs(f.displacement_l - $1) < 0.051)
        order by f.code_key
        limit 9`,
      values,
    );
    if (byWords.length > 0)
      return { engines: byWords.slice(0, 8).map(engineOf), exact: byWords.length === 1, near: false };
  }
  if (codes.length === 0) return { engines: [], exact: false, near: true };
  const near = await manager.query<FamilyRow[]>(
    `select ${FAMILY_COLUMNS} ${from} cross join unnest($1::text[]) as typed(code)
     where f.code_key % typed.code or left(f.code_key, 3) = left(typed.code, 3)
     group by f.id, m.name order by max(similarity(f.code_key, typed.code)) desc, f.code_key limit 6`,
    [codes],
  );
  return { engines: near.map(engineOf), exact: false, near: true };
}
