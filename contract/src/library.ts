import {
  AUTHORITY_KINDS,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
  CONSEQUENCES,
  FITTED_TO,
  GRADES,
  GROUPS,
  NATURES,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  type ComponentClass,
  type ShareWord,
} from '@crosspeen/core';
import { z } from 'zod';
import { engineSummary, engineVariant } from './answer.ts';
import {
  anyText,
  authorityId,
  changeId,
  familyId,
  inOrder,
  isoDate,
  noticeId,
  optionalText,
  paging,
  rowVersion,
  searchText,
  shortText,
  span,
  spansText,
  statement,
  weakPointId,
  words,
} from './common.ts';
import { engineLayout } from './layout.ts';
import { lookTold, toldMore } from './told.ts';
import { NOTICE_KINDS } from './notice-words.ts';

/** States of a weak point; only published and retired ones are judged. */
export const POINT_STATES = ['draft', 'review', 'published', 'superseded', 'retired'] as const;
const pointState = z.enum(POINT_STATES);
export type PointState = z.infer<typeof pointState>;

export const libraryPointQuery = paging.extend({
  q: searchText,
  group: z.enum(GROUPS).optional(),
  state: pointState.optional(),
  familyId: familyId.optional(),
});

export const libraryPointRow = z.object({
  id: weakPointId,
  key: z.string(),
  title: z.string(),
  component: z.string(),
  group: z.enum(GROUPS),
  maker: z.string(),
  engineCode: z.string(),
  familyId,
  consequence: z.enum(CONSEQUENCES),
  safety: z.boolean(),
  nature: z.enum(NATURES),
  share: z.number(),
  causes: z.array(z.array(span)),
  signs: z.string(),
  state: pointState,
  statements: z.int(),
  vehicles: z.int(),
});
export type LibraryPointRow = z.infer<typeof libraryPointRow>;

const operationRow = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  minutes: z.int(),
  needs: z.array(z.string()),
  tools: z.array(z.object({ name: z.string(), without: z.string().nullable() })),
  cautions: z.array(z.string()),
  /** Components that go in new at the same time, by name, and what is never fitted twice. */
  renewWith: z.array(z.string()),
  /** Keys of the same components. */
  renewKeys: z.array(z.string()),
  oneTime: z.array(z.string()),
  /** Fluids that are lost and filled anew, and tasks after the assembly. */
  fluids: z.array(z.string()),
  afterwards: z.array(z.string()),
  /** Minutes by variant, by its key, where they differ. */
  minutesBy: z.record(z.string(), z.int()),
});
export type LibraryOperation = z.infer<typeof operationRow>;

const appliesTo = z.object({
  variants: z.array(z.string()).optional(),
  models: z.array(z.string()).optional(),
  markets: z.array(z.string()).optional(),
  features: z.record(z.string(), z.boolean()).optional(),
  serialFrom: z.number().optional(),
  serialTo: z.number().optional(),
  producedFromDay: z.number().optional(),
  producedToDay: z.number().optional(),
  revisionFitted: z.string().optional(),
});

const partRow = z.object({
  number: z.string(),
  name: z.string(),
  grade: z.enum(GRADES),
  revision: z.string().nullable(),
  howToTell: z.string().nullable(),
  supersedes: z.string().nullable(),
  priceMinor: z.int().nullable(),
});

export const libraryPoint = z
  .object({
    row: libraryPointRow,
    engine: engineSummary,
    layout: engineLayout.nullable(),
    effect: z.string(),
    version: rowVersion,
    componentId: z.uuid(),
    componentClass: z.enum(words<ComponentClass>(SHAPE_BY_CLASS)),
    fittedTo: z.enum(FITTED_TO),
    look: z
      .object({
        how: z.string(),
        minutes: z.number(),
        detection: z.number(),
        falseAlarm: z.number(),
        warning: z.array(span),
        cautions: z.array(z.string()),
        ...lookTold,
      })
      .nullable(),
    ...toldMore,
    renewMinutes: z.int(),
    appliesTo,
    retiredByRevision: z.string().nullable(),
    watch: z.object({ task: z.string(), every: z.array(span) }).nullable(),
    retiredFrom: isoDate.nullable(),
    supersededBy: z.object({ id: weakPointId, title: z.string() }).nullable(),
    writtenBy: z.string().nullable(),
    pack: z.string().nullable(),
    variants: z.array(z.object({ key: z.string(), name: z.string() })),
    statements: z.array(statement),
    notices: z.array(z.object({ id: noticeId, kind: z.enum(NOTICE_KINDS), number: z.string(), title: z.string() })),
    parts: z.array(partRow),
    /** The operation that renews it and all that must be off first, in the order it is done. */
    operations: z.array(operationRow),
  })
  .meta({ id: 'LibraryPoint' });
