import { CHANCE_BANDS } from '@crosspeen/core';
import type {
  ChangeRow,
  HistoryEntry,
  PartOptionByComponent,
  vehicleListQuery,
  VehicleListRow,
} from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import type { z } from 'zod';
import { jsonPairs, RECORDS } from '../ledger/records.ts';
import { isStale } from '../standings/batch.ts';
import { isoInstant, paged, type PageAsked, type Paged } from '../platform/paged.ts';
import { holdsAll, searchPatterns } from '../platform/search.ts';

/** The bands that judgements are indexed by. */
const BANDS = `array[${CHANCE_BANDS.join(', ')}]::float8[]`;

type ListQuery = z.output<typeof vehicleListQuery>;

/**
 * One page of vehicles, worst first, likeliest first or by plate; searched by every word of `q`, filtered by what they
 * are judged.
 */
export async function listVehicles(
  manager: EntityManager,
  { q, order, page, pageSize, verdict, consequence, least }: ListQuery,
  todayIso: string,
): Promise<Paged<VehicleListRow>> {
  const words = searchPatterns(q);
  const values: unknown[] = [];
  const bound = (value: unknown): string => `$${values.push(value)}`;
  const conditions = ['v.retracted_at is null', holdsAll('v.search_text', words, bound)];
  if (verdict !== undefined || consequence !== undefined || least !== undefined) {
    const judged = [
      'j.vehicle_id = v.id',
      ...(verdict === undefined ? ["j.verdict <> 'behind_it'"] : [`j.verdict = ${bound(verdict)}`]),
      ...(consequence === undefined ? [] : [`j.consequence = ${bound(consequence)}`]),
      ...(least === undefined
        ? []
        : [`j.chance >= ${bound(least)} and j.band >= width_bucket($${values.length}::float8, ${BANDS})`]),
    ];
    conditions.push(`exists (select 1 from judgement j where ${judged.join(' and ')})`);
  }
  const where = conditions.join(' and ');
  const filtered = conditions.length > 2 || words.length > 0;
  const by = {
    pressing: 's.rank, s.vehicle_id',
    chance: 's.most_chance desc, s.vehicle_id',
    plate: 'coalesce(v.plate_key, v.name_key), v.id',
  }[order];
  const from = order === 'plate' ? 'vehicle v' : 'vehicle_standing s join vehicle v on v.id = s.vehicle_id';
  const today = `$${values.length + 1}`;
  // The page is found on ids alone; only its own rows are joined to what is shown. A vehicle has a standing exactly
  // while it is not taken back.
  const ids = (limits: string): string =>
    order !== 'plate' && !filtered
      ? `select s.vehicle_id as id, row_number() over (order by ${by}) as place
        from vehicle_standing s
        order by ${by} ${limits}`
      : `select v.id, row_number() over (order by ${by}) as place from ${from} where ${where} order by place ${limits}`;
  const { rows, total } = await paged<Record<string, unknown> & { title: string | null }>(
    manager,
    { page, pageSize },
    {
      values,
      beside: [todayIso],
      counted: `from vehicle v where ${where}`,
      rows: (limits) => `select v.id, v.plate, v.name, v.model, v.odometer_unit as "odometerUnit", m.name as maker,
          f.code as "engineCode",
         s.title, s.verdict, s.chance, s.due_day as "dueDay", s.due_km as "dueKm", s.others, s.km, s.as_of as "asOf",
           s.if_first as "ifFirst", s.upkeep_overdue as "upkeepOverdue", s.upkeep_title as "upkeepTitle",
           s.upkeep_due as "upkeepDue",
           ${isStale(today)} as stale,
         (
           select min(day) from visit where vehicle_id = v.id and state = 'planned' and retracted_at is null
         ) as "nextVisit"
       from (${ids(limits)}) as found
       join vehicle v on v.id = found.id
       join vehicle_standing s on s.vehicle_id = v.id
       join engine_family f on f.id = v.family_id
       join maker m on m.id = f.maker_id
       order by found.place`,
    },
  );
  return {
    total,
    rows: rows.map(
      ({
        title,
        verdict: worst,
        chance,
        ifFirst,
        dueDay,
        dueKm,
        others,
        asOf,
        stale,
        upkeepOverdue,
        upkeepTitle,
        upkeepDue,
        ...vehicle
      }) => ({
        ...vehicle,
        pressing:
          title === null ? null : { title, verdict: worst, chance, ifFirst, dueDay, dueKm, others, asOf, stale },
        upkeep: upkeepTitle === null ? null : { title: upkeepTitle, overdue: upkeepOverdue, dueDay: upkeepDue },
      }),
    ) as unknown as VehicleListRow[],
  };
}

