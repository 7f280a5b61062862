import {
  compactKey,
  type ComponentClass,
  type Nature,
  type ShareWord,
  type Untold,
  UNSAID_SHARE,
  UNSAID_WINDOW,
} from '@crosspeen/core';
import { z } from 'zod';
import { ASPIRATIONS, FUELS, TIMING_DRIVES } from './engine-words.ts';
import { inOrder, isoDate, shortText } from './common.ts';
import { packKey as key } from './pack-parts.ts';
import { packUpkeep } from './pack-upkeep.ts';
import { coverLimits, NOTICE_ASKS, NOTICE_KINDS } from './notice-words.ts';
import {
  packAuthority,
  packComponent,
  packVariant,
  packTool,
  packCaution,
  packOperation,
  packSymptom,
  packCheck,
  packLayout,
} from './pack-shelf.ts';
import { packWeakPoint } from './pack-weak-point.ts';

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