export type LibraryPoint = z.infer<typeof libraryPoint>;

export const libraryFamilyRow = z.object({
  engine: engineSummary,
  variants: z.int(),
  weakPoints: z.int(),
  operations: z.int(),
  vehicles: z.int(),
  pack: z.string().nullable(),
});
export type LibraryFamilyRow = z.infer<typeof libraryFamilyRow>;

const libraryVariant = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  howToTell: z.string().nullable(),
  producedFrom: isoDate.nullable(),
  producedTo: isoDate.nullable(),
  serialFrom: z.number().nullable(),
  serialTo: z.number().nullable(),
  models: z.array(z.object({ model: z.string(), from: z.number(), to: z.number() })),
  vehicles: z.int(),
});
export const libraryFamily = z
  .object({
    engine: engineSummary,
    /** How else its code is written. */
    alsoWritten: z.array(z.string()),
    variants: z.array(libraryVariant),
    features: z.array(
      z.object({ key: z.string(), name: z.string(), howToTell: z.string().nullable(), share: z.number() }),
    ),
    operations: z.array(operationRow),
    points: z.array(libraryPointRow.extend({ appliesTo, renewMinutes: z.int() })),
  })
  .meta({ id: 'LibraryFamily' });
export type LibraryFamily = z.infer<typeof libraryFamily>;

/** Kinds of a change of the library. */
export const LIBRARY_CHANGE_KINDS = ['pack', 'edit', 'undo'] as const;

/** One change of the library: what of it, before and after, as the database has it. */
export const libraryChange = z.object({
  id: changeId,
  at: z.iso.datetime(),
  by: z.string().nullable(),
  kind: z.enum(LIBRARY_CHANGE_KINDS),
  summary: z.string(),
  undone: z.boolean(),
  undoable: z.boolean(),
  rows: z.int(),
  items: z.array(
    z.object({
      entity: z.string(),
      name: z.string(),
      what: z.enum(['new', 'changed', 'gone']),
      columns: z.array(z.object({ column: z.string(), before: z.string(), after: z.string() })),
    }),
  ),
});
export type LibraryChange = z.infer<typeof libraryChange>;
export const libraryChangeQuery = paging.extend({ entityId: z.uuid().optional() });

export const libraryAuthority = z.object({
  id: authorityId,
  name: z.string(),
  kind: z.enum(AUTHORITY_KINDS),
  region: z.string().nullable(),
});
export type LibraryAuthority = z.infer<typeof libraryAuthority>;

export const libraryComponent = z.object({
  id: z.uuid(),
  name: z.string(),
  class: z.enum(words<ComponentClass>(SHAPE_BY_CLASS)),
  group: z.enum(GROUPS),
});
export type LibraryComponent = z.infer<typeof libraryComponent>;

/** An engine with its variants, for choosing one. */
export const engineChoice = z.object({ engine: engineSummary, variants: z.array(engineVariant) });
export type EngineChoice = z.infer<typeof engineChoice>;

