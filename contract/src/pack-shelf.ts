import {
  AUTHORITY_KINDS,
  BAY_SIDES,
  ENGINE_SHAPES,
  FITTED_TO,
  GRADES,
  GROUPS,
  SHAPE_BY_CLASS,
  type ComponentClass,
} from '@crosspeen/core';
import { z } from 'zod';
import { serialNumber, shortText, words } from './common.ts';
import { packForbids, packKey as key, packMonth, packNeeds } from './pack-parts.ts';

export const packAuthority = z.strictObject({
  key,
  kind: z.enum(AUTHORITY_KINDS),
  name: shortText(80),
  region: shortText(40).optional(),
});

export const packComponent = z.strictObject({
  key,
  name: shortText(80),
  class: z.enum(words<ComponentClass>(SHAPE_BY_CLASS)),
  group: z.enum(GROUPS),
  fittedTo: z
    .enum(FITTED_TO)
    .default('engine')
    .meta({ description: 'Whether it goes with the engine or with the vehicle when an engine is swapped' }),
  parts: z
    .array(
      z.strictObject({
        number: shortText(40),
        name: shortText(80),
        grade: z.enum(GRADES),
        revision: shortText(10).optional(),
        howToTell: shortText(300).optional(),
        supersedes: shortText(40).optional(),
        priceMinor: z
          .int()
          .nonnegative()
          .max(100_000_000)
          .optional()
          .meta({ description: 'Made-up list price in minor units of the demo currency' }),
      }),
    )
    .max(60)
    .default([]),
});

export const packVariant = z.strictObject({
  key,
  name: shortText(80),
  producedFrom: packMonth.optional(),
  producedTo: packMonth.optional(),
  howToTell: shortText(300).optional(),
  serialFrom: serialNumber.optional().meta({ description: 'First engine serial number of the variant' }),
  serialTo: serialNumber.optional().meta({ description: 'Last engine serial number of the variant' }),
  models: z
    .array(z.strictObject({ model: shortText(60), from: z.int().min(1950).max(2100), to: z.int().min(1950).max(2100) }))
    .max(60)
    .default([]),
});

export const packTool = z.strictObject({
  key,
  name: shortText(80),
  without: shortText(300).optional().meta({ description: 'What happens without it' }),
});

export const packCaution = z.strictObject({ key, words: shortText(300) });

export const packOperation = z.strictObject({
  key,
  name: shortText(120),
  minutes: z.int().min(1).max(6000).meta({ description: 'Minutes for this operation alone, once all it needs is off' }),
  needs: z
    .array(key)
    .max(40)
    .default([])
    .meta({ description: 'Operations of the same family that give access: done first, undone last' }),
  tools: z.array(key).max(40).default([]),
  cautions: z.array(key).max(40).default([]),
  renewWith: z.array(key).max(40).default([]).meta({ description: 'Components that go in new at the same time' }),
  oneTime: z
    .array(shortText(80))
    .max(40)
    .default([])
    .meta({ description: 'What is never fitted twice: bolts, seals, washers' }),
  fluids: z.array(shortText(80)).max(20).default([]).meta({ description: 'What is lost with it and filled anew' }),
  afterwards: z
    .array(shortText(200))
    .max(20)
    .default([])
    .meta({ description: 'What has to be done once it is together again: coding, teaching, a check' }),
  minutesBy: z
    .record(key, z.int().min(1).max(6000))
    .default({})
    .meta({ description: 'Minutes by variant, by its key, where they differ' }),
});

/** How something shows, in a workshop's own words, with the codes of the public OBD-II standard that go with it. */
export const packSymptom = z.strictObject({
  key,
  words: shortText(120),
  codes: z
    .array(z.string().regex(/^[PCBU][0-9A-F]{4}$/, { message: 'must be a code such as P0016' }))
    .max(20)
    .default([]),
  tells: shortText(200).optional().meta({ description: 'The check that tells look-alikes apart' }),
  stop: shortText(200)
    .optional()
    .meta({ description: 'Where it must not be driven on: what may happen, and what to do at once' }),
  drive: shortText(200)
    .optional()
    .meta({ description: 'Where it may be driven: how far, and what to watch on the way' }),
  forbids: packForbids,
});

export const packMeasure = z
  .strictObject({
    what: shortText(60),
    unit: shortText(12),
    limit: z.number().min(-1e6).max(1e6).meta({ description: 'At or beyond it, the part is worn. Made-up values' }),
    fresh: z.number().min(-1e6).max(1e6).optional().meta({ description: 'As new' }),
    worse: z.enum(['higher', 'lower']),
    sense: z
      .tuple([z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6)])
      .meta({ description: 'Least and most that a gauge can read; a figure outside is asked about once' }),
  })
  .refine(({ sense: [least, most], limit }) => least < most && limit >= least && limit <= most, {
    message: 'must go from the least to the most, with the limit between them',
    path: ['sense'],
  })
  .meta({ description: 'What is measured, against which limit' });

/** A question or a test that tells causes apart which show alike. */
export const packCheck = z.strictObject({
  key,
  ask: shortText(160).meta({ description: 'What to do and what yes means: a hand on the rod stops the noise' }),
  minutes: z.int().min(1).max(600),
  off: z.array(key).max(20).optional().meta({ description: 'Operations that must be off first, by key' }),
  cautions: z.array(key).max(20).optional(),
  needs: packNeeds.optional(),
  firstFor: z
    .array(key)
    .max(20)
    .optional()
    .meta({ description: 'Symptoms with which it comes before all others: it finds the leak, the fire, the brake' }),
  shows: z
    .array(z.strictObject({ weakPoint: key, yes: z.number().min(0.01).max(0.99) }))
    .min(1)
    .max(40)
    .meta({ description: 'How often the answer is yes when this weak point is the cause' }),
  otherwise: z.number().min(0.01).max(0.99).default(0.05).meta({ description: 'How often it is yes under all else' }),
});

export const packLayout = z
  .strictObject({
    shape: z.enum(ENGINE_SHAPES),
    cylinders: z.int().min(1).max(16),
    timingEnd: z.enum(BAY_SIDES).meta({ description: 'Side of the bay at which belt or chain run, front is the nose' }),
    intake: z.enum(BAY_SIDES),
  })
  .refine(
    ({ shape, timingEnd, intake }) => {
      const across = (side: string): boolean => side === 'left' || side === 'right';
      return shape === 'vee' || across(timingEnd) !== across(intake);
    },
    { message: 'the intake lies beside the engine, not at one of its ends', path: ['intake'] },
  )
  .refine(({ shape, cylinders }) => shape !== 'vee' || cylinders % 2 === 0, {
    message: 'a V engine has an even number of cylinders',
    path: ['cylinders'],
  })
  .meta({ description: 'How the engine lies in its bay, for the map of where things are' });
