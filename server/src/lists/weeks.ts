import type { WeekLoads } from '@crosspeen/contract';
import { firstDayOfWeek, isoFromDay, VERDICTS, asksForWork, workOfJob, workTogether } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { operationsOfFamilies, type NamedOperation } from '../knowledge/operation.ts';
import { plannedBetween } from './visits.ts';

/** Weeks that are looked ahead. */
const WEEKS = 12;
const WEEK_DAYS = 7;

/** Vehicles of one engine with the same things due in the same week that stand on no visit; week -1 is overdue. */
interface DueAlike {
  readonly familyId: string;
  readonly week: number;
  readonly vehicles: number;
  readonly jobs: readonly {
    readonly look: boolean;
    readonly renewMinutes: number;
    readonly operation: string | null;
    readonly lookMinutes: number | null;
    readonly off: readonly string[] | null;
  }[];
}

/** Verdicts by which a vehicle is called in of their own; what only rides along calls nobody in. */
const CALLS_IN = VERDICTS.filter(asksForWork);
/** As words of the query rather than bound: an index that holds only these is found by them. */
const CALLS_IN_SQL = CALLS_IN.map((verdict) => `'${verdict}'`).join(', ');

/** What falls due until a day and stands on no planned visit, alike vehicles counted together. */
const dueAlike = (
  manager: EntityManager,
  { from, until, today }: { readonly from: string; readonly until: string; readonly today: string },
): Promise<DueAlike[]> =>
  manager.query<DueAlike[]>(
    `with due as (
        select j.vehicle_id, j.weak_point_id, j.verdict,
          case when j.due_day < $3::date then -1 else greatest(0, (j.due_day - $1::date) / ${WEEK_DAYS}) end as week
        from judgement j
        where j.verdict in (${CALLS_IN_SQL}) and j.due_day < $2::date
          and not exists (
            select 1
            from visit v
            join visit_job x on x.visit_id = v.id and x.retracted_at is null
            where v.vehicle_id = j.vehicle_id and v.state = 'planned' and v.retracted_at is null
              and x.weak_point_id = j.weak_point_id
          )
      ), by_vehicle as (
        select h.family_id, d.vehicle_id, d.week,
          array_agg(d.weak_point_id order by d.weak_point_id) as points,
          array_agg(d.verdict order by d.weak_point_id) as verdicts
        from due d
        join vehicle h on h.id = d.vehicle_id and h.retracted_at is null
        group by h.family_id, d.vehicle_id, d.week
      ), alike as (
        select family_id, week, points, verdicts, count(*)::int as vehicles
        from by_vehicle
        group by family_id, week, points, verdicts
      )
      select a.family_id as "familyId", a.week, a.vehicles, (
        select jsonb_agg(
          jsonb_build_object(
            'look', one.verdict = 'look' and w.look is not null, 'renewMinutes', w.renew_minutes, 'operation', (
              select o.key from labour_operation o where o.id = w.operation_id
            ), 'lookMinutes', w.look -> 'minutes', 'off', w.look -> 'off'
          )
        )
        from unnest(a.points, a.verdicts) as one(point, verdict)
        join weak_point w on w.id = one.point
      ) as jobs
      from alike a`,
    [from, until, today],
  );

const minutesOf = ({ jobs }: DueAlike, operations: ReadonlyMap<string, NamedOperation>): number =>
  workTogether(
    operations,
    jobs.map(({ look, renewMinutes, operation, lookMinutes, off }) =>
      workOfJob({
        action: look ? 'look' : 'renew',
        operation,
        renewMinutes,
        look: lookMinutes === null ? null : { minutes: lookMinutes, off: off ?? [] },
      }),
    ),
  ).minutes;

/** What the coming weeks hold: planned visits, and what falls due beside them, against what the bays can do. */
export async function weekLoads(
  manager: EntityManager,
  { today, firstWeekday, weekMinutes }: { today: number; readonly firstWeekday: number; readonly weekMinutes: number },
): Promise<WeekLoads> {
  const first = firstDayOfWeek(today, firstWeekday);
  const until = isoFromDay(first + WEEKS * WEEK_DAYS);
  const from = isoFromDay(first);
  const [visits, due] = await Promise.all([
    plannedBetween(manager, from, until),
    dueAlike(manager, { from, until, today: isoFromDay(today) }),
  ]);
  const families = await operationsOfFamilies(manager, [...new Set(due.map(({ familyId }) => familyId))]);
  const loads = due.map((alike) => ({
    week: alike.week,
    vehicles: alike.vehicles,
    minutes: alike.vehicles * minutesOf(alike, families.get(alike.familyId) ?? new Map()),
  }));
  const dueIn = (week: number): { vehicles: number; minutes: number } =>
    loads
      .filter((load) => load.week === week)
      .reduce((sum, { vehicles, minutes }) => ({ vehicles: sum.vehicles + vehicles, minutes: sum.minutes + minutes }), {
        vehicles: 0,
        minutes: 0,
      });
  return {
    weeks: Array.from({ length: WEEKS }, (_, week) => {
      const [begins, ends] = [isoFromDay(first + week * WEEK_DAYS), isoFromDay(first + (week + 1) * WEEK_DAYS)];
      const here = visits.filter(({ day }) => day >= begins && day < ends);
      const { vehicles, minutes } = dueIn(week);
      return {
        from: begins,
        visits: here.length,
        planned: here.reduce((sum, visit) => sum + visit.minutes, 0),
        dueVehicles: vehicles,
        due: minutes,
      };
    }),
    capacity: weekMinutes,
    overdue: dueIn(-1),
  };
}