/** A weak point as a person writes it: windows in shorthand, how common in a word. */
export const pointDraft = z
  .object({
    familyId,
    title: shortText(120),
    /** A component on file, or a new one by name. */
    componentId: z.uuid().nullable(),
    newComponent: z
      .object({ name: shortText(80), class: z.enum(words<ComponentClass>(SHAPE_BY_CLASS)), group: z.enum(GROUPS) })
      .nullable(),
    consequence: z.enum(CONSEQUENCES),
    safety: z.boolean(),
    effect: shortText(300),
    signs: shortText(400),
    /**
     * Nature of the weak point: it comes to all parts, or only to those built with it, of which
     * `share` is the part.
     */
    nature: z.enum(NATURES).default('wear'),
    share: z.enum(words<ShareWord>(SHARE_BY_WORD)),
    /** Independent causes, each a window: "90-130k km | 8y". */
    causes: z.array(spansText).min(1, { message: 'tell at least one window, such as 90-130k km' }).max(4),
    look: z
      .object({
        how: shortText(400),
        minutes: z.int().min(1).max(600),
        detects: z.number().min(0.01).max(0.99),
        warns: spansText,
      })
      .nullable(),
    renewMinutes: z.int({ message: 'must be whole minutes' }).min(1).max(6000),
    variants: z.array(anyText(80)).max(40),
    producedFrom: isoDate.nullable(),
    producedTo: isoDate.nullable(),
    retiredByRevision: optionalText(10),
    /** Task of the driver, for something that is never renewed before it fails. */
    watch: z
      .object({ task: shortText(200), every: spansText })
      .nullable()
      .default(null),
    /** Statement of this workshop itself, with its interval. */
    statement: z
      .object({
        words: shortText(400),
        interval: spansText.nullable(),
        asks: z.enum(STATEMENT_ASKS).default('renew'),
        strength: z.enum(STATEMENT_STRENGTHS).nullable().default(null),
      })
      .nullable(),
  })
  .superRefine((value, context) => {
    if ((value.componentId === null) === (value.newComponent === null))
      context.addIssue({ code: 'custom', path: ['componentId'], message: 'choose a component, or name a new one' });
    inOrder(
      { from: value.producedFrom, to: value.producedTo },
      ['producedTo'],
      context,
      'must not lie before the first production date',
    );
  });
export type PointDraft = z.infer<typeof pointDraft>;
export const pointUpdate = z.object({ draft: pointDraft, version: rowVersion });
export const pointStep = z
  .object({
    version: rowVersion,
    state: pointState,
    retiredFrom: isoDate.nullable().default(null),
    supersededBy: weakPointId.nullable().default(null),
  })
  .refine(({ state, retiredFrom }) => (state === 'retired') === (retiredFrom !== null), {
    message: 'say from which production date on it no longer applies',
    path: ['retiredFrom'],
  });

export const touchesQuery = z.object({
  familyId,
  variants: anyText(2000).default(''),
  producedFrom: isoDate.optional(),
  producedTo: isoDate.optional(),
  title: anyText(120).default(''),
  componentId: z.uuid().optional(),
  not: weakPointId.optional(),
});
/** Number of saved vehicles that a draft touches, and similar weak points. */
export const touches = z.object({
  vehicles: z.int(),
  open: z.int(),
  similar: z.array(z.object({ id: weakPointId, title: z.string(), component: z.string(), state: pointState })),
});

/** Outcomes of a call. */
export const CALL_OUTCOMES = ['no_answer', 'thinking', 'coming', 'declined'] as const;
export type CallOutcome = (typeof CALL_OUTCOMES)[number];

export const campaignQuery = paging.extend({ left: z.enum(['all', 'left']).default('left') });
/** A vehicle that a weak point touches, and what was done about it. */
export const campaignRow = z.object({
  vehicleId: z.uuid(),
  plate: z.string().nullable(),
  name: z.string().nullable(),
  maker: z.string(),
  model: z.string().nullable(),
  km: z.number().nullable(),
  odometerUnit: z.enum(['km', 'mi', 'h']),
  verdict: z.string(),
  chance: z.number(),
  dueDay: isoDate.nullable(),
  asOf: isoDate,
  lastLook: isoDate.nullable(),
  lastResult: z.string().nullable(),
  renewed: isoDate.nullable(),
  revision: z.string().nullable(),
  planned: isoDate.nullable(),
  note: z.string().nullable(),
  /** Contact about it, and what came of the last call. */
  contact: z.string().nullable(),
  lastCall: z.object({ day: isoDate, outcome: z.enum(CALL_OUTCOMES), note: z.string().nullable() }).nullable(),
});
export type CampaignRow = z.infer<typeof campaignRow>;
