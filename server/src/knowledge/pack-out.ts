import { pack as packSchema, type Pack, type PackInput } from '@crosspeen/contract';
import { In, type EntityManager } from 'typeorm';
import { columnsOf } from '../platform/entity.ts';
import { ComponentEntity, componentToPack, PartEntity } from './component.ts';
import { coversText } from './cover.ts';
import { OPERATIONS_OUT, type OperationOut } from './operation.ts';
import {
  AuthorityEntity,
  CautionEntity,
  FamilyEntity,
  FeatureEntity,
  MakerEntity,
  NoticeEntity,
  SymptomEntity,
  ToolEntity,
  VariantEntity,
} from './rows.ts';
import { saidToPack, statementsOf, type Said } from './statement.ts';
import { taskToPack, UpkeepTaskEntity } from './upkeep.ts';
import { IN_USE, toldToPack } from './weak-point.ts';
import { WeakPointEntity, type WeakPointRow } from './weak-point-row.ts';

const month = (iso: string | null): string | undefined => (iso === null ? undefined : iso.slice(0, 7));
/** Properties that are nothing are left out of a pack. */
const bare = <T extends object>(row: T): { [Key in keyof T]: Exclude<T[Key], null | undefined> } =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => value !== null && value !== undefined)) as never;

export interface PackHead {
  readonly key: string;
  readonly title: string;
  readonly version: string;
  readonly licence: string;
  readonly note?: string;
}

type PointOut = WeakPointRow & {
  readonly component: string;
  readonly operation: string | null;
  readonly statements: readonly (Said & { readonly authority: string })[];
};

const POINTS_OUT = `
  select ${columnsOf(WeakPointEntity, 'w')}, c.key as component, o.key as operation,
    ${statementsOf('key')} as statements
  from weak_point w
  join component c on c.id = w.component_id
  left join labour_operation o on o.id = w.operation_id
  where w.family_id = any($1::uuid[]) and ${IN_USE}
  order by w.position, w.key`;

const NOTICES_OUT = `
  select ${columnsOf(NoticeEntity, 'n', ['key', 'kind', 'number', 'title', 'words', 'issued', 'asks', 'producedFrom', 'producedTo', 'coveredDays', 'coveredKm', 'endsOn', 'models', 'pays'])},
    a.key as authority, about.keys as "weakPoints"
  from notice n
  join authority a on a.id = n.authority_id
  cross join lateral (
    select array_agg(w.key order by w.key) as keys
    from notice_point p
    join weak_point w on w.id = p.weak_point_id
    where p.notice_id = n.id and w.family_id = any($1::uuid[]) and ${IN_USE}
  ) as about
  where n.state = 'current' and about.keys is not null
  order by n.key`;
type NoticeOut = Omit<NonNullable<PackInput['notices']>[number], 'covers'> & {
  readonly coveredDays: number | null;
  readonly coveredKm: number | null;
};

/**
 * Some engine families (all, where none is named) with everything they refer to, as a pack. Drafts and what was
 * superseded stay here. Months stand for production dates.
 */
