import {
  CERTAINTIES,
  CONDITIONS,
  CONSEQUENCES,
  DUTY_KEYS,
  DUTY_LEVELS,
  GRADES,
  SCHOOLS,
  SOURCES,
  VERDICTS,
  type Condition,
} from '@crosspeen/core';
import { z } from 'zod';
import { TRIAGE_OUTCOMES } from './triage.ts';
import { UPKEEP_CERTAINTIES } from './upkeep.ts';
import { answer, engineSummary, openQuestion } from './answer.ts';
import { vehiclePlanning } from './planning.ts';
import { visit } from './visit.ts';
import {
  anyText,
  changeId,
  distanceKm,
  familyId,
  isoDate,
  optionalText,
  paging,
  readingUnit,
  rowVersion,
  sure,
  searchText,
  serialNumber,
  shortText,
  vehicleId,
  weakPointId,
} from './common.ts';

/** An open question, and its answer. */
export const questionAnswer = z.object({ about: shortText(120), answer: shortText(120) });

const vehicleFields = {
  plate: optionalText(20),
  name: optionalText(60),
  model: optionalText(60),
  familyId,
  variantKey: anyText(80).nullable(),
  firstRegistered: isoDate.nullable(),
  /** Day on which it first came to this workshop; null: that of the first reading. */
  firstSeen: isoDate.nullable().default(null),
  market: optionalText(60).default(null),
  serial: serialNumber.nullable().default(null),
  /** Features by key, as far as they are known. */
  features: z.record(anyText(60), z.boolean()).default({}),
  /** Revision of the part now fitted by component, as far as somebody has looked; "" for an older one. */
  fitted: z.record(anyText(80), anyText(20)).default({}),
  /** Use of the vehicle, in answers; a missing answer is unknown and counts as ordinary. */
  duty: z.partialRecord(z.enum(DUTY_KEYS), z.enum(DUTY_LEVELS)).default({}),
  odometerUnit: readingUnit,
  severity: z.number().min(0.2, { message: 'must be at least x0.2' }).max(5, { message: 'must be at most x5' }),
  note: optionalText(1000),
  /** Contact about it: a name and a number. */
  contact: optionalText(120).default(null),
};

const named = <T extends { plate: string | null; name: string | null }>(value: T): boolean =>
  Boolean(value.plate) || Boolean(value.name);
const NAMELESS = { message: 'give a plate or a name, so that it can be found again', path: ['plate'] };

const firstReading = z.object({ day: isoDate, km: distanceKm });

export const vehicleCreate = z
  .object({
    ...vehicleFields,
    reading: firstReading.nullable(),
    /** Answers about the history of its parts before it was on file. */
    history: z.array(questionAnswer).max(60).default([]),
  })
  .refine(named, NAMELESS);
export type VehicleCreate = z.infer<typeof vehicleCreate>;
export const vehicleUpdate = z.object({ ...vehicleFields, version: rowVersion }).refine(named, NAMELESS);
export type VehicleUpdate = z.infer<typeof vehicleUpdate>;

export const vehicle = z
  .object({
    ...vehicleFields,
    id: vehicleId,
    version: rowVersion,
    engine: engineSummary,
    /** Terms for its visits; null if there are none. */
    planning: vehiclePlanning.nullable(),
  })
  .meta({ id: 'Vehicle' });
export type Vehicle = z.infer<typeof vehicle>;

export const vehicleListQuery = paging.extend({
  q: searchText,
  order: z.enum(['pressing', 'chance', 'plate']).default('pressing'),
  /** Only vehicles with a weak point of this verdict, or of this consequence. */
  verdict: z.enum(VERDICTS).optional(),
  consequence: z.enum(CONSEQUENCES).optional(),
  /** Only vehicles on which one weak point is at least this likely to fail before the next service. */
  least: z.coerce.number().min(0).max(1).optional(),
});

