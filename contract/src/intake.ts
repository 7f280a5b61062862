import { z } from 'zod';
import { anyText } from './common.ts';

/** Kinds of a spreadsheet. */
export const INTAKE_KINDS = ['vehicles', 'readings', 'services', 'findings', 'upkeep'] as const;
export const intakeKind = z.enum(INTAKE_KINDS);
export type IntakeKind = z.infer<typeof intakeKind>;

/** Columns that each kind understands; those that it cannot do without are marked. */
export const INTAKE_COLUMNS = {
  vehicles: {
    plate: false,
    name: false,
    engine: true,
    model: false,
    variant: false,
    firstRegistered: false,
    unit: false,
    reading: false,
    readingDate: false,
    market: false,
    serial: false,
    contact: false,
    note: false,
  },
  readings: { vehicle: true, date: true, reading: true, unit: false },
  services: {
    vehicle: true,
    component: true,
    date: false,
    reading: false,
    unit: false,
    certainty: false,
    grade: false,
    partNumber: false,
    revision: false,
    source: false,
    cameOut: false,
    note: false,
  },
  findings: { vehicle: true, weakPoint: true, date: true, result: true, broughtIn: false, note: false },
  upkeep: { vehicle: true, task: true, date: true, reading: false, unit: false, certainty: false, note: false },
} as const satisfies Record<IntakeKind, Record<string, boolean>>;

const intakeFormats = z.object({
  date: z.enum(['ymd', 'dmy', 'mdy']),
  decimal: z.enum(['point', 'comma']),
  /** Unit of readings that name none, in the cell or in a column of units: one for all, or each vehicle's own. */
  unit: z.enum(['km', 'mi', 'h', 'own']),
});
export type IntakeFormats = z.infer<typeof intakeFormats>;

/** Lines out of sense that a preview names. */
export const LINES_TOLD = 10;

export const intakePreview = z.object({
  fileId: z.uuid(),
  name: z.string(),
  bytes: z.int(),
  kind: intakeKind,
  encoding: z.string(),
  delimiter: z.string(),
  headers: z.array(z.string()),
  sample: z.array(z.array(z.string())),
  /** Column of the file for each column understood, by its place; what is left out was not recognised. */
  mapping: z.record(z.string(), z.int()),
  formats: intakeFormats,
  /** The cells of the sample as they are read with this mapping and these formats; null where text stays text. */
  understood: z.array(z.array(z.string().nullable())),
  /** Formats that the file leaves open and a person has to decide; `small`: readings are out of sense. */
  open: z.array(z.enum(['date', 'decimal', 'unit', 'small'])),
  /** The first lines whose readings are out of sense, LINES_TOLD at most. */
  smallLines: z.array(z.int()),
});
export type IntakePreview = z.infer<typeof intakePreview>;

/** How a held file is to be read: columns and formats that a person has decided, null where the file is asked anew. */
export const intakeLook = z.object({
  kind: intakeKind,
  mapping: z.record(anyText(40), z.int().min(0).max(500)).nullable().default(null),
  formats: intakeFormats.nullable().default(null),
});
export type IntakeLook = z.output<typeof intakeLook>;

export const intakeStart = z.object({
  kind: intakeKind,
  mapping: z.record(anyText(40), z.int().min(0).max(500)),
  formats: intakeFormats,
});

/** States of the rows of a file; a file is held for a look before that. */
export const INTAKE_RUN_STATES = ['running', 'done', 'stopped', 'failed'] as const;

export const intakeRun = z
  .object({
    id: z.uuid(),
    name: z.string(),
    kind: intakeKind,
    state: z.enum(INTAKE_RUN_STATES),
    bytes: z.int(),
    bytesDone: z.int(),
    rows: z.int(),
    written: z.int(),
    known: z.int(),
    bad: z.int(),
    reason: z.string().nullable(),
    startedAt: z.iso.datetime(),
    finishedAt: z.iso.datetime().nullable(),
    /** Rows that were written, by table. */
    kept: z.record(z.string(), z.int()),
    /** Columns of the file that were not taken, by their names in it. */
    notTaken: z.array(z.string()),
    /** Taken back again; `left` are vehicles that stay, since they were worked on after the import. */
    undone: z.object({ at: z.iso.datetime(), by: z.string().nullable(), left: z.int() }).nullable(),
    /** The first rows that could not be taken, with why. */
    faults: z.array(z.object({ line: z.int(), reason: z.string() })),
  })
  .meta({ id: 'IntakeRun' });
export type IntakeRun = z.infer<typeof intakeRun>;

/** Bytes of a spreadsheet at most. */
export const MOST_SHEET_BYTES = 100_000_000;
