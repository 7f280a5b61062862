import { UNTOLD_LOOK_MINUTES } from '@crosspeen/core';
import type { ComingVisit, Visit } from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import { paged, type PageAsked, type Paged } from '../platform/paged.ts';

/** A visit `v` with its jobs. */
const VISIT_COLUMNS = `
  v.id, v.vehicle_id as "vehicleId", v.state, v.day, v.km, v.note, v.version, v.done_day as "doneDay",
  v.done_km as "doneKm",
  (
    select coalesce(
      jsonb_agg(
        jsonb_build_object(
          'weakPointId', j.weak_point_id, 'title', w.title, 'component', c.name, 'action', j.action, 'minutes',
          case when j.action = 'renew' then w.renew_minutes else coalesce((w.look ->> 'minutes')::int, ${UNTOLD_LOOK_MINUTES}) end,
          'grade', j.grade, 'partNumber', j.part_number, 'revision', j.revision
        )
        order by j.position
      ), '[]'
    )
    from visit_job j
    join weak_point w on w.id = j.weak_point_id
    join component c on c.id = w.component_id
    where j.visit_id = v.id and j.retracted_at is null
  ) as jobs,
  (
    select coalesce(
      jsonb_agg(jsonb_build_object('taskId', t.id, 'title', t.title, 'minutes', t.minutes) order by x.position), '[]'
    )
    from visit_task x
    join upkeep_task t on t.id = x.task_id
    where x.visit_id = v.id and x.retracted_at is null
  ) as tasks`;

/** Visits of one vehicle that are planned or done, latest first; at most a hundred. */
export const visitsOf = (manager: EntityManager, vehicleId: string): Promise<Visit[]> =>
  manager.query<Visit[]>(
    `select ${VISIT_COLUMNS}
      from visit v
      where v.vehicle_id = $1 and v.retracted_at is null and v.state <> 'called_off'
      order by v.day desc, v.id
      limit 100`,
    [vehicleId],
  );

/** One page of the planned visits of all vehicles, soonest first. */
export function comingVisits(manager: EntityManager, asked: PageAsked): Promise<Paged<ComingVisit>> {
  const where = "where v.state = 'planned' and v.retracted_at is null";
  return paged<ComingVisit>(manager, asked, {
    counted: `from visit v ${where}`,
    rows: (
      limits,
    ) => `select ${VISIT_COLUMNS}, h.plate, h.name, m.name as maker, h.model, h.odometer_unit as "odometerUnit"
       from visit v
       join vehicle h on h.id = v.vehicle_id
       join engine_family f on f.id = h.family_id
       join maker m on m.id = f.maker_id
       ${where} order by v.day, v.id ${limits}`,
  });
}
