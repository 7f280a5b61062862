import { compactKey } from '@crosspeen/core';
import { z } from 'zod';
import { shortText } from './common.ts';
import { ASPIRATIONS, FUELS, TIMING_DRIVES } from './engine-words.ts';

/** An engine that no pack has brought: what is needed to say anything of it. */
export const engineDraft = z.object({
  maker: shortText(60),
  code: shortText(40).refine((code) => compactKey(code) !== '', { message: 'must have letters or digits' }),
  name: shortText(80),
  displacementL: z
    .number({ message: 'must be a number of litres, such as 2.0' })
    .min(0.05, { message: 'must be at least 0.05 litres' })
    .max(60, { message: 'is more than any of these engines has; litres, such as 2.0' }),
  fuel: z.enum(FUELS),
  aspiration: z.enum(ASPIRATIONS),
  timingDrive: z.enum(TIMING_DRIVES),
  /** True if the valves meet the pistons when the timing slips. */
  interference: z.boolean(),
  models: z
    .array(z.object({ model: shortText(60), from: z.int().min(1900).max(2100), to: z.int().min(1900).max(2100) }))
    .max(50),
});
export type EngineDraft = z.infer<typeof engineDraft>;
