import {
  AUTHORITY_KINDS,
  CLOCK_KINDS,
  dayFromIso,
  DISTANCE_UNITS,
  parseSpans,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
} from '@crosspeen/core';
import { z } from 'zod';

/** An ISO calendar date that exists; years from 1900 to 2199, as vehicles and workshops have them. */
export const isoDate = z
  .string()
  .regex(/^(19|20|21)[0-9]{2}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$/, {
    message: 'must be a date that exists, such as 2026-10-31',
    abort: true,
  })
  .refine((value) => dayFromIso(value) !== null, { message: 'must be a date that exists, such as 2026-10-31' });

/** Unit of the workshop's distances on screen. */
export const distanceUnit = z.enum(['km', 'mi']);
/** Unit of a vehicle's own meter. */
export const readingUnit = z.enum(DISTANCE_UNITS);

/** Characters that a database can keep: no NUL, and no half of a pair that stands for one. */
const KEEPABLE = /^[^\u0000\ud800-\udfff]*$/u;
const NOT_KEEPABLE = { message: 'holds a character that cannot be kept; take it out' };
const NOT_BLANK = /[^\s]/u;
const tooLong = (most: number) => ({ message: `must have at most ${most} characters` });

/** Text as it comes, at most so long. Every text that is sent in or read from a file is one of the three here. */
export const anyText = (most: number) => z.string().max(most, tooLong(most)).regex(KEEPABLE, NOT_KEEPABLE);

/** Text people type: trimmed, never empty, never longer than a screen holds. */
export const shortText = (most: number) =>
  z
    .string()
    .trim()
    .min(1, { message: 'must not be empty', abort: true })
    .regex(NOT_BLANK, { message: 'must not be empty' })
    .max(most, tooLong(most))
    .regex(KEEPABLE, NOT_KEEPABLE);

export const optionalText = (most: number) =>
  z.string().trim().max(most, tooLong(most)).regex(KEEPABLE, NOT_KEEPABLE).nullable();

/** Words to search for. */
export const searchText = anyText(200).default('');

const brand = <B extends string>(_name: B) => z.uuid({ message: 'must be an id' }).brand<B>();

export const vehicleId = brand('VehicleId');
export const familyId = brand('FamilyId');
export const variantId = brand('VariantId');
export const weakPointId = brand('WeakPointId');
export const taskId = brand('TaskId');
export const visitId = brand('VisitId');
export const noticeId = brand('NoticeId');
export const authorityId = brand('AuthorityId');
export const changeId = brand('ChangeId');
export type VehicleId = z.infer<typeof vehicleId>;
export type WeakPointId = z.infer<typeof weakPointId>;
export type TaskId = z.infer<typeof taskId>;
export type VisitId = z.infer<typeof visitId>;
export type ChangeId = z.infer<typeof changeId>;

/** True if its author was asked about a doubtful value and means it. */
export const sure = z.boolean().default(false);

/** Version of a row that people edit; writing with an old one is refused with both sides. */
export const rowVersion = z.int().positive().max(2_147_483_647);

/** Rows of a page of a long list, unless something else is asked for. */
export const PAGE_SIZE = 25;

export const paging = z.object({
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  pageSize: z.coerce.number().int().min(1).max(100).default(PAGE_SIZE),
});

export const paged = <T extends z.ZodType>(row: T) =>
  z.object({ rows: z.array(row), total: z.int().nonnegative(), page: z.int(), pageSize: z.int() });

/** More than any vehicle runs. */
export const MOST_KM = 4_828_032;
/** Kilometres on a meter, canonical unit. */
export const distanceKm = z
  .number()
  .min(0, { message: 'must not be negative' })
  .max(MOST_KM, { message: 'is more than any vehicle runs; check the number of digits' });

/** The longest number of an engine that is kept exactly. */
export const MOST_SERIAL = Number.MAX_SAFE_INTEGER;
export const serialNumber = z
  .int({ message: 'must be a whole number' })
  .min(0, { message: 'must not be negative' })
  .max(MOST_SERIAL);

/** A stretch on one clock in its canonical unit, with the unit it was told in where that is not the usual one. */
export const span = z.object({
  clock: z.enum(CLOCK_KINDS),
  from: z.number(),
  to: z.number(),
  unit: z.enum(['mi', 'm', 'd']).exactOptional(),
  /** True if the window has only a beginning. */
  open: z.literal(true).exactOptional(),
});

/** The keys of a table as a schema of choices takes them. */
export const words = <T extends string>(table: Record<T, unknown>): [T, ...T[]] => Object.keys(table) as [T, ...T[]];

/** Adds an issue where a range stands the wrong way round; `at` names its end. */
export function inOrder<T>(
  { from, to }: { readonly from: T | null | undefined; readonly to: T | null | undefined },
  at: PropertyKey[],
  context: z.core.$RefinementCtx,
  words: string,
): void {
  if (from !== null && from !== undefined && to !== null && to !== undefined && from > to)
    context.addIssue({ code: 'custom', path: at, message: words });
}

/** Spans in shorthand, checked by the core's own parser. */
export const spansText = anyText(80)
  .trim()
  .superRefine((text, context) => {
    const parsed = parseSpans(text);
    if (!parsed.ok) context.addIssue({ code: 'custom', message: parsed.problem });
  });

/** Statement of one authority about one weak point, as it is read. */
export const statement = z.object({
  authority: z.string(),
  kind: z.enum(AUTHORITY_KINDS),
  edition: z.string().nullable(),
  region: z.string().nullable(),
  words: z.string(),
  /** Published interval; empty when it gives none. */
  interval: z.array(span),
  /** Action that its interval asks for. */
  asks: z.enum(STATEMENT_ASKS),
  doubted: z.boolean(),
  /** It allows no exception. */
  always: z.boolean(),
  strength: z.enum(STATEMENT_STRENGTHS).nullable(),
});
