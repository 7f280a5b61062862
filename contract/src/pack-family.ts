import { z } from 'zod';
import { ASPIRATIONS, FUELS, TIMING_DRIVES } from './engine-words.ts';
import { isoDate, shortText } from './common.ts';
import { LIMITS_PATTERN, packKey as key } from './pack-parts.ts';
import { packUpkeep } from './pack-upkeep.ts';
import { coverLimits, NOTICE_ASKS, NOTICE_KINDS } from './notice-words.ts';
import { packCheck, packLayout, packOperation, packVariant } from './pack-shelf.ts';
import { packWeakPoint } from './pack-weak-point.ts';

/** An engine family with all that hangs on it, as a pack writes it. */
export const packFamily = z.strictObject({
  key,
  maker: key,
  code: shortText(30),
  name: shortText(80),
  displacementL: z.number().positive().max(30),
  fuel: z.enum(FUELS),
  aspiration: z.enum(ASPIRATIONS),
  timingDrive: z.enum(TIMING_DRIVES),
  interference: z.boolean().meta({ description: 'Valves hit the pistons when the timing slips' }),
  alsoWritten: z.array(shortText(30)).max(40).default([]),
  note: shortText(400).optional(),
  features: z
    .array(
      z.strictObject({
        key,
        name: shortText(60),
        howToTell: shortText(300).optional(),
        share: z
          .number()
          .min(0.01)
          .max(0.99)
          .meta({ description: 'Share of the vehicles with this engine that have it' }),
      }),
    )
    .max(40)
    .default([]),
  layout: packLayout.optional(),
  checks: z.array(packCheck).max(100).default([]).meta({ description: 'What tells apart causes that show alike' }),
  variants: z.array(packVariant).min(1).max(40),
  operations: z.array(packOperation).max(500).default([]),
  weakPoints: z.array(packWeakPoint).max(500).default([]),
  upkeep: z
    .array(packUpkeep)
    .max(200)
    .default([])
    .meta({ description: 'What is done again and again on these engines' }),
});

/** A bulletin or a coverage, as a pack writes it. */
export const packNotice = z.strictObject({
  key,
  kind: z.enum(NOTICE_KINDS),
  authority: key,
  number: shortText(40),
  title: shortText(120),
  words: shortText(1000),
  issued: isoDate,
  asks: z
    .enum(NOTICE_ASKS)
    .meta({ description: 'What answers it on one vehicle: a look or a renewal, or a renewal alone' }),
  weakPoints: z.array(key).min(1).max(40).meta({ description: 'Weak points of this pack that it is about' }),
  producedFrom: isoDate.optional(),
  producedTo: isoDate.optional(),
  covers: coverLimits
    .optional()
    .meta({
      pattern: LIMITS_PATTERN,
      description:
        'How long a coverage pays, in years since first registration or km on the meter, whichever first: 10y | 200k km',
    }),
  models: z.array(shortText(60)).max(60).default([]).meta({ description: 'Models it is about; none named: all' }),
  pays: z
    .number()
    .min(0.01)
    .max(1)
    .optional()
    .meta({ description: 'Part of the cost that a coverage pays; left out: all of it' }),
  endsOn: isoDate.optional().meta({ description: 'Day on which a coverage ends for all' }),
});
export type PackFamily = z.output<typeof packFamily>;
export type PackNotice = z.output<typeof packNotice>;
