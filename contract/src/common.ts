import { dayFromIso, DISTANCE_UNITS } from '@crosspeen/core';
import { z } from 'zod';

/** An ISO calendar date that exists. */
export const isoDate = z.string().refine((value) => dayFromIso(value) !== null, { message: 'must be a date that exists, such as 2026-10-31' });

/** What the workshop's distances are shown in. */
export const distanceUnit = z.enum(['km', 'mi']);
/** What a vehicle's own meter counts. */
export const readingUnit = z.enum(DISTANCE_UNITS);

/** Text people type: trimmed, never empty, never longer than a screen holds. */
export const shortText = (most: number) => z.string().trim().min(1, { message: 'must not be empty' }).max(most, { message: `must have at most ${most} characters` });

export const optionalText = (most: number) => z.string().trim().max(most, { message: `must have at most ${most} characters` }).nullable();

const brand = <B extends string>(_name: B) => z.uuid({ message: 'must be an id' }).brand<B>();

export const vehicleId = brand('VehicleId');
export const familyId = brand('FamilyId');
export const variantId = brand('VariantId');
export const weakPointId = brand('WeakPointId');
export const visitId = brand('VisitId');
export const noticeId = brand('NoticeId');
export const authorityId = brand('AuthorityId');
export const changeId = brand('ChangeId');
export type VehicleId = z.infer<typeof vehicleId>;
export type WeakPointId = z.infer<typeof weakPointId>;
export type VisitId = z.infer<typeof visitId>;
export type ChangeId = z.infer<typeof changeId>;

/** Version of a row that people edit; writing with an old one is refused with both sides. */
export const rowVersion = z.int().positive();

export const paging = z.object({
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  pageSize: z.coerce.number().int().min(1).max(100).default(25),
});

export const paged = <T extends z.ZodType>(row: T) => z.object({ rows: z.array(row), total: z.int().nonnegative(), page: z.int(), pageSize: z.int() });

/** Kilometres on a meter, canonical unit. */
export const distanceKm = z.number().min(0, { message: 'must not be negative' }).max(4_828_032, { message: 'is more than any vehicle runs; check the number of digits' });

/** The keys of a table as a schema of choices takes them. */
export const words = <T extends string>(table: Record<T, unknown>): [T, ...T[]] => Object.keys(table) as [T, ...T[]];