interface HistoryRow {
  readonly kind: HistoryEntry['kind'];
  readonly id: string;
  readonly day: string | null;
  readonly told: object;
  readonly by: string;
}
/** All that happened to the vehicle $1, a row a record, whatever its kind. */
const HISTORY = RECORDS.flatMap(([table, { history }]) =>
  history === null
    ? []
    : [
        `select '${history.kind}' as kind, r.id, r.day, r.created_at, u.display_name as by,
          jsonb_build_object(${jsonPairs(history.columns)}) as told
        from ${table} r
        join app_user u on u.id = r.user_id ${history.joins ?? ''}
        where r.vehicle_id = $1 and r.retracted_at is null`,
      ],
).join('\n      union all\n      ');

/** One page of what happened to a vehicle, latest first; records without a date come last. */
export async function historyOf(
  manager: EntityManager,
  vehicleId: string,
  asked: PageAsked,
): Promise<Paged<HistoryEntry>> {
  const { rows, total } = await paged<HistoryRow>(manager, asked, {
    values: [vehicleId],
    counted: `from (${HISTORY}) as entry`,
    rows: (limits) =>
      `select kind, id, day, told, by from (${HISTORY}) as entry
        order by day desc nulls last, created_at desc, id ${limits}`,
  });
  return { total, rows: rows.map(({ told, ...row }) => ({ ...row, ...told }) as HistoryEntry) };
}

/** One page of the changes to a vehicle, latest first, each with its rows before and after. */
export function changesOf(manager: EntityManager, vehicleId: string, asked: PageAsked): Promise<Paged<ChangeRow>> {
  return paged<ChangeRow>(manager, asked, {
    values: [vehicleId],
    counted: 'from change where vehicle_id = $1',
    rows: (limits) => `select c.id, ${isoInstant('c.at')} as at, u.display_name as by,
          c.summary,
         exists (select 1 from change z where z.undoes = c.id) as undone,
         c.undoes is null and not exists (select 1 from change z where z.undoes = c.id) as undoable,
         (
           select coalesce(
             jsonb_agg(jsonb_build_object('entity', i.entity, 'before', i.before, 'after', i.after) order by i.id),
               '[]'
           )
           from change_item i
           where i.change_id = c.id
         ) as items
       from change c
       join app_user u on u.id = c.user_id
       where c.vehicle_id = $1
       order by c.at desc, c.id ${limits}`,
  });
}

/** Parts on offer by component key, for the components of one engine family. */
export async function partsOfFamily(manager: EntityManager, familyId: string): Promise<PartOptionByComponent> {
  const rows = await manager.query<{ key: string; options: PartOptionByComponent[string] }[]>(
    `select c.key,
        jsonb_agg(
          jsonb_build_object(
            'number', p.number, 'name', p.name, 'grade', p.grade, 'revision', p.revision, 'howToTell', p.how_to_tell,
            'priceMinor', p.price_minor
          )
          order by p.grade = 'original' desc, p.number desc
        ) as options
     from component c
     join part p on p.component_id = c.id
     where c.id in (select component_id from weak_point where family_id = $1)
     group by c.key`,
    [familyId],
  );
  return Object.fromEntries(rows.map(({ key, options }) => [key, options]));
}
