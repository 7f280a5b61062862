import { z } from 'zod';

/** States of a round over the fleet. */
export const ROUND_STATES = ['running', 'done', 'stopped'] as const;

/** Progress of the judging of all saved vehicles. */
export const fleetProgress = z
  .object({
    /** Saved vehicles, and those judged by something that has changed since. */
    vehicles: z.int(),
    stale: z.int(),
    run: z
      .object({
        id: z.uuid(),
        reason: z.string(),
        state: z.enum(ROUND_STATES),
        total: z.int(),
        done: z.int(),
        startedAt: z.iso.datetime(),
        finishedAt: z.iso.datetime().nullable(),
      })
      .nullable(),
  })
  .meta({ id: 'FleetProgress' });
export type FleetProgress = z.infer<typeof fleetProgress>;