export async function exportPack(
  manager: EntityManager,
  head: PackHead,
  familyIds: readonly string[] | null,
): Promise<Pack> {
  const families = await manager.find(FamilyEntity, {
    where: familyIds === null ? {} : { id: In([...familyIds]) },
    order: { key: 'ASC' },
  });
  const ids = families.map(({ id }) => id);
  const [variants, features, operations, points, notices] = await Promise.all([
    manager.find(VariantEntity, { where: { familyId: In(ids) }, order: { position: 'ASC' } }),
    manager.find(FeatureEntity, { where: { familyId: In(ids) }, order: { position: 'ASC' } }),
    manager.query<OperationOut[]>(OPERATIONS_OUT, [ids]),
    manager.query<PointOut[]>(POINTS_OUT, [ids]),
    manager.query<NoticeOut[]>(NOTICES_OUT, [ids]),
  ]);
  const tasks = await manager.find(UpkeepTaskEntity, {
    where: { familyId: In(ids), state: 'current' },
    order: { position: 'ASC', key: 'ASC' },
  });
  const statements = points.flatMap((point) => point.statements);
  const named = <T>(keys: readonly T[]): { key: ReturnType<typeof In> } => ({ key: In([...new Set(keys)]) });
  const byKey = { key: 'ASC' } as const;
  const [makers, authorities, components, tools, cautions, symptoms] = await Promise.all([
    manager.find(MakerEntity, { where: { id: In(families.map(({ makerId }) => makerId)) }, order: byKey }),
    manager.find(AuthorityEntity, {
      where: named([
        ...statements.map(({ authority }) => authority),
        ...tasks.flatMap(({ says }) => says.map(({ authority }) => authority)),
        ...notices.map((row) => row.authority),
      ]),
      order: byKey,
    }),
    manager.find(ComponentEntity, {
      where: named([...points.map(({ component }) => component), ...operations.flatMap((row) => row.renewWith ?? [])]),
      order: byKey,
    }),
    manager.find(ToolEntity, {
      where: named([
        ...operations.flatMap((row) => row.tools ?? []),
        ...points.flatMap(({ look }) => look?.tools ?? []),
      ]),
      order: byKey,
    }),
    manager.find(CautionEntity, {
      where: named([
        ...operations.flatMap((row) => row.cautions ?? []),
        ...points.flatMap(({ look }) => look?.cautions ?? []),
        ...families.flatMap(({ checks }) => checks.flatMap(({ cautions: of }) => of ?? [])),
        ...tasks.flatMap((task) => task.cautions),
      ]),
      order: byKey,
    }),
    manager.find(SymptomEntity, {
      where: named(points.flatMap((point) => point.symptoms.map(({ symptom }) => symptom))),
      order: byKey,
    }),
  ]);
  const parts = await manager.find(PartEntity, {
    where: { componentId: In(components.map(({ id }) => id)) },
    order: { number: 'ASC' },
  });
  const makerKeys = new Map(makers.map(({ id, key }) => [id, key]));
  return packSchema.parse({
    format: 'crosspeen-pack',
    formatVersion: 2,
    ...head,
    makers: makers.map(({ key, name }) => ({ key, name })),
    authorities: authorities.map(({ key, kind, name, region }) => bare({ key, kind, name, region })),
    tools: tools.map(({ key, name, withoutIt }) => bare({ key, name, without: withoutIt })),
    cautions: cautions.map(({ key, words }) => ({ key, words })),
    symptoms: symptoms.map(({ key, words, codes, tells, stop, drive, forbids }) =>
      bare({ key, words, codes, tells, stop, drive, forbids: forbids.length > 0 ? forbids : null }),
    ),
    components: components.map((component) =>
      componentToPack(
        component,
        parts.filter(({ componentId }) => componentId === component.id),
      ),
    ),
    families: families.map((family) => ({
      ...bare({
        key: family.key,
        maker: makerKeys.get(family.makerId),
        code: family.code,
        name: family.name,
        displacementL: family.displacementL,
        fuel: family.fuel,
        aspiration: family.aspiration,
        timingDrive: family.timingDrive,
        interference: family.interference,
        note: family.note,
        layout: family.layout,
        checks: family.checks.length > 0 ? family.checks : null,
        alsoWritten: family.alsoWritten.length > 0 ? family.alsoWritten : null,
      }),
      variants: variants
        .filter(({ familyId }) => familyId === family.id)
        .map(({ key, name, producedFrom, producedTo, howToTell, serialFrom, serialTo, models }) =>
          bare({
            key,
            name,
            producedFrom: month(producedFrom),
            producedTo: month(producedTo),
            howToTell,
            serialFrom,
            serialTo,
            models,
          }),
        ),
      features: features
        .filter(({ familyId }) => familyId === family.id)
        .map(({ key, name, howToTell, share }) => bare({ key, name, howToTell, share })),
      operations: operations
        .filter(({ familyId }) => familyId === family.id)
        .map(({ familyId: _, ...operation }) => operation),
      weakPoints: points
        .filter(({ familyId }) => familyId === family.id)
        .map((point) => ({
          ...toldToPack(point),
          ...bare({ key: point.key, component: point.component, operation: point.operation }),
          statements: point.statements.map(({ authority, ...said }) => ({ authority, ...saidToPack(said) })),
        })),
      upkeep: tasks.filter(({ familyId }) => familyId === family.id).map(taskToPack),
    })),
    notices: notices.map(({ coveredDays, coveredKm, ...notice }) =>
      bare({ ...notice, covers: coversText(coveredDays, coveredKm) }),
    ),
  });
}