export const vehicleListRow = z.object({
  id: vehicleId,
  plate: z.string().nullable(),
  name: z.string().nullable(),
  maker: z.string(),
  model: z.string().nullable(),
  engineCode: z.string(),
  km: z.number().nullable(),
  odometerUnit: readingUnit,
  pressing: z
    .object({
      title: z.string(),
      verdict: z.enum(VERDICTS),
      /** Null where a complaint holds it. */
      chance: z.number().nullable(),
      /** Chance if it is the first part, where the verdict goes by that because nobody can show a renewal. */
      ifFirst: z.number().nullable(),
      dueDay: isoDate.nullable(),
      dueKm: z.number().nullable(),
      others: z.int(),
      asOf: isoDate,
      /** Something it was judged by has changed since; it is being judged again. */
      stale: z.boolean(),
    })
    .nullable(),
  /** The recurring task that is overdue or due first, and how many are overdue. */
  upkeep: z.object({ title: z.string(), overdue: z.int(), dueDay: isoDate.nullable() }).nullable(),
  nextVisit: isoDate.nullable(),
});
export type VehicleListRow = z.infer<typeof vehicleListRow>;

export const readingCreate = z.object({ day: isoDate, km: distanceKm, sure });
export const reading = z.object({ id: z.uuid(), day: isoDate, km: z.number(), fits: z.boolean(), by: z.string() });
export type MeterReading = z.infer<typeof reading>;

export const serviceCreate = z
  .object({
    weakPointId,
    certainty: z.enum(CERTAINTIES),
    day: isoDate.nullable(),
    km: distanceKm.nullable(),
    grade: z.enum(GRADES),
    partNumber: optionalText(40),
    revision: optionalText(10),
    source: z.enum(SOURCES).nullable().default(null),
    /** Condition of the part that came out. */
    cameOut: z.enum(CONDITIONS).nullable().default(null),
    note: optionalText(300),
  })
  .superRefine((value, context) => {
    if ((value.certainty === 'done' || value.certainty === 'believed') && value.day === null && value.km === null) {
      context.addIssue({
        code: 'custom',
        path: ['day'],
        message: 'give the date or the reading of the work; about is enough when it is only believed',
      });
    }
  });
export type ServiceCreate = z.infer<typeof serviceCreate>;

/** Results of a look in words of the screen: "sound" is a noise as well. */
export const FOUND_WORDS: Readonly<Record<Condition, string>> = { sound: 'good', worn: 'worn', failed: 'failed' };
/** The same as what happened. */
export const lookedAtWords = (found: Condition): string =>
  found === 'failed' ? FOUND_WORDS.failed : `looked at, ${FOUND_WORDS[found]}`;

export const findingCreate = z.object({
  weakPointId,
  day: isoDate,
  result: z.enum(CONDITIONS),
  /** The vehicle came to this workshop because of this failure. */
  broughtIn: z.boolean().default(false),
  /** Last day it is known to have been running before the failure, where the day of the failure is not known. */
  sinceDay: isoDate.nullable().default(null),
  note: optionalText(300),
});
export type FindingCreate = z.input<typeof findingCreate>;

/** A cluster that was replaced, or an engine that was swapped. */
export const meterChangeCreate = z.object({
  day: isoDate,
  oldKm: distanceKm,
  newKm: distanceKm,
  note: optionalText(300),
  sure,
});
export const engineSwapCreate = z.object({ day: isoDate, engineKm: distanceKm.nullable(), note: optionalText(300) });

/** A school chosen for the whole vehicle (no weak point) or for one row; null goes back to the shop's. */
export const schoolChoiceCreate = z
  .object({ weakPointId: weakPointId.nullable(), school: z.enum(SCHOOLS).nullable(), reason: optionalText(200) })
  .refine(({ school, reason }) => school === null || Boolean(reason), {
    message: 'say why, so that the next one understands',
    path: ['reason'],
  });

/** The answer to an open question. */

