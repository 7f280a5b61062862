import { LOOK_PLACES, VERDICTS } from '@crosspeen/core';
import { z } from 'zod';
import { engineSummary, lookupQuery, reportTold } from './answer.ts';
import { readingUnit, taskId, weakPointId } from './common.ts';

export const purchaseQuery = lookupQuery.extend({
  /** Asking price, minor units. */
  price: z.coerce
    .number()
    .int({ message: 'must be a whole amount' })
    .min(1, { message: 'must be more than nothing' })
    .max(1_000_000_000, { message: 'is too much' })
    .optional(),
});

const costs = {
  /** Visits with their labour, and parts; minor units, before tax. */
  visits: z.number(),
  /**
   * Expected failures beside the work; the sum of all lies between `low` and `high` in nine cases
   * of ten.
   */
  failures: z.number(),
  low: z.number(),
  high: z.number(),
};

/** Facts for the buyer of a vehicle: the work ahead, the looks to take, the questions to ask. */
export const purchaseView = z
  .object({
    engine: engineSummary,
    odometerUnit: readingUnit,
    today: z.number(),
    now: z.object({ day: z.number(), km: z.number() }),
    price: z.number().nullable(),
    months: z.int(),
    /** Jobs ahead, soonest first. */
    jobs: z.array(
      z.object({
        weakPointId: weakPointId.nullable(),
        taskId: taskId.nullable(),
        kind: z.enum(['renew', 'look', 'task']),
        title: z.string(),
        component: z.string().nullable(),
        day: z.number(),
        /** Minutes of the job alone; the sums count shared access once. */
        minutes: z.number(),
        money: z.number(),
        /** False where a part is counted at the median of its class. */
        isPriceTold: z.boolean(),
        /** What a look may find, and the renewal that follows. */
        ifWorn: z.object({ chance: z.number(), money: z.number() }).nullable(),
        verdict: z.enum(VERDICTS).nullable(),
        chance: z.number().nullable(),
        /** Chance if it is the first one, where nobody can show a renewal. */
        ifFirst: z.number().nullable(),
        safety: z.boolean(),
        reason: z.string().nullable(),
      }),
    ),
    /** Complaints in the line that hold the vehicle. */
    holds: z.array(reportTold),
    visits: z.int(),
    years: z.array(z.object(costs)),
    total: z.object(costs),
    /** Looks before the purchase, in the order of the walk. */
    looks: z.array(
      z.object({
        title: z.string(),
        place: z.enum(LOOK_PLACES),
        how: z.string(),
        good: z.string().nullable(),
        worn: z.string().nullable(),
        minutes: z.number(),
        cautions: z.array(z.string()),
        chance: z.number().nullable(),
      }),
    ),
    /** Questions to the seller, and what each answer would change. */
    questions: z.array(z.object({ ask: z.string(), changes: z.array(z.string()), proof: z.boolean() })),
  })
  .meta({ id: 'PurchaseView' });
export type PurchaseView = z.infer<typeof purchaseView>;
