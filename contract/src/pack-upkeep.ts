import { ENGINE_SPOTS, LOOK_PLACES, SEASONS, STATEMENT_STRENGTHS, UPKEEP_KINDS, USUAL_NEGLECT } from '@crosspeen/core';
import { z } from 'zod';
import { shortText } from './common.ts';
import { packAppliesTo, packKey, packSpans } from './pack-parts.ts';
import { neglectFactor } from './upkeep.ts';

/** Recurring task of an engine, as a pack writes it. */
export const packUpkeep = z.strictObject({
  key: packKey,
  kind: z.enum(UPKEEP_KINDS),
  title: shortText(120),
  how: shortText(400).meta({ description: 'How it is done, and what good looks like' }),
  minutes: z.int().min(1).max(6000),
  ownerCan: z.boolean().default(false).meta({ description: 'The owner of the vehicle can do it' }),
  place: z.enum(LOOK_PLACES).optional().meta({ description: 'Where, in the order of the hands' }),
  spot: z.enum(ENGINE_SPOTS).optional().meta({ description: 'Where on the engine' }),
  season: z.enum(SEASONS).optional().meta({ description: 'Done in this season, such as cooling before the heat' }),
  appliesTo: packAppliesTo.default({}),
  protects: z
    .array(
      z.strictObject({
        weakPoint: packKey,
        factor: neglectFactor
          .default(USUAL_NEGLECT)
          .meta({ description: 'How many times as fast it wears while the task is overdue' }),
      }),
    )
    .max(40)
    .default([]),
  cautions: z.array(packKey).max(20).default([]),
  statements: z
    .array(
      z.strictObject({
        authority: packKey,
        edition: shortText(40).optional(),
        words: shortText(400),
        interval: packSpans.optional(),
        strength: z.enum(STATEMENT_STRENGTHS).optional(),
        doubted: z.boolean().optional().meta({ description: 'Nobody who knows the engine does it; calls nobody in' }),
      }),
    )
    .max(20)
    .default([]),
});
