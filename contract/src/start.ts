import { z } from 'zod';
import { changeId } from './common.ts';

/** Progress of a workshop since it was set up, for the next steps. */
export const beginnings = z
  .object({
    engines: z.int(),
    vehicles: z.int(),
    people: z.int(),
    /** Weak points that were written here. */
    written: z.int(),
    /** The pack that comes with the application, as an example. */
    example: z.discriminatedUnion('state', [
      z.object({ state: z.literal('none') }),
      z.object({ state: z.literal('offered'), title: z.string() }),
      /** Taken in; by undoing that change it goes again. */
      z.object({ state: z.literal('taken'), title: z.string(), changeId }),
    ]),
  })
  .meta({ id: 'Beginnings' });
export type Beginnings = z.infer<typeof beginnings>;
