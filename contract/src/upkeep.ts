import { SEASONS, UPKEEP_KINDS, UPKEEP_STANDINGS } from '@crosspeen/core';
import { z } from 'zod';
import {
  distanceKm,
  familyId,
  isoDate,
  optionalText,
  rowVersion,
  shortText,
  spansText,
  statement,
  taskId,
  weakPointId,
} from './common.ts';

/** A task was done on a day, or is known never to have been done until then. */
export const UPKEEP_CERTAINTIES = ['done', 'never'] as const;

/** Knowledge of a recurring task, the same for every vehicle. */
const taskTold = {
  taskId,
  kind: z.enum(UPKEEP_KINDS),
  title: z.string(),
  how: z.string(),
  minutes: z.int(),
  ownerCan: z.boolean(),
  season: z.enum(SEASONS).nullable(),
  cautions: z.array(z.string()),
  /** Statements about its interval. */
  statements: z.array(statement),
};

/** A recurring task as it stands on one vehicle; days are day numbers, km on its meter. */
export const upkeepRow = z
  .object({
    ...taskTold,
    standing: z.enum(UPKEEP_STANDINGS),
    due: z.object({ day: z.number(), km: z.number() }).nullable(),
    lastDay: z.number().nullable(),
    /** Authority whose interval it is due by. */
    by: z.string().nullable(),
    /** Stretches of days in which it was neglected. */
    neglected: z.array(z.tuple([z.number(), z.number()])),
    protects: z.array(z.object({ weakPointId, title: z.string(), factor: z.number() })),
  })
  .meta({ id: 'UpkeepRow' });
export type WireUpkeep = z.infer<typeof upkeepRow>;

/** A recurring task in the library. */
export const libraryTask = z
  .object({
    ...taskTold,
    key: z.string(),
    familyId,
    engineCode: z.string(),
    version: rowVersion,
    inUse: z.boolean(),
    pack: z.string().nullable(),
    protects: z.array(z.object({ weakPointId, title: z.string(), factor: z.number() })),
    /** Number of its records on saved vehicles, and number of these vehicles. */
    done: z.int(),
    vehicles: z.int(),
  })
  .meta({ id: 'LibraryTask' });
export type LibraryTask = z.infer<typeof libraryTask>;

/** Factor by which something wears faster while a task is overdue. */
export const neglectFactor = z
  .number()
  .min(1, { message: 'must be at least x1: neglect never makes anything last' })
  .max(5, { message: 'must be at most x5' });

/**
 * A recurring task as a person writes it, with this workshop's own statement about its interval.
 */
export const taskDraft = z.object({
  familyId,
  title: shortText(120),
  kind: z.enum(UPKEEP_KINDS),
  how: shortText(400),
  minutes: z.int({ message: 'must be whole minutes' }).min(1).max(6000),
  ownerCan: z.boolean(),
  season: z.enum(SEASONS).nullable(),
  protects: z
    .array(z.object({ weakPointId, factor: neglectFactor }))
    .max(40)
    .refine((list) => new Set(list.map((one) => one.weakPointId)).size === list.length, {
      message: 'each weak point can stand here once',
    }),
  /** Null where the workshop says nothing of its own; what others say stays. */
  statement: z.object({ words: shortText(400), interval: spansText }).nullable(),
  inUse: z.boolean().default(true),
});
export type TaskDraft = z.infer<typeof taskDraft>;
export const taskUpdate = z.object({ draft: taskDraft, version: rowVersion });

/** A task that was done, or is known never to have been done until that day. */
export const upkeepCreate = z
  .object({
    taskId,
    certainty: z.enum(UPKEEP_CERTAINTIES).default('done'),
    day: isoDate.nullable(),
    km: distanceKm.nullable(),
    note: optionalText(300).default(null),
  })
  .superRefine((value, context) => {
    if (value.day === null && value.km === null)
      context.addIssue({ code: 'custom', path: ['day'], message: 'give the date or the reading; about is enough' });
  });
export type UpkeepCreate = z.input<typeof upkeepCreate>;
