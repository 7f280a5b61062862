import { pack as packSchema, type Pack, type PackInput } from '@crosspeen/contract';
import { formatSpans, isoFromDay, type ApplicabilityRule, type Span, type StatementStrength } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { coversText } from './cover.ts';
import { nearestWord } from './said.ts';

type Family = PackInput['families'][number];
type Point = NonNullable<Family['weakPoints']>[number];

const month = (iso: string | null): string | undefined => (iso === null ? undefined : iso.slice(0, 7));
/** Properties that are nothing are left out of a pack. */
const bare = <T extends object>(row: T): { [Key in keyof T]: Exclude<T[Key], null | undefined> } =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => value !== null && value !== undefined)) as never;

const ruleOut = ({ producedFromDay, producedToDay, ...rule }: ApplicabilityRule): Point['appliesTo'] =>
  bare({
    ...rule,
    producedFrom: producedFromDay === undefined ? undefined : month(isoFromDay(producedFromDay)),
    producedTo: producedToDay === undefined ? undefined : month(isoFromDay(producedToDay)),
  }) as Point['appliesTo'];

export interface PackHead {
  readonly key: string;
  readonly title: string;
  readonly version: string;
  readonly licence: string;
  readonly note?: string;
}

/**
 * Some engine families (all, where none is named) with everything they refer to, as a pack. Drafts and what was
 * superseded stay here. Months stand for production dates.
 */
