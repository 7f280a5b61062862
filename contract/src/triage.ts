import { ENGINE_STATES, FORBIDDABLE } from '@crosspeen/core';
import { z } from 'zod';
import { isoDate, optionalText, shortText, weakPointId } from './common.ts';

/** Verdicts of a repair on an explanation; `given_up` ends the search without one. */
export const TRIAGE_OUTCOMES = ['proved', 'refuted', 'given_up'] as const;
export type TriageOutcome = (typeof TRIAGE_OUTCOMES)[number];

/** Kinds of a check: one of the engine's own, a look at a weak point, another symptom. */
export const CHECK_KINDS = ['check', 'look', 'symptom'] as const;

export const symptomCreate = z.object({
  symptomId: z.uuid().nullable(),
  words: shortText(160),
  /** Under which condition it shows: cold, in traffic, after standing. */
  condition: optionalText(80).default(null),
  day: isoDate,
  /** The last day on which it is known not to have shown. */
  goodDay: isoDate.nullable().default(null),
});
export type SymptomCreate = z.input<typeof symptomCreate>;

export const triageAnswerCreate = z.object({ about: shortText(100), words: shortText(200), said: z.boolean() });
export type TriageAnswerCreate = z.input<typeof triageAnswerCreate>;

export const triageEndCreate = z
  .object({
    weakPointId: weakPointId.nullable(),
    outcome: z.enum(TRIAGE_OUTCOMES),
    note: optionalText(300).default(null),
  })
  .refine(({ weakPointId: of, outcome }) => outcome !== 'refuted' || of !== null, {
    message: 'name the explanation that was refuted',
    path: ['weakPointId'],
  });
export type TriageEndCreate = z.input<typeof triageEndCreate>;

const forbids = z.array(z.enum(FORBIDDABLE));
const needs = z.object({
  engine: z.enum(ENGINE_STATES),
  heat: z.enum(['cold', 'warm']).optional(),
  lifted: z.boolean().optional(),
});

const explanation = z.object({
  weakPointId,
  title: z.string(),
  component: z.string(),
  /** Chance that it has failed since the vehicle was last known good. */
  risk: z.number(),
  /** What the suspicion of it forbids. */
  forbids,
  /**
   * Repairs of this workshop that proved it where one of these symptoms was reported, and their
   * total.
   */
  here: z.object({ proved: z.int(), of: z.int() }),
});

const triageCheck = z.object({
  /** Key of its answer: check:<key>, look:<weak point>, symptom:<id>. */
  about: z.string(),
  kind: z.enum(CHECK_KINDS),
  words: z.string(),
  /** Hints of the check: where to look, how look-alikes differ. */
  more: z.string().nullable(),
  minutes: z.number(),
  /** Operations that must be off, by key. */
  off: z.array(z.string()),
  cautions: z.array(z.string()),
  weakPointId: weakPointId.nullable(),
  /** Frequency of a yes under each explanation, in their order; the unlisted one is last. */
  shows: z.array(z.number()),
  needs,
  /** Symptoms, by id, with which it comes first. */
  firstFor: z.array(z.string()),
});

/**
 * Reports of a customer and their explanations on this vehicle, with the data for the browser's own
 * computation.
 */
export const triage = z
  .object({
    /** Days from the last known good one; over these the chances are reckoned. */
    sinceDay: z.number(),
    reports: z.array(
      z.object({
        id: z.uuid(),
        symptomId: z.uuid().nullable(),
        words: z.string(),
        condition: z.string().nullable(),
        day: isoDate,
        goodDay: isoDate.nullable(),
        by: z.string(),
        /** True if the vehicle must not be driven on. */
        stop: z.string().nullable(),
        /** How far it may be driven with it; null where nobody says. */
        drive: z.string().nullable(),
        forbids,
        codes: z.array(z.string()),
        /** Not known to the library: it is kept and says nothing. */
        listed: z.boolean(),
      }),
    ),
    explanations: z.array(explanation),
    unlistedOdds: z.number(),
    checks: z.array(triageCheck),
    /** Minutes of the operations that checks need, by key, with what they need themselves. */
    operations: z.record(z.string(), z.object({ name: z.string(), minutes: z.number(), needs: z.array(z.string()) })),
    answers: z.array(
      z.object({
        about: z.string(),
        words: z.string(),
        said: z.boolean(),
        day: isoDate,
        /** Who gave it in this search; null where a look on file says so. */
        by: z.string().nullable(),
        isOnFile: z.boolean(),
      }),
    ),
    ends: z.array(
      z.object({
        id: z.uuid(),
        weakPointId: weakPointId.nullable(),
        title: z.string().nullable(),
        outcome: z.enum(TRIAGE_OUTCOMES),
        symptoms: z.array(z.string()),
        day: isoDate,
        note: z.string().nullable(),
        by: z.string(),
      }),
    ),
    /** Symptoms that can be reported of this engine. */
    vocabulary: z.array(
      z.object({ id: z.uuid(), words: z.string(), codes: z.array(z.string()), stop: z.string().nullable() }),
    ),
  })
  .meta({ id: 'Triage' });
export type WireTriage = z.infer<typeof triage>;
