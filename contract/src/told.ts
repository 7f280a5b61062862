import { CLOCK_KINDS, CONDITIONS, DUTY_KEYS, ENGINE_SPOTS, LOOK_METHODS, LOOK_PLACES, UNTOLD } from '@crosspeen/core';
import { z } from 'zod';
import { span } from './common.ts';

/** An operation of labour: minutes for itself once what it needs is off. */
export const operationTold = z.object({
  key: z.string(),
  name: z.string(),
  minutes: z.number(),
  needs: z.array(z.string()),
});

/** Measurement of the look, with its limit. */
export const measure = z.object({
  what: z.string(),
  unit: z.string(),
  limit: z.number(),
  fresh: z.number().exactOptional(),
  worse: z.enum(['higher', 'lower']),
  sense: z.tuple([z.number(), z.number()]),
});

/** Facts of a look beside the way it is done. */
export const lookTold = {
  place: z.enum(LOOK_PLACES).exactOptional(),
  method: z.enum(LOOK_METHODS).exactOptional(),
  good: z.string().exactOptional(),
  worn: z.string().exactOptional(),
  failed: z.string().exactOptional(),
  off: z.array(z.string()).exactOptional(),
  spot: z.enum(ENGINE_SPOTS).exactOptional(),
  tools: z.array(z.string()).exactOptional(),
  measure: measure.exactOptional(),
  grades: z.array(z.object({ words: z.string(), means: z.enum(CONDITIONS) })).exactOptional(),
};

/** Knowledge of practitioners about a weak point beside its life, as it is read. */
export const toldMore = {
  /** Unstated parts of the life; a wide default is used. */
  notTold: z.array(z.enum(UNTOLD)),
  /** Parts that its failure harms, with chance and time. */
  damages: z.array(
    z.object({ weakPoint: z.string().exactOptional(), harms: z.string(), chance: z.number(), within: z.array(span) }),
  ),
  /** Symptoms, with their frequency if this is the cause. */
  symptoms: z.array(
    z.object({
      symptom: z.string(),
      shows: z.number(),
      words: z.string(),
      codes: z.array(z.string()),
      tells: z.string().nullable(),
      stop: z.string().nullable(),
    }),
  ),
  /** Cost of a repair after the failure, minor units and minutes; null if the library has none. */
  failure: z.object({ parts: z.number(), minutes: z.number() }).nullable(),
  /** Uses and features, by key, that hasten it. */
  hastens: z.array(
    z.object({
      use: z.enum(DUTY_KEYS).exactOptional(),
      feature: z.string().exactOptional(),
      clock: z.enum(CLOCK_KINDS).exactOptional(),
      factor: z.number(),
    }),
  ),
  /** Later parts that live otherwise. */
  revisions: z.array(
    z.object({ revision: z.string(), ends: z.literal(true).exactOptional(), causes: z.array(z.array(span)) }),
  ),
};

/** Work of the operations that renew it; null if the library has none. */
export const workTold = z
  .object({
    tools: z.array(z.object({ name: z.string(), without: z.string().nullable() })),
    cautions: z.array(z.string()),
    renewWith: z.array(z.string()),
    oneTime: z.array(z.string()),
    fluids: z.array(z.string()),
    afterwards: z.array(z.string()),
  })
  .nullable();