export const historyEntry = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('service'),
    id: z.uuid(),
    day: isoDate.nullable(),
    km: z.number().nullable(),
    component: z.string(),
    certainty: z.enum(CERTAINTIES),
    source: z.enum(SOURCES).nullable(),
    cameOut: z.enum(CONDITIONS).nullable(),
    grade: z.enum(GRADES),
    partNumber: z.string().nullable(),
    revision: z.string().nullable(),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('finding'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    title: z.string(),
    result: z.enum(CONDITIONS),
    broughtIn: z.boolean(),
    sinceDay: isoDate.nullable(),
    grade: z.string().nullable(),
    measured: z.number().nullable(),
    unit: z.string().nullable(),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('photo'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    title: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('symptom'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    words: z.string(),
    condition: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('cause'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    title: z.string().nullable(),
    outcome: z.enum(TRIAGE_OUTCOMES),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('upkeep'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    title: z.string(),
    certainty: z.enum(UPKEEP_CERTAINTIES),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('cluster'),
    id: z.uuid(),
    day: isoDate,
    km: z.number(),
    newKm: z.number(),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({
    kind: z.literal('engine'),
    id: z.uuid(),
    day: isoDate,
    km: z.number().nullable(),
    note: z.string().nullable(),
    by: z.string(),
  }),
  z.object({ kind: z.literal('reading'), ...reading.shape }),
]);
export type HistoryEntry = z.infer<typeof historyEntry>;

/** Every change answers with its id, so that it can be undone, and the row's new version where there is one. */
export const changed = z
  .object({
    /** Null where nothing was changed: there is nothing to undo. */
    changeId: changeId.nullable(),
    summary: z.string(),
    id: z.uuid(),
    /** The vehicle it was about; null where it was about the library or the settings. */
    vehicleId: vehicleId.nullable(),
  })
  .meta({ id: 'Changed' });
export type Changed = z.infer<typeof changed>;

/** Tables whose every change is on a trail. */
const AUDITED_NAMES = [
  'vehicle',
  'visit',
  'visit_job',
  'setting',
  'meter_reading',
  'service_record',
  'finding',
  'meter_change',
  'engine_swap',
  'school_choice',
  'campaign_call',
  'upkeep_record',
  'visit_task',
  'photo',
  'symptom_report',
  'triage_answer',
  'triage_end',
] as const;
export type AuditedName = (typeof AUDITED_NAMES)[number];

export const changeRow = z.object({
  id: changeId,
  at: z.iso.datetime(),
  by: z.string(),
  summary: z.string(),
  undone: z.boolean(),
  undoable: z.boolean(),
  items: z.array(
    z.object({
      entity: z.enum(AUDITED_NAMES),
      before: z.record(z.string(), z.unknown()).nullable(),
      after: z.record(z.string(), z.unknown()).nullable(),
    }),
  ),
});
export type ChangeRow = z.infer<typeof changeRow>;

const partOption = z.object({
  number: z.string(),
  name: z.string(),
  grade: z.enum(GRADES),
  revision: z.string().nullable(),
  howToTell: z.string().nullable(),
  priceMinor: z.int().nullable(),
});
export type PartOption = z.infer<typeof partOption>;
export type PartOptionByComponent = Record<string, PartOption[]>;

export const vehicleOutlook = z
  .object({
    vehicle,
    answer,
    visits: z.array(visit),
    /** Renewed parts by component, for the notches of the strip. */
    notches: z.array(z.object({ componentKey: z.string(), day: z.number(), certainty: z.enum(CERTAINTIES) })),
    parts: z.record(z.string(), z.array(partOption)),
    /** Schools chosen for this vehicle. */
    choices: z.array(z.object({ weakPointId: weakPointId.nullable(), school: z.enum(SCHOOLS), reason: z.string() })),
    features: z.array(z.object({ key: z.string(), name: z.string(), howToTell: z.string().nullable() })),
    /** Open questions whose answer would change a result, most worthwhile first. */
    questions: z.array(openQuestion),
  })
  .meta({ id: 'VehicleOutlook' });
export type VehicleOutlook = z.infer<typeof vehicleOutlook>;
