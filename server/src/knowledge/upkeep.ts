import { FAULTS, type Pack, type PackInput, type TaskDraft } from '@crosspeen/contract';
import {
  formatSpans,
  type ApplicabilityRule,
  type EngineSpot,
  type LookPlace,
  type Season,
  type Span,
  type StatementStrength,
  type UpkeepKind,
  type UpkeepTaskFact,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import {
  asColumns,
  columnsOf,
  entity,
  flag,
  integer,
  json,
  nullable,
  text,
  uuid,
  uuidKey,
} from '../platform/entity.ts';
import { badField } from '../platform/problem.ts';
import { readSpans, spansOver } from './said.ts';
import { appliesFromPack, appliesToPack } from './weak-point.ts';

/** What an authority, named by key, says of how often. */
interface TaskSaid {
  readonly authority: string;
  readonly edition: string | null;
  readonly words: string;
  readonly interval: readonly Span[];
  readonly doubted: boolean;
  readonly strength: StatementStrength | null;
}

/** A recurring task as its row keeps it; what it protects is named by the key of the weak point. */
export interface UpkeepTaskRow {
  id: string;
  key: string;
  familyId: string;
  kind: UpkeepKind;
  title: string;
  how: string;
  minutes: number;
  ownerCan: boolean;
  place: LookPlace | null;
  spot: EngineSpot | null;
  season: Season | null;
  appliesTo: ApplicabilityRule;
  says: readonly TaskSaid[];
  protects: readonly { readonly key: string; readonly factor: number }[];
  /** By key. */
  cautions: readonly string[];
  position: number;
  state: 'current' | 'withdrawn';
  writtenBy: string | null;
  version: number;
  packKey: string | null;
}

export const UpkeepTaskEntity = entity<UpkeepTaskRow>('upkeep_task', {
  id: uuidKey,
  key: text,
  familyId: uuid,
  kind: text,
  title: text,
  how: text,
  minutes: integer,
  ownerCan: flag,
  place: nullable(text),
  spot: nullable(text),
  season: nullable(text),
  appliesTo: json,
  says: json,
  protects: json,
  cautions: json,
  position: integer,
  state: text,
  writtenBy: nullable(uuid),
  version: integer,
  packKey: nullable(text),
});

type PackTask = Pack['families'][number]['upkeep'][number];
type PackTaskInput = NonNullable<PackInput['families'][number]['upkeep']>[number];

/** A task of a pack, as columns, laid over the row that stands. */
export const taskColumns = (
  task: PackTask,
  standing: UpkeepTaskRow | undefined,
  { familyId, position, packKey }: Pick<UpkeepTaskRow, 'familyId' | 'position' | 'packKey'>,
): Record<string, unknown> =>
  asColumns(UpkeepTaskEntity, {
    key: task.key,
    familyId,
    kind: task.kind,
    title: task.title,
    how: task.how,
    minutes: task.minutes,
    ownerCan: task.ownerCan,
    place: task.place ?? null,
    spot: task.spot ?? null,
    season: task.season ?? null,
    appliesTo: appliesFromPack(task.appliesTo, standing?.appliesTo),
    says: task.statements.map(({ authority, edition, words, interval, doubted, strength }, i) => ({
      authority,
      edition: edition ?? null,
      words,
      interval: interval === undefined ? [] : spansOver(readSpans(interval, 'interval'), standing?.says[i]?.interval),
      doubted: doubted ?? false,
      strength: strength ?? null,
    })),
    protects: task.protects.map(({ weakPoint, factor }) => ({ key: weakPoint, factor })),
    cautions: task.cautions,
    position,
    state: 'current',
    packKey,
  });

/** A task as a pack says it. */
export const taskToPack = (row: UpkeepTaskRow): PackTaskInput => ({
  key: row.key,
  kind: row.kind,
  title: row.title,
  how: row.how,
  minutes: row.minutes,
  ...(row.ownerCan ? { ownerCan: true } : {}),
  ...(row.place === null ? {} : { place: row.place }),
  ...(row.spot === null ? {} : { spot: row.spot }),
  ...(row.season === null ? {} : { season: row.season }),
  ...(Object.keys(row.appliesTo).length === 0 ? {} : { appliesTo: appliesToPack(row.appliesTo) }),
  ...(row.protects.length === 0
    ? {}
    : { protects: row.protects.map(({ key, factor }) => ({ weakPoint: key, factor })) }),
  ...(row.cautions.length === 0 ? {} : { cautions: [...row.cautions] }),
  statements: row.says.map((said) => ({
    authority: said.authority,
    words: said.words,
    ...(said.edition === null ? {} : { edition: said.edition }),
    ...(said.interval.length === 0 ? {} : { interval: formatSpans(said.interval) }),
    ...(said.strength === null ? {} : { strength: said.strength }),
    ...(said.doubted ? { doubted: true } : {}),
  })),
});

/**
 * What the form tells, as columns, laid over the row that stands: what others say, cautions and to which engines it
 * applies are not on the form and stay. `bench` is the key by which this workshop itself speaks. Throws bad_input for
 * a weak point of another engine.
 */
export async function taskFromDraft(
  manager: EntityManager,
  draft: TaskDraft,
  standing: UpkeepTaskRow | null,
  bench: string,
): Promise<Record<string, unknown>> {
  const points = await manager.query<{ id: string; key: string }[]>(
    'select id, key from weak_point where family_id = $1 and id = any($2::uuid[])',
    [draft.familyId, draft.protects.map(({ weakPointId }) => weakPointId)],
  );
  const keys = new Map(points.map(({ id, key }) => [id, key]));
  const own = standing?.says.find(({ authority }) => authority === bench);
  const others = (standing?.says ?? []).filter(({ authority }) => authority !== bench);
  const { statement } = draft;
  const said =
    statement === null
      ? []
      : [
          {
            authority: bench,
            edition: own?.edition ?? null,
            words: statement.words,
            interval: spansOver(readSpans(statement.interval, 'statement.interval'), own?.interval),
            doubted: own?.doubted ?? false,
            strength: own?.strength ?? null,
          },
        ];
  return asColumns(UpkeepTaskEntity, {
    familyId: draft.familyId,
    kind: draft.kind,
    title: draft.title,
    how: draft.how,
    minutes: draft.minutes,
    ownerCan: draft.ownerCan,
    season: draft.season,
    says: [...others, ...said],
    protects: draft.protects.map(({ weakPointId, factor }, i) => {
      const key = keys.get(weakPointId);
      if (key === undefined) throw badField(`protects.${i}.weakPointId`, FAULTS.noWeakPoint);
      return { key, factor };
    }),
    state: draft.inUse ? 'current' : 'withdrawn',
  });
}

/** SQL: who says how often task `t` is done, as statements with the names of who says it. */
const TASK_SAID = `(
    select coalesce(
      jsonb_agg(
        said.told || jsonb_build_object(
          'authority', coalesce(a.name, said.told ->> 'authority'), 'kind', coalesce(a.kind, 'specialist'),
          'region', a.region, 'asks', 'renew', 'always', false
        )
        order by said.place
      ), '[]'
    )
    from jsonb_array_elements(t.says) with ordinality as said(told, place)
    left join authority a on a.key = said.told ->> 'authority'
  )`;

/** SQL: the weak points in use that task `t` protects, with their titles. */
const TASK_PROTECTS = `(
    select coalesce(
      jsonb_agg(
        jsonb_build_object('weakPointId', w.id, 'title', w.title, 'factor', (kept.told ->> 'factor')::float8)
        order by kept.place
      ), '[]'
    )
    from jsonb_array_elements(t.protects) with ordinality as kept(told, place)
    join weak_point w on w.key = kept.told ->> 'key' and w.state in ('published', 'retired')
  )`;

/** SQL: the words of the cautions of task `t`. */
const TASK_CAUTIONS = `(
    select coalesce(jsonb_agg(k.words order by k.key), '[]')
    from caution k
    where k.key in (select jsonb_array_elements_text(t.cautions))
  )`;

/** SQL: a recurring task `t` as people read it and vehicles are judged by it. */
export const TASK_COLUMNS = `${columnsOf(UpkeepTaskEntity, 't', [
  'id',
  'key',
  'kind',
  'title',
  'how',
  'place',
  'spot',
  'minutes',
  'ownerCan',
  'season',
  'appliesTo',
])}, ${TASK_SAID} as statements, ${TASK_PROTECTS} as protects, ${TASK_CAUTIONS} as cautions`;

/** The tasks in use of an engine family, in their order. */
export const tasksOfFamily = (manager: EntityManager, familyId: string): Promise<UpkeepTaskFact[]> =>
  manager.query<UpkeepTaskFact[]>(
    `select ${TASK_COLUMNS}
      from upkeep_task t
      where t.family_id = $1 and t.state = 'current'
      order by t.position, t.key`,
    [familyId],
  );

/** A task of a vehicle's own engine. Throws bad_input for another engine's. */
export async function taskOfEngine(
  manager: EntityManager,
  familyId: string,
  taskId: string,
): Promise<{ readonly id: string; readonly title: string; readonly minutes: number }> {
  const row = await manager.findOneBy(UpkeepTaskEntity, { id: taskId });
  if (row?.familyId !== familyId) throw badField('taskId', FAULTS.noTask);
  return { id: row.id, title: row.title, minutes: row.minutes };
}
