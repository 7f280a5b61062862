import {
  AUTHORITY_KINDS,
  CLOCK_KINDS,
  BAY_SIDES,
  CONDITIONS,
  DUTY_KEYS,
  ENGINE_SHAPES,
  ENGINE_SPOTS,
  LOOK_METHODS,
  LOOK_PLACES,
  compactKey,
  NATURES,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
  CONSEQUENCES,
  FITTED_TO,
  GRADES,
  GROUPS,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  type ComponentClass,
  type Nature,
  type ShareWord,
  type Untold,
  UNSAID_SHARE,
  UNSAID_WINDOW,
  UNTOLD,
} from '@crosspeen/core';
import { z } from 'zod';
import { ASPIRATIONS, FUELS, TIMING_DRIVES } from './engine-words.ts';
import { inOrder, isoDate, serialNumber, shortText, words } from './common.ts';
import { packAppliesTo, packKey as key, packMonth, packSpans } from './pack-parts.ts';
import { packUpkeep } from './pack-upkeep.ts';
import { coverLimits, NOTICE_ASKS, NOTICE_KINDS } from './notice-words.ts';

const packAuthority = z.strictObject({
  key,
  kind: z.enum(AUTHORITY_KINDS),
  name: shortText(80),
  region: shortText(40).optional(),
});