export async function exportPack(
  manager: EntityManager,
  head: PackHead,
  familyIds: readonly string[] | null,
): Promise<Pack> {
  const which = familyIds === null ? '($1::uuid[] is null or true)' : 'f.id = any($1::uuid[])';
  const one = [familyIds === null ? null : [...familyIds]];
  const families = await manager.query<
    (Omit<Family, 'variants' | 'features' | 'operations' | 'weakPoints'> & { id: string })[]
  >(
    `select f.id, f.key, m.key as maker, f.code, f.name, f.displacement_l as "displacementL", f.fuel, f.aspiration,
        f.timing_drive as "timingDrive", f.interference, f.note
      from engine_family f
      join maker m on m.id = f.maker_id
      where ${which}
      order by f.key`,
    one,
  );
  const ids = [families.map(({ id }) => id)];
  type Of<T> = T & { familyId: string };
  const [variants, features, operations, points, statements] = await Promise.all([
    manager.query<
      Of<{
        key: string;
        name: string;
        producedFrom: string | null;
        producedTo: string | null;
        howToTell: string | null;
        serialFrom: number | null;
        serialTo: number | null;
        models: { model: string; from: number; to: number }[];
      }>[]
    >(
      `select family_id as "familyId", key, name, produced_from as "producedFrom", produced_to as "producedTo",
          how_to_tell as "howToTell", serial_from as "serialFrom", serial_to as "serialTo", models
        from engine_variant
        where family_id = any($1::uuid[])
        order by position`,
      ids,
    ),
    manager.query<Of<{ key: string; name: string; howToTell: string | null; share: number }>[]>(
      `select family_id as "familyId", key, name, how_to_tell as "howToTell", share
        from family_feature
        where family_id = any($1::uuid[])
        order by position`,
      ids,
    ),
    manager.query<
      Of<{ key: string; name: string; minutes: number; needs: string[]; tools: string[]; cautions: string[] }>[]
    >(
      `select o.family_id as "familyId", o.key, o.name, o.minutes,
          array(
            select n.key
            from operation_need x
            join labour_operation n on n.id = x.needs_id
            where x.operation_id = o.id
            order by n.position
          ) as needs,
         array(
           select t.key
           from operation_tool x
           join tool t on t.id = x.tool_id
           where x.operation_id = o.id
           order by t.key
         ) as tools,
           array(
             select k.key
             from operation_caution x
             join caution k on k.id = x.caution_id
             where x.operation_id = o.id
             order by k.key
           ) as cautions
       from labour_operation o where o.family_id = any($1::uuid[]) order by o.position`,
      ids,
    ),
    manager.query<
      Of<{
        id: string;
        key: string;
        component: string;
        operation: string | null;
        title: string;
        consequence: Point['consequence'];
        safety: boolean;
        effect: string;
        signs: string;
        share: number;
        causes: Span[][];
        look: {
          how: string;
          minutes: number;
          detection: number;
          falseAlarm: number;
          warning: Span[];
          cautions?: string[];
        } | null;
        renewMinutes: number;
        appliesTo: ApplicabilityRule;
        retiredByRevision: string | null;
      }>[]
    >(
      `select w.family_id as "familyId", w.id, w.key, c.key as component, o.key as operation, w.title, w.consequence,
          w.safety, w.effect, w.signs, w.share, w.causes, w.look, w.renew_minutes as "renewMinutes",
          w.applies_to as "appliesTo", w.retired_by_revision as "retiredByRevision"
       from weak_point w
       join component c on c.id = w.component_id
       left join labour_operation o on o.id = w.operation_id
       where w.family_id = any($1::uuid[]) and w.state in ('published', 'retired')
       order by w.position, w.key`,
      ids,
    ),
    manager.query<
      {
        pointId: string;
        authority: string;
        edition: string | null;
        words: string;
        interval: Span[];
        doubted: boolean;
        strength: StatementStrength | null;
      }[]
    >(
      `select s.weak_point_id as "pointId", a.key as authority, s.edition, s.words, s."interval", s.doubted,
          s.strength
        from statement s
        join authority a on a.id = s.authority_id
        join weak_point w on w.id = s.weak_point_id
        where w.family_id = any($1::uuid[])
        order by s.position`,
      ids,
    ),
  ]);
  const notices = await manager.query<
    {
      key: string;
      kind: 'bulletin' | 'coverage';
      authority: string;
      number: string;
      title: string;
      words: string;
      issued: string;
      asks: 'look' | 'renew';
      producedFrom: string | null;
      producedTo: string | null;
      coveredDays: number | null;
      coveredKm: number | null;
      endsOn: string | null;
      weakPoints: string[];
    }[]
  >(
    `select n.key, n.kind, a.key as authority, n.number, n.title, n.words, n.issued, n.asks,
        n.produced_from as "producedFrom", n.produced_to as "producedTo", n.covered_days as "coveredDays",
        n.covered_km as "coveredKm", n.ends_on as "endsOn", about.keys as "weakPoints"
     from notice n
     join authority a on a.id = n.authority_id
     cross join lateral (
       select array_agg(w.key order by w.key) as keys
       from notice_point p
       join weak_point w on w.id = p.weak_point_id
       where p.notice_id = n.id and w.family_id = any($1::uuid[]) and w.state in ('published', 'retired')
     ) as about
     where n.state = 'current' and about.keys is not null order by n.key`,
    ids,
  );
  const used = {
    components: [...new Set(points.map(({ component }) => component))],
    authorities: [...new Set([...statements, ...notices].map(({ authority }) => authority))],
    tools: [...new Set(operations.flatMap(({ tools }) => tools))],
    cautions: [
      ...new Set([
        ...operations.flatMap(({ cautions }) => cautions),
        ...points.flatMap(({ look }) => look?.cautions ?? []),
      ]),
    ],
    makers: [...new Set(families.map(({ maker }) => maker))],
  };
  const [makers, authorities, components, parts, tools, cautions] = await Promise.all([
    manager.query<PackInput['makers']>('select key, name from maker where key = any($1::text[]) order by key', [
      used.makers,
    ]),
    manager.query<PackInput['authorities']>(
      'select key, kind, name, region from authority where key = any($1::text[]) order by key',
      [used.authorities],
    ),
    manager.query<Omit<PackInput['components'][number], 'parts'>[]>(
      `select key, name, class, grp as "group", fitted_to as "fittedTo"
        from component
        where key = any($1::text[])
        order by key`,
      [used.components],
    ),
    manager.query<
      {
        component: string;
        number: string;
        name: string;
        grade: 'original' | 'equivalent' | 'cheap';
        revision: string | null;
        howToTell: string | null;
        supersedes: string | null;
        priceMinor: number | null;
      }[]
    >(
      `select c.key as component, p.number, p.name, p.grade, p.revision, p.how_to_tell as "howToTell", p.supersedes,
          p.price_minor as "priceMinor"
        from part p
        join component c on c.id = p.component_id
        where c.key = any($1::text[])
        order by p.number`,
      [used.components],
    ),
    manager.query<PackInput['tools'] & object>(
      'select key, name, without_it as without from tool where key = any($1::text[]) order by key',
      [used.tools],
    ),
    manager.query<PackInput['cautions'] & object>(
      'select key, words from caution where key = any($1::text[]) order by key',
      [used.cautions],
    ),
  ]);
  return packSchema.parse({
    format: 'crosspeen-pack',
    formatVersion: 1,
    ...head,
    makers,
    authorities: authorities.map(bare),
    tools: tools.map(bare),
    cautions,
    components: components.map((component) => ({
      ...component,
      parts: parts.filter((part) => part.component === component.key).map(({ component: _, ...part }) => bare(part)),
    })),
    families: families.map(({ id, ...family }) => ({
      ...bare(family),
      variants: variants
        .filter(({ familyId }) => familyId === id)
        .map(({ familyId: _, producedFrom, producedTo, ...variant }) =>
          bare({ ...variant, producedFrom: month(producedFrom), producedTo: month(producedTo) }),
        ),
      features: features.filter(({ familyId }) => familyId === id).map(({ familyId: _, ...feature }) => bare(feature)),
      operations: operations
        .filter(({ familyId }) => familyId === id)
        .map(({ familyId: _, ...operation }) => operation),
      weakPoints: points
        .filter(({ familyId }) => familyId === id)
        .map(({ familyId: _, id: pointId, share, causes, look, appliesTo, ...point }) =>
          bare({
            ...point,
            share: nearestWord(share),
            causes: causes.map(formatSpans),
            appliesTo: ruleOut(appliesTo),
            look:
              look === null
                ? undefined
                : {
                    how: look.how,
                    minutes: look.minutes,
                    detects: look.detection,
                    falseAlarm: look.falseAlarm,
                    warns: formatSpans(look.warning),
                    ...(look.cautions ? { cautions: look.cautions } : {}),
                  },
            statements: statements
              .filter((statement) => statement.pointId === pointId)
              .map(({ pointId: __, interval, doubted, ...statement }) =>
                bare({
                  ...statement,
                  interval: interval.length === 0 ? undefined : formatSpans(interval),
                  doubted: doubted ? true : undefined,
                }),
              ),
          }),
        ),
    })),
    notices: notices.map(({ coveredDays, coveredKm, ...notice }) =>
      bare({ ...notice, covers: coversText(coveredDays, coveredKm) }),
    ),
  });
}
