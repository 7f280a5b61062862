import { workOfJob, workTogether, type JobTold } from '@crosspeen/core';
import type { ComingVisit, Visit } from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import { minutesOn, operationsOfFamilies, type NamedOperation } from '../knowledge/operation.ts';
import { paged, type PageAsked, type Paged } from '../platform/paged.ts';

/** A visit `v` with its jobs, each with what is told of its work. */
const VISIT_COLUMNS = `
  (select h.family_id from vehicle h where h.id = v.vehicle_id) as "familyId",
  (select h.variant_key from vehicle h where h.id = v.vehicle_id) as "variantKey",
  v.id, v.vehicle_id as "vehicleId", v.state, v.day, v.km, v.note, v.version, v.done_day as "doneDay",
  v.done_km as "doneKm",
  (
    select coalesce(
      jsonb_agg(
        jsonb_build_object(
          'weakPointId', j.weak_point_id, 'title', w.title, 'component', c.name, 'action', j.action,
          'grade', j.grade, 'partNumber', j.part_number, 'revision', j.revision, 'told', jsonb_build_object(
            'renewMinutes', w.renew_minutes,
            'operation', (select o.key from labour_operation o where o.id = w.operation_id),
            'look', case
              when w.look is not null then jsonb_build_object(
                'minutes', w.look -> 'minutes', 'off', coalesce(w.look -> 'off', '[]')
              )
            end
          )
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

/** A visit as it is read, before its minutes are reckoned. */
type Told<V extends Visit> = Omit<V, 'jobs' | 'minutes' | 'steps'> & {
  readonly familyId: string;
  readonly variantKey: string | null;
  readonly jobs: readonly (Omit<Visit['jobs'][number], 'minutes'> & { readonly told: Omit<JobTold, 'action'> })[];
};

/** Visits with what they take: each job by itself, and all together with shared access counted once. */
async function reckoned<V extends Visit>(manager: EntityManager, rows: readonly Told<V>[]): Promise<V[]> {
  const families = await operationsOfFamilies(manager, [...new Set(rows.map(({ familyId }) => familyId))]);
  return rows.map(({ familyId, variantKey, jobs, ...visit }) => {
    const operations = minutesOn(families.get(familyId) ?? new Map<string, NamedOperation>(), variantKey);
    const { minutes, alone, steps } = workTogether(operations, [
      ...jobs.map(({ action, told }) => workOfJob({ action, ...told })),
      ...(visit as unknown as Visit).tasks.map((task) => ({ operations: [], own: task.minutes })),
    ]);
    return {
      ...visit,
      jobs: jobs.map(({ told: _, ...job }, i) => ({ ...job, minutes: alone[i]! })),
      minutes,
      steps: steps.map(({ key, ...step }) => ({ ...step, name: operations.get(key)!.name })),
    } as unknown as V;
  });
}

/** Visits of one vehicle that are planned or done, latest first; at most a hundred. */
export const visitsOf = async (manager: EntityManager, vehicleId: string): Promise<Visit[]> =>
  reckoned(
    manager,
    await manager.query<Told<Visit>[]>(
      `select ${VISIT_COLUMNS}
        from visit v
        where v.vehicle_id = $1 and v.retracted_at is null and v.state <> 'called_off'
        order by v.day desc, v.id
        limit 100`,
      [vehicleId],
    ),
  );

/** One page of the planned visits of all vehicles, soonest first. */
export async function comingVisits(manager: EntityManager, asked: PageAsked): Promise<Paged<ComingVisit>> {
  const where = "where v.state = 'planned' and v.retracted_at is null";
  const { rows, total } = await paged<Told<ComingVisit>>(manager, asked, {
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
  return { rows: await reckoned(manager, rows), total };
}

/** The planned visits of all vehicles from a day until before another, soonest first; at most two thousand. */
export const plannedBetween = async (manager: EntityManager, from: string, until: string): Promise<Visit[]> =>
  reckoned(
    manager,
    await manager.query<Told<Visit>[]>(
      `select ${VISIT_COLUMNS}
        from visit v
        where v.state = 'planned' and v.retracted_at is null and v.day >= $1 and v.day < $2
        order by v.day, v.id
        limit 2000`,
      [from, until],
    ),
  );
