import { CONDITIONS, GRADES, JOB_ACTIONS } from '@crosspeen/core';
import { z } from 'zod';
import {
  distanceKm,
  isoDate,
  optionalText,
  readingUnit,
  rowVersion,
  sure,
  taskId,
  vehicleId,
  visitId,
  weakPointId,
} from './common.ts';

export const VISIT_STATES = ['planned', 'done', 'called_off'] as const;
const visitState = z.enum(VISIT_STATES);
const jobAction = z.enum(JOB_ACTIONS);
const visitJob = z.object({
  weakPointId,
  title: z.string(),
  component: z.string(),
  action: jobAction,
  /** Minutes of the job alone, with all its access. */
  minutes: z.number(),
  grade: z.enum(GRADES),
  partNumber: z.string().nullable(),
  revision: z.string().nullable(),
});
export const visit = z
  .object({
    id: visitId,
    vehicleId,
    state: visitState,
    day: isoDate,
    km: z.number(),
    note: z.string().nullable(),
    version: rowVersion,
    jobs: z.array(visitJob),
    /** Minutes of everything on it, with shared access counted once. */
    minutes: z.number(),
    /**
     * Steps of the teardown, each once and in its order, with the places of the jobs that need it;
     * upkeep comes after the jobs.
     */
    steps: z.array(z.object({ name: z.string(), minutes: z.number(), for: z.array(z.int()) })),
    /** Recurring tasks that are done on it. */
    tasks: z.array(z.object({ taskId, title: z.string(), minutes: z.number() })),
    doneDay: isoDate.nullable(),
    doneKm: z.number().nullable(),
  })
  .meta({ id: 'Visit' });
export type Visit = z.infer<typeof visit>;

const jobInput = z.object({
  weakPointId,
  action: jobAction,
  grade: z.enum(GRADES).default('original'),
  partNumber: optionalText(40).default(null),
  revision: optionalText(10).default(null),
});
const visitInput = {
  day: isoDate,
  km: distanceKm.nullable(),
  note: optionalText(300),
  jobs: z
    .array(jobInput)
    .max(40, { message: 'at most 40 jobs fit on one visit' })
    .refine((jobs) => new Set(jobs.map((job) => job.weakPointId)).size === jobs.length, {
      message: 'each weak point can stand on a visit once',
    }),
  tasks: z
    .array(taskId)
    .max(40, { message: 'at most 40 tasks fit on one visit' })
    .refine((tasks) => new Set(tasks).size === tasks.length, { message: 'each task can stand on a visit once' })
    .default([]),
};
const something = ({ jobs, tasks }: { readonly jobs: readonly unknown[]; readonly tasks: readonly unknown[] }) =>
  jobs.length + tasks.length > 0;
const NOTHING_TO_DO = { message: 'put at least one job on the visit', path: ['jobs'] };
export const visitCreate = z.object(visitInput).refine(something, NOTHING_TO_DO);
export const visitUpdate = z.object({ ...visitInput, version: rowVersion }).refine(something, NOTHING_TO_DO);
export const visitDone = z.object({
  version: rowVersion,
  day: isoDate,
  km: distanceKm,
  sure,
  /** Findings of the looks; renewals need none. */
  findings: z
    .array(z.object({ weakPointId, result: z.enum(CONDITIONS) }))
    .max(40)
    .default([]),
  /** Condition of the parts that came out, if somebody looked. */
  cameOut: z
    .array(z.object({ weakPointId, result: z.enum(CONDITIONS) }))
    .max(40)
    .default([]),
  /** Jobs on the visit that were not done after all. */
  skipped: z.array(weakPointId).max(40).default([]),
  skippedTasks: z.array(taskId).max(40).default([]),
});
/** Jobs and tasks that join an existing visit. */
const visitJoined = z
  .object({ id: visitId, version: rowVersion, jobs: visitInput.jobs, tasks: visitInput.tasks })
  .refine(something, NOTHING_TO_DO);
/** A plan that is accepted: all its visits at once, and what joins visits that stand. */
export const visitsPlanned = z
  .object({ visits: z.array(visitCreate).max(72), joins: z.array(visitJoined).max(36).default([]) })
  .refine(({ visits, joins }) => visits.length + joins.length > 0, {
    message: 'must hold at least one visit',
    path: ['visits'],
  });
export type VisitsPlanned = z.infer<typeof visitsPlanned>;
export const versionOnly = z.object({ version: rowVersion });
export type VisitCreate = z.infer<typeof visitCreate>;
export type VisitDone = z.infer<typeof visitDone>;

export const comingVisit = visit.extend({
  plate: z.string().nullable(),
  name: z.string().nullable(),
  maker: z.string(),
  model: z.string().nullable(),
  odometerUnit: readingUnit,
});
export type ComingVisit = z.infer<typeof comingVisit>;

/** Load of a week: planned work, and due work on vehicles without a planned visit. */
export const weekLoad = z
  .object({
    /** First day of the week. */
    from: isoDate,
    visits: z.int(),
    /** Minutes of the visits that are planned, shared access once. */
    planned: z.number(),
    /** Vehicles with something due that stands on no visit, and the minutes that it would take. */
    dueVehicles: z.int(),
    due: z.number(),
  })
  .meta({ id: 'WeekLoad' });
export const weekLoads = z
  .object({
    weeks: z.array(weekLoad),
    /** Minutes of work that the workshop can do in a week. */
    capacity: z.number(),
    /** The same of what was due before the first week and stands on no visit. */
    overdue: z.object({ vehicles: z.int(), minutes: z.number() }),
  })
  .meta({ id: 'WeekLoads' });
export type WeekLoads = z.infer<typeof weekLoads>;