const packComponent = z.strictObject({
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

const packVariant = z.strictObject({
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

const packTool = z.strictObject({
  key,
  name: shortText(80),
  without: shortText(300).optional().meta({ description: 'What happens without it' }),
});

const packCaution = z.strictObject({ key, words: shortText(300) });

const packOperation = z.strictObject({
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
const packSymptom = z.strictObject({
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
});

const packMeasure = z
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
const packCheck = z.strictObject({
  key,
  ask: shortText(160).meta({ description: 'What to do and what yes means: a hand on the rod stops the noise' }),
  minutes: z.int().min(1).max(600),
  off: z.array(key).max(20).optional().meta({ description: 'Operations that must be off first, by key' }),
  cautions: z.array(key).max(20).optional(),
  shows: z
    .array(z.strictObject({ weakPoint: key, yes: z.number().min(0.01).max(0.99) }))
    .min(1)
    .max(40)
    .meta({ description: 'How often the answer is yes when this weak point is the cause' }),
  otherwise: z.number().min(0.01).max(0.99).default(0.05).meta({ description: 'How often it is yes under all else' }),
});

const packLayout = z
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

const packWeakPoint = z.strictObject({
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
  appliesTo: packAppliesTo.default({}),
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
      }),
    )
    .max(40)
    .default([]),
});

const packFamily = z.strictObject({
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

const packNotice = z.strictObject({
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

/** Whether an operation comes back to itself through what it needs. */
function needsItself(start: string, needs: ReadonlyMap<string, readonly string[]>): boolean {
  const seen = new Set<string>();
  const open = [...(needs.get(start) ?? [])];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (at === start) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    open.push(...(needs.get(at) ?? []));
  }
  return false;
}

/** What nobody tells is stood in for by the usual, wide, and marked as not told. */
function standingIn<
  Point extends { readonly component: string; share?: ShareWord | undefined; causes: string[]; notTold: Untold[] },
>(point: Point, classOf: ReadonlyMap<string, ComponentClass>): Point & { readonly share: ShareWord } {
  const notTold = new Set(point.notTold);
  if (point.share === undefined) notTold.add('share');
  if (point.causes.length === 0) notTold.add('window');
  return {
    ...point,
    share: point.share ?? UNSAID_SHARE,
    causes: point.causes.length > 0 ? point.causes : [UNSAID_WINDOW[classOf.get(point.component)!]],
    notTold: [...notTold],
  };
}

/** Format 1 had no word for the nature of a weak point: what is of the class that fails early or never was a defect. */
function fromFormat1<
  Read extends {
    readonly components: readonly { readonly key: string; readonly class: ComponentClass }[];
    readonly families: readonly { readonly weakPoints: readonly { readonly component: string; nature: Nature }[] }[];
  },
>(read: Read): Read {
  const early = new Set(read.components.filter((component) => component.class === 'early').map(({ key: of }) => of));
  for (const family of read.families)
    for (const point of family.weakPoints) if (early.has(point.component)) point.nature = 'defect';
  return read;
}

/** A library pack: what is known of some engines, as open JSON. */
export const pack = z
  .strictObject({
    format: z.literal('crosspeen-pack'),
    formatVersion: z
      .union([z.literal(1), z.literal(2)])
      .meta({ description: 'Format 2 is written; format 1 is still read' }),
    key,
    title: shortText(120),
    version: z.string().regex(/^[0-9]{1,5}\.[0-9]{1,5}\.[0-9]{1,5}$/, { message: 'must be a version such as 1.0.0' }),
    licence: shortText(120),
    note: shortText(600).optional(),
    makers: z.array(z.strictObject({ key, name: shortText(60) })).max(500),
    authorities: z.array(packAuthority).max(500),
    components: z.array(packComponent).max(10_000),
    tools: z.array(packTool).max(1000).default([]),
    cautions: z.array(packCaution).max(500).default([]),
    symptoms: z.array(packSymptom).max(1000).default([]),
    families: z.array(packFamily).max(1000),
    notices: z.array(packNotice).max(2000).default([]),
  })
  .superRefine((value, context) => {
    const complain = (path: (string | number)[], message: string): void =>
      context.addIssue({ code: 'custom', path, message });
    const unique = (list: readonly { key: string }[], path: string): Set<string> => {
      const seen = new Set<string>();
      list.forEach((entry, i) => {
        if (seen.has(entry.key)) complain([path, i, 'key'], `“${entry.key}” stands twice; keys must be unique`);
        seen.add(entry.key);
      });
      return seen;
    };
    const makers = unique(value.makers, 'makers');
    const authorities = unique(value.authorities, 'authorities');
    const components = unique(value.components, 'components');
    const tools = unique(value.tools, 'tools');
    const cautions = unique(value.cautions, 'cautions');
    const symptoms = unique(value.symptoms, 'symptoms');
    unique(value.families, 'families');
    const codes = new Map<string, string>();
    value.families.forEach(({ key: familyKey, code, maker }, f) => {
      const other = codes.get(compactKey(code));
      if (other !== undefined && other !== familyKey)
        complain(
          ['families', f, 'code'],
          `“${code}” is the code of “${other}” too; one engine code is one family of ${maker}`,
        );
      codes.set(compactKey(code), familyKey);
    });
    const partNumbers = new Set<string>();
    value.components.forEach(({ parts }, c) =>
      parts.forEach(({ number }, i) => {
        if (partNumbers.has(number))
          complain(
            ['components', c, 'parts', i, 'number'],
            `part “${number}” stands twice; a part belongs to one component`,
          );
        partNumbers.add(number);
      }),
    );
    const weakPoints = new Set<string>();
    const allOperations = new Set<string>();
    const allTasks = new Set<string>();
    value.families.forEach((family, f) => {
      const variants = unique(family.variants, `families.${f}.variants`);
      const features = unique(family.features, `families.${f}.features`);
      const operations = unique(family.operations, `families.${f}.operations`);
      const needs = new Map(family.operations.map((operation) => [operation.key, operation.needs]));
      family.variants.forEach((variant, v) => {
        const at = ['families', f, 'variants', v];
        inOrder(
          { from: variant.producedFrom, to: variant.producedTo },
          [...at, 'producedTo'],
          context,
          'must not lie before producedFrom',
        );
        inOrder(
          { from: variant.serialFrom, to: variant.serialTo },
          [...at, 'serialTo'],
          context,
          'must not lie below serialFrom',
        );
        variant.models.forEach(({ from, to }, m) =>
          inOrder({ from, to }, [...at, 'models', m, 'to'], context, 'must not lie before from'),
        );
      });
      family.operations.forEach((operation, o) => {
        const at = ['families', f, 'operations', o];
        if (allOperations.has(operation.key))
          complain(
            [...at, 'key'],
            `“${operation.key}” stands in another family too; operation keys must be unique in the pack`,
          );
        allOperations.add(operation.key);
        operation.needs.forEach((need, n) => {
          if (!operations.has(need)) complain([...at, 'needs', n], `family “${family.key}” has no operation “${need}”`);
        });
        operation.tools.forEach((tool, t) => {
          if (!tools.has(tool)) complain([...at, 'tools', t], `there is no tool “${tool}” in this pack`);
        });
        operation.cautions.forEach((caution, n) => {
          if (!cautions.has(caution)) complain([...at, 'cautions', n], `there is no caution “${caution}” in this pack`);
        });
        operation.renewWith.forEach((component, n) => {
          if (!components.has(component))
            complain([...at, 'renewWith', n], `there is no component “${component}” in this pack`);
        });
        if (needsItself(operation.key, needs))
          complain([...at, 'needs'], `“${operation.key}” needs itself, through what it needs`);
      });
      if (!makers.has(family.maker))
        complain(['families', f, 'maker'], `there is no maker “${family.maker}” in this pack`);
      family.weakPoints.forEach((point, w) => {
        const at = ['families', f, 'weakPoints', w];
        if (weakPoints.has(point.key)) complain([...at, 'key'], `“${point.key}” stands twice; keys must be unique`);
        weakPoints.add(point.key);
        if (point.operation !== undefined && !operations.has(point.operation))
          complain([...at, 'operation'], `family “${family.key}” has no operation “${point.operation}”`);
        inOrder(
          { from: point.appliesTo.producedFrom, to: point.appliesTo.producedTo },
          [...at, 'appliesTo', 'producedTo'],
          context,
          'must not lie before producedFrom',
        );
        inOrder(
          { from: point.appliesTo.serialFrom, to: point.appliesTo.serialTo },
          [...at, 'appliesTo', 'serialTo'],
          context,
          'must not lie below serialFrom',
        );
        point.symptoms.forEach(({ symptom }, n) => {
          if (!symptoms.has(symptom))
            complain([...at, 'symptoms', n, 'symptom'], `there is no symptom “${symptom}” in this pack`);
        });
        point.hastens.forEach(({ feature }, n) => {
          if (feature !== undefined && !features.has(feature))
            complain([...at, 'hastens', n, 'feature'], `family “${family.key}” has no feature “${feature}”`);
        });
        point.damages.forEach(({ weakPoint }, n) => {
          if (weakPoint !== undefined && !family.weakPoints.some((other) => other.key === weakPoint))
            complain([...at, 'damages', n, 'weakPoint'], `family “${family.key}” has no weak point “${weakPoint}”`);
        });
        point.look?.off?.forEach((off, n) => {
          if (!operations.has(off))
            complain([...at, 'look', 'off', n], `family “${family.key}” has no operation “${off}”`);
        });
        point.look?.tools?.forEach((tool, n) => {
          if (!tools.has(tool)) complain([...at, 'look', 'tools', n], `there is no tool “${tool}” in this pack`);
        });
        point.look?.cautions?.forEach((caution, n) => {
          if (!cautions.has(caution))
            complain([...at, 'look', 'cautions', n], `there is no caution “${caution}” in this pack`);
        });
        if (!components.has(point.component))
          complain([...at, 'component'], `there is no component “${point.component}” in this pack`);
        point.statements.forEach((statement, s) => {
          if (!authorities.has(statement.authority))
            complain(
              [...at, 'statements', s, 'authority'],
              `there is no authority “${statement.authority}” in this pack`,
            );
        });
        for (const feature of Object.keys(point.appliesTo.features ?? {})) {
          if (!features.has(feature))
            complain(
              [...at, 'appliesTo', 'features', feature],
              `family “${family.key}” has no feature “${feature}”; list it under the family’s features`,
            );
        }
        point.appliesTo.variants?.forEach((variant, v) => {
          if (!variants.has(variant))
            complain([...at, 'appliesTo', 'variants', v], `family “${family.key}” has no variant “${variant}”`);
        });
      });
    });
    value.families.forEach((family, f) => {
      const own = new Set(family.weakPoints.map((point) => point.key));
      const operations = new Set(family.operations.map((operation) => operation.key));
      unique(family.checks, `families.${f}.checks`);
      family.checks.forEach((check, c) => {
        const at = ['families', f, 'checks', c];
        check.shows.forEach(({ weakPoint }, n) => {
          if (!own.has(weakPoint))
            complain([...at, 'shows', n, 'weakPoint'], `family “${family.key}” has no weak point “${weakPoint}”`);
        });
        check.off?.forEach((off, n) => {
          if (!operations.has(off)) complain([...at, 'off', n], `family “${family.key}” has no operation “${off}”`);
        });
        check.cautions?.forEach((caution, n) => {
          if (!cautions.has(caution)) complain([...at, 'cautions', n], `there is no caution “${caution}” in this pack`);
        });
      });
      family.upkeep.forEach((task, t) => {
        const at = ['families', f, 'upkeep', t];
        if (allTasks.has(task.key)) complain([...at, 'key'], `“${task.key}” stands twice; keys must be unique`);
        allTasks.add(task.key);
        task.protects.forEach(({ weakPoint }, p) => {
          if (!own.has(weakPoint))
            complain([...at, 'protects', p, 'weakPoint'], `family “${family.key}” has no weak point “${weakPoint}”`);
        });
        task.cautions.forEach((caution, n) => {
          if (!cautions.has(caution)) complain([...at, 'cautions', n], `there is no caution “${caution}” in this pack`);
        });
        task.statements.forEach((statement, n) => {
          if (!authorities.has(statement.authority))
            complain(
              [...at, 'statements', n, 'authority'],
              `there is no authority “${statement.authority}” in this pack`,
            );
        });
      });
    });
    unique(value.notices, 'notices');
    const numbers = new Set<string>();
    value.notices.forEach((notice, n) => {
      const number = `${notice.authority} ${notice.number.toLowerCase()}`;
      if (numbers.has(number))
        complain(['notices', n, 'number'], `“${notice.number}” stands twice from the same authority; it is one notice`);
      numbers.add(number);
      inOrder(
        { from: notice.producedFrom, to: notice.producedTo },
        ['notices', n, 'producedTo'],
        context,
        'must not lie before producedFrom',
      );
      if (!authorities.has(notice.authority))
        complain(['notices', n, 'authority'], `there is no authority “${notice.authority}” in this pack`);
      notice.weakPoints.forEach((point, w) => {
        if (!weakPoints.has(point))
          complain(['notices', n, 'weakPoints', w], `there is no weak point “${point}” in this pack`);
      });
      if ((notice.kind === 'coverage') !== (notice.covers !== undefined || notice.endsOn !== undefined))
        complain(
          ['notices', n, 'kind'],
          notice.kind === 'coverage'
            ? 'a coverage says how long it pays: covers or endsOn'
            : 'a bulletin pays for nothing; leave covers and endsOn out',
        );
    });
  })
  .transform((value) => (value.formatVersion === 1 ? fromFormat1(value) : value))
  .transform((value) => {
    const classOf = new Map(value.components.map((component) => [component.key, component.class]));
    return {
      ...value,
      families: value.families.map((family) => ({
        ...family,
        weakPoints: family.weakPoints.map((point) => standingIn(point, classOf)),
      })),
    };
  });
export type Pack = z.infer<typeof pack>;
export type PackInput = z.input<typeof pack>;

/** JSON Schema (2020-12) of the pack format, for other programs and editors. */
export const packJsonSchema = (): object => ({
  title: 'Crosspeen library pack',
  ...z.toJSONSchema(pack, { target: 'draft-2020-12', io: 'input' }),
});
