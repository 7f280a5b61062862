import { z } from 'zod';
import { ENGINE_STATES, FORBIDDABLE } from '@crosspeen/core';
import { serialNumber, shortText, spansText } from './common.ts';

/** Key of a row of a pack; other rows refer to it. */
export const packKey = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, { message: 'must be lower-case words joined by hyphens' })
  .max(80)
  .meta({ description: 'Stable key, lower-case words joined by hyphens, unique among its kind in the pack' });

export const packMonth = z
  .string()
  .regex(/^(19|20)[0-9]{2}-(0[1-9]|1[0-2])$/, { message: 'must be a month written YYYY-MM' })
  .meta({ description: 'Month, YYYY-MM' });

const FIGURE = "[0-9][0-9.,' ]*[kK]?";
const SPAN = ` *${FIGURE} *([-–] *${FIGURE}|[+])? *([kK][mM]|[mM][iI]|[yY]|[mM]|[dD]|[hH]) *`;
/** The form of spans, for programs that only have the published schema. */
const SPANS_PATTERN = `^${SPAN}([|]${SPAN})*$`;

const LIMIT = ` *${FIGURE} *([kK][mM]|[mM][iI]|[yY]) *`;
/** The form of limits of a coverage, for programs that only have the published schema. */
export const LIMITS_PATTERN = `^${LIMIT}([|]${LIMIT})*$`;

export const packSpans = spansText.meta({
  pattern: SPANS_PATTERN,
  description:
    'Spans in shorthand, whichever first: 90-130k km | 8-10y; 20k+ km: from there on. Units km, mi, y, m, d, h (engine hours)',
});

/** What a look or a check needs of the vehicle. */
export const packNeeds = z
  .strictObject({
    engine: z
      .enum(ENGINE_STATES)
      .default('off')
      .meta({ description: 'The engine stands still, is turned by the starter, runs, or the vehicle is driven' }),
    heat: z.enum(['cold', 'warm']).optional(),
    lifted: z.literal(true).optional().meta({ description: 'On a lift or on stands' }),
  })
  .meta({ description: 'What the vehicle must be or do for it; left out: standing still' });

export const packForbids = z
  .array(z.enum(FORBIDDABLE))
  .max(FORBIDDABLE.length)
  .default([])
  .meta({ description: 'What must not be done with the vehicle until it is found or ruled out' });

/** Engines to which something applies; a missing entry holds for all. */
export const packAppliesTo = z.strictObject({
  variants: z.array(packKey).max(40).optional(),
  models: z.array(shortText(60)).max(60).optional(),
  markets: z.array(shortText(60)).max(40).optional(),
  producedFrom: packMonth.optional(),
  producedTo: packMonth.optional(),
  serialFrom: serialNumber.optional(),
  serialTo: serialNumber.optional(),
  features: z.record(packKey, z.boolean()).optional(),
});
