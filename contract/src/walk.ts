import { CONDITIONS, ENGINE_SPOTS, LOOK_METHODS, LOOK_PLACES, UPKEEP_KINDS, VERDICTS } from '@crosspeen/core';
import { z } from 'zod';
import { engineSummary, lookupQuery, reportTold } from './answer.ts';
import { changeId, isoDate, optionalText, readingUnit, vehicleId, weakPointId } from './common.ts';
import { engineLayout } from './layout.ts';
import { measure } from './told.ts';

/** Results for a weak point, that it could not be seen, or that a task was done. */
export const WALK_RESULTS = ['sound', 'worn', 'failed', 'unseen', 'done'] as const;
export type WalkResult = (typeof WALK_RESULTS)[number];

/** States of an entry: it counts, waits for a decision, or was put aside. */
export const ENTRY_STATES = ['stands', 'held', 'dropped'] as const;

/**
 * Reasons why an entry waits: somebody entered the same thing, or the part was renewed after the
 * look.
 */
export const HELD_BECAUSE = ['another_entry', 'renewed_meanwhile'] as const;

/** Most minutes that somebody has for a walk. */
const MOST_MINUTES = 600;
const walkMinutes = z.int({ message: 'must be whole minutes' }).min(1).max(MOST_MINUTES);

/** Most entries that one request brings. */
export const MOST_ENTRIES = 50;
/** Largest photo that is taken, bytes. */
export const MOST_PHOTO_BYTES = 15_000_000;

/** Key of an item of a walk: a weak point or a recurring task. */
export const walkKey = z
  .string()
  .regex(/^(point|task):[0-9a-f-]{36}$/, { message: 'must name a weak point or a task' });

/** Subject of an item of a walk. */
export function walkSubject(key: string): { readonly weakPointId: string } | { readonly taskId: string } {
  const id = key.slice(key.indexOf(':') + 1);
  return key.startsWith('task:') ? { taskId: id } : { weakPointId: id };
}

/** Measurement of a look. */
export const walkFigure = z.number().min(-1e6).max(1e6);

/** One finding as a device sends it, under an id of its own making. */
export const walkEntryCreate = z
  .object({
    id: z.uuid(),
    key: walkKey,
    result: z.enum(WALK_RESULTS),
    grade: optionalText(80).default(null),
    measured: walkFigure.nullable().default(null),
    unit: optionalText(12).default(null),
    note: optionalText(300).default(null),
    madeAt: z.iso.datetime(),
    /** The entry for the same thing that the device had last seen; null where it had seen none. */
    seen: z.uuid().nullable().default(null),
  })
  .refine(({ key, result }) => key.startsWith('task:') || result !== 'done', {
    message: 'a weak point is good, worn, failed or could not be seen',
    path: ['result'],
  });
export type WalkEntryCreate = z.input<typeof walkEntryCreate>;

export const walkSync = z.object({
  walk: z.object({ id: z.uuid(), day: isoDate, budgetMinutes: walkMinutes.nullable().default(null) }),
  entries: z.array(walkEntryCreate).max(MOST_ENTRIES).default([]),
});
export type WalkSync = z.input<typeof walkSync>;

export const walkEntry = z.object({
  id: z.uuid(),
  key: walkKey,
  result: z.enum(WALK_RESULTS),
  grade: z.string().nullable(),
  measured: z.number().nullable(),
  unit: z.string().nullable(),
  note: z.string().nullable(),
  madeAt: z.string(),
  by: z.string(),
  state: z.enum(ENTRY_STATES),
  heldBecause: z.enum(HELD_BECAUSE).nullable(),
  /** Change that undoes it; null if nothing was written into the vehicle's records. */
  changeId: changeId.nullable(),
});
export type WalkEntry = z.infer<typeof walkEntry>;

export const walkPhoto = z.object({
  id: z.uuid(),
  key: walkKey.nullable(),
  entryId: z.uuid().nullable(),
  day: isoDate,
  by: z.string(),
  width: z.int(),
  height: z.int(),
});
export type WalkPhoto = z.infer<typeof walkPhoto>;

