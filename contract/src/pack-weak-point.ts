import {
  CLOCK_KINDS,
  CONDITIONS,
  DUTY_KEYS,
  ENGINE_SPOTS,
  LOOK_METHODS,
  LOOK_PLACES,
  NATURES,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
  CONSEQUENCES,
  SHARE_BY_WORD,
  type ShareWord,
  UNTOLD,
} from '@crosspeen/core';
import { z } from 'zod';
import { shortText, words } from './common.ts';
import { packAppliesTo, packForbids, packKey as key, packNeeds, packSpans } from './pack-parts.ts';
import { packMeasure } from './pack-shelf.ts';

export const packWeakPoint = z.strictObject({
  key,
  component: key,
  title: shortText(120),
  consequence: z.enum(CONSEQUENCES),
  safety: z.boolean().default(false),
  effect: shortText(300).meta({ description: 'What happens when it fails, in plain words' }),
  signs: shortText(400).meta({ description: 'What tells, before or when it fails' }),
  share: z
    .enum(words<ShareWord>(SHARE_BY_WORD))
    .optional()
    .meta({
      description:
        'Wear: how many have failed by the end of the window. Defect: how many of those built have it in them. Left ' +
        'out where nobody tells it',
    }),
  nature: z
    .enum(NATURES)
    .default('wear')
    .meta({
      description:
        'wear: comes to all of them sooner or later. defect: some were built with it, the others never fail of it. ' +
        'In format 1, which has no such word, a component of class early tells a defect',
    }),
  causes: z
    .array(packSpans)
    .max(4)
    .default([])
    .meta({
      description:
        'Independent causes; each a window in which 10 to 90 in 100 of those that do fail have failed. Left out where nobody tells it',
    }),
  notTold: z
    .array(z.enum(UNTOLD))
    .max(2)
    .default([])
    .meta({ description: 'What nobody told: the figures given stand in for it' }),
  damages: z
    .array(
      z
        .strictObject({
          weakPoint: key.optional().meta({ description: 'Another weak point of the family, by key' }),
          harms: shortText(80).optional().meta({ description: 'Or what it harms, in words' }),
          chance: z.number().min(0.01).max(1),
          within: packSpans.optional().meta({ description: 'How soon after the failure; left out where at once' }),
        })
        .refine(({ weakPoint, harms }) => (weakPoint === undefined) !== (harms === undefined), {
          message: 'name the weak point that it harms, or say in words what it harms',
          path: ['harms'],
        }),
    )
    .max(20)
    .default([])
    .meta({ description: 'What its failure harms' }),
  symptoms: z
    .array(
      z.strictObject({
        symptom: key,
        shows: z.number().min(0.01).max(1).meta({ description: 'How often it shows when this is the cause' }),
      }),
    )
    .max(20)
    .default([]),
  forbids: packForbids,
  failure: z
    .strictObject({ partsMinor: z.int().nonnegative().max(100_000_000), minutes: z.int().min(0).max(20_000) })
    .optional()
    .meta({ description: 'What repairing costs once it has failed: made-up prices in minor units, and labour' }),
  hastens: z
    .array(
      z
        .strictObject({
          use: z.enum(DUTY_KEYS).optional().meta({ description: 'How the vehicle is used' }),
          feature: key.optional().meta({ description: 'Or what the vehicle has, by key of the family’s features' }),
          clock: z.enum(CLOCK_KINDS).optional().meta({ description: 'Which clock it hastens; left out: all' }),
          factor: z.number().min(0.2).max(5),
        })
        .refine(({ use, feature }) => (use === undefined) !== (feature === undefined), {
          message: 'name the use or the feature that hastens it',
          path: ['use'],
        }),
    )
    .max(20)
    .default([]),
  revisions: z
    .array(
      z
        .strictObject({
          revision: shortText(10),
          ends: z.literal(true).optional().meta({ description: 'The part ends the weak point' }),
          causes: z.array(packSpans).max(4).default([]),
        })
        .refine(({ ends, causes }) => (ends === true) === (causes.length === 0), {
          message: 'say that the part ends it, or give its own windows',
          path: ['causes'],
        }),
    )
    .max(10)
    .default([])
    .meta({ description: 'Later parts that live otherwise, each with windows of its own' }),
  look: z
    .strictObject({
      how: shortText(400),
      place: z.enum(LOOK_PLACES).optional().meta({ description: 'Where, in the order of the hands' }),
      method: z.enum(LOOK_METHODS).optional(),
      needs: packNeeds.optional(),
      good: shortText(120).optional(),
      worn: shortText(120).optional(),
      failed: shortText(120).optional(),
      off: z.array(key).max(20).optional().meta({ description: 'Operations that must be off first, by key' }),
      spot: z.enum(ENGINE_SPOTS).optional().meta({ description: 'Where on the engine' }),
      tools: z.array(key).max(20).optional().meta({ description: 'What it takes beside hands and a lamp, by key' }),
      measure: packMeasure.optional(),
      grades: z
        .array(z.strictObject({ words: shortText(80), means: z.enum(CONDITIONS) }))
        .min(2)
        .max(6)
        .optional()
        .meta({ description: 'What may be found, in words, best first, and what each comes to' }),
      minutes: z.int().min(1).max(600),
      detects: z.number().min(0.01).max(0.99),
      falseAlarm: z.number().min(0).max(0.5).default(0.02),
      warns: packSpans.meta({ description: 'How long it shows itself before it fails (P-F interval)' }),
      cautions: z.array(key).max(20).optional().meta({ description: 'Cautions that stand beside the look, by key' }),
    })
    .optional(),
  renewMinutes: z.int().min(1).max(6000),
  operation: key.optional().meta({ description: 'The labour operation that renews it' }),
  appliesTo: packAppliesTo
    .extend({
      revisionFitted: shortText(10)
        .optional()
        .meta({
          description: 'Part revision that alone has it: on the variants named here and wherever it was put in since',
        }),
    })
    .default({}),
  retiredByRevision: shortText(10).optional().meta({ description: 'Part revision that ends the weak point' }),
  watch: z
    .strictObject({
      task: shortText(200),
      every: packSpans.meta({ description: 'How often, whichever first: 1000 km | 1m' }),
    })
    .optional()
    .meta({ description: 'For what nobody renews before it fails: what the driver keeps an eye on, and how often' }),
  statements: z
    .array(
      z.strictObject({
        authority: key,
        edition: shortText(40).optional(),
        words: shortText(400),
        interval: packSpans.optional(),
        asks: z
          .enum(STATEMENT_ASKS)
          .default('renew')
          .meta({ description: 'What the interval asks for: a new part, or a look at the one in there' }),
        strength: z
          .enum(STATEMENT_STRENGTHS)
          .optional()
          .meta({
            description: 'What it rests on: cases that were counted, the practice of the trade, or what was passed on',
          }),
        doubted: z.boolean().optional().meta({ description: 'Those who repair these engines do not go by it' }),
        always: z
          .boolean()
          .optional()
          .meta({ description: 'It allows no exception: once the interval has passed, the part is renewed' }),
      }),
    )
    .max(40)
    .default([]),
});
