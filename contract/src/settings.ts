import { CONSEQUENCES, DUTY_KEYS, PROOF_CLASSES, SCHOOLS } from '@crosspeen/core';
import { z } from 'zod';
import { distanceUnit, rowVersion, shortText } from './common.ts';
import { dateFormat, numberFormat, timeOfDay, timeZone } from './formats.ts';

const limit = z.number().min(0.001, { message: 'must be at least 0.1 %' }).max(1, { message: 'must be at most 100 %' });

const dutyFactor = z.number().min(0.5, { message: 'must be at least x0.5' }).max(3, { message: 'must be at most x3' });

/** Limits on the chance before the next service, by consequence; null never asks for work. */
export const limits = z.record(z.enum(CONSEQUENCES), limit.nullable());

export const settingsValues = z.object({
  workshopName: shortText(80),
  distanceUnit,
  currency: z.string().regex(/^[A-Z]{3}$/, { message: 'must be a three-letter currency code such as EUR' }),
  labourRateMinor: z.int().min(0).max(10_000_000),
  /** Minutes of work that the bays can do in a week. */
  weekMinutes: z
    .int()
    .min(60, { message: 'must be at least 1 hour' })
    .max(600_000, { message: 'must be at most 10,000 hours' }),
  taxRate: z.number().min(0).max(0.5, { message: 'must be at most 50 %' }),
  serviceKm: z.number().min(1000, { message: 'must be at least 1,000 km' }).max(200_000),
  serviceDays: z.int().min(30, { message: 'must be at least 30 days' }).max(3650),
  /** Days until a vehicle can be brought in: what crosses its limit before that is held. */
  holdDays: z.int().min(1, { message: 'must be at least 1 day' }).max(90, { message: 'must be at most 90 days' }),
  /** Cost of a visit to the owner, half a day of his time; minor units. */
  visitOwnerMinor: z.int().min(0, { message: 'must not be negative' }).max(10_000_000),
  /** Prior use of a vehicle nobody has two readings of, km a year. */
  usualKmPerYear: z.number().min(100).max(500_000),
  limits,
  /**
   * Consequences for which proof of a renewal is wanted; without proof, the part is judged as the
   * first one.
   */
  proofFor: z.array(z.enum(PROOF_CLASSES)).max(PROOF_CLASSES.length),
  /** The school followed for each consequence. */
  schools: z.record(z.enum(CONSEQUENCES), z.enum(SCHOOLS)),
  /** Cost of a failure beyond the renewal itself, minor units. */
  failureCostMinor: z.record(
    z.enum(CONSEQUENCES),
    z.int().min(0, { message: 'must not be negative' }).max(100_000_000),
  ),
  /** Factor of each answer about use on the clocks. */
  dutyFactors: z.record(z.enum(DUTY_KEYS), z.object({ some: dutyFactor, much: dutyFactor })),
  safetyLimit: limit,
  firstWeekday: z.int().min(0).max(6),
  /** Time zone of the workshop's days. */
  timeZone,
  numberFormat,
  dateFormat,
  /** Time of the daily backup in the workshop's time zone; null for never. */
  backupAt: timeOfDay.nullable(),
  /** Number of good backups that are kept; older ones are removed. */
  backupsKept: z.int().min(2, { message: 'must be at least 2' }).max(365, { message: 'must be at most 365' }),
});
export type SettingsValues = z.infer<typeof settingsValues>;

export const settings = settingsValues.extend({ version: rowVersion }).meta({ id: 'Settings' });
export type Settings = z.infer<typeof settings>;

/**
 * Number of saved vehicles that each limit would call in, by consequence: chances in falling order
 * at so many vehicles.
 */
export const limitPicture = z
  .object({
    vehicles: z.int(),
    classes: z.array(
      z.object({
        consequence: z.enum(CONSEQUENCES),
        atLimit: z.array(z.object({ limit: z.number(), vehicles: z.int() })),
      }),
    ),
  })
  .meta({ id: 'LimitPicture' });
export type LimitPicture = z.infer<typeof limitPicture>;
