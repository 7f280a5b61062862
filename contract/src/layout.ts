import { BAY_SIDES, ENGINE_SHAPES } from '@crosspeen/core';
import { z } from 'zod';

/** Orientation of an engine in its bay. */
export const engineLayout = z.object({
  shape: z.enum(ENGINE_SHAPES),
  cylinders: z.int(),
  timingEnd: z.enum(BAY_SIDES),
  intake: z.enum(BAY_SIDES),
});