export const walkStep = z.object({
  key: walkKey,
  kind: z.enum(['point', 'task']),
  title: z.string(),
  component: z.string().nullable(),
  place: z.enum(LOOK_PLACES),
  spot: z.enum(ENGINE_SPOTS).nullable(),
  method: z.enum(LOOK_METHODS).nullable(),
  upkeepKind: z.enum(UPKEEP_KINDS).nullable(),
  how: z.string(),
  good: z.string().nullable(),
  worn: z.string().nullable(),
  failed: z.string().nullable(),
  measure: measure.nullable(),
  grades: z.array(z.object({ words: z.string(), means: z.enum(CONDITIONS) })),
  minutes: z.number(),
  /** Operations that come off for it and were not off before, with their minutes. */
  takesOff: z.array(z.string()),
  teardownMinutes: z.number(),
  tools: z.array(z.string()),
  cautions: z.array(z.string()),
  safety: z.boolean(),
  /** May be found good together with its neighbours in one tap. */
  glance: z.boolean(),
  /** What the vehicle must be or do for it, in words; empty where it stands still. */
  needs: z.string(),
  /** Reason why it is on the sheet. */
  why: z.string(),
  verdict: z.enum(VERDICTS).nullable(),
  /** Chance of failing before the next service: when the walk began, and as it stands. */
  chanceThen: z.number().nullable(),
  chance: z.number().nullable(),
  due: z.object({ day: z.number(), km: z.number() }).nullable(),
  /** Finding elsewhere that harms this part. */
  linked: z.array(z.string()),
});
export type WalkStep = z.infer<typeof walkStep>;

/** A walk round a vehicle, or round an engine of which nothing is saved. */
export const walkView = z
  .object({
    engine: engineSummary,
    vehicle: z
      .object({
        id: vehicleId,
        plate: z.string().nullable(),
        name: z.string().nullable(),
        model: z.string().nullable(),
      })
      .nullable(),
    odometerUnit: readingUnit,
    today: z.number(),
    now: z.object({ day: z.number(), km: z.number() }),
    layout: engineLayout.nullable(),
    budgetMinutes: z.number().nullable(),
    minutes: z.number(),
    liftChanges: z.int(),
    steps: z.array(walkStep),
    /** Looks that are worth less for their minutes than those on the sheet. */
    leftOut: z.array(z.object({ key: walkKey, title: z.string(), minutes: z.number() })),
    /** Looks that a complaint forbids until its cause is found. */
    forbidden: z.array(z.object({ key: walkKey, title: z.string(), needs: z.string() })),
    /** Complaints that hold the vehicle. */
    holds: z.array(reportTold),
    walk: z
      .object({ id: z.uuid(), day: isoDate, by: z.string(), startedAt: z.string(), endedAt: z.string().nullable() })
      .nullable(),
    entries: z.array(walkEntry),
    photos: z.array(walkPhoto),
  })
  .meta({ id: 'WalkView' });
export type WalkView = z.infer<typeof walkView>;

/** Result of each entry that was sent, and the walk as it stands. */
export const walkSynced = z.object({
  view: walkView,
  entries: z.array(
    z.object({
      id: z.uuid(),
      state: z.enum(ENTRY_STATES).nullable(),
      /** Reason why it was refused, in words; null if it was taken. */
      refused: z.string().nullable(),
      changeId: changeId.nullable(),
    }),
  ),
});
export type WalkSynced = z.infer<typeof walkSynced>;

export const walkQuery = z.object({ minutes: z.coerce.number().int().min(1).max(MOST_MINUTES).optional() });
export const lookupWalkQuery = lookupQuery.extend(walkQuery.shape);

export const photoQuery = z.object({ vehicleId, key: walkKey.optional(), entryId: z.uuid().optional(), day: isoDate });

/** Results of the looks at one weak point, oldest first. */
export const looksAt = z
  .object({
    weakPointId,
    title: z.string(),
    measure: measure.nullable(),
    findings: z.array(
      z.object({
        id: z.uuid(),
        day: isoDate,
        result: z.enum(CONDITIONS),
        grade: z.string().nullable(),
        measured: z.number().nullable(),
        unit: z.string().nullable(),
        note: z.string().nullable(),
        by: z.string(),
      }),
    ),
    photos: z.array(walkPhoto),
  })
  .meta({ id: 'LooksAt' });
export type LooksAt = z.infer<typeof looksAt>;

/** Decision about an entry that waits. */
export const entrySettle = z.object({ take: z.boolean() });
