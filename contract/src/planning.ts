import { z } from 'zod';
import { distanceKm, isoDate, rowVersion } from './common.ts';

/** Money in minor units, more than nothing; null where it has no limit. */
const money = z.int().min(1, { message: 'must be more than nothing' }).max(100_000_000).nullable();

/** Terms of the owner for the visits of one vehicle. */
export const vehiclePlanning = z
  .object({
    /** Until when the owner means to keep it; null where that is open. */
    keepUntil: isoDate.nullable(),
    /** First day on which it can come in. */
    notBefore: isoDate.nullable(),
    /** Price that it would sell for today, minor units. */
    worthMinor: money,
    /** Part of its worth that it loses in a year. */
    lossPerYear: z.number().min(0).max(0.9, { message: 'must be at most 90 %' }),
    /** Cost of another vehicle a year, loss of worth and work together, minor units. */
    otherPerYearMinor: money,
    /** Most that one visit, and one year's visits, may cost, minor units. */
    visitBudgetMinor: money,
    yearBudgetMinor: money,
    /** Most minutes of work on one visit. */
    visitMinutes: z
      .int()
      .min(10, { message: 'must be at least 10 minutes' })
      .max(6000, { message: 'must be at most 100 hours' })
      .nullable(),
    coolingBeforeSummer: z.boolean(),
    /** The next roadworthiness inspection. */
    inspection: isoDate.nullable(),
    /** The next long trip: when it begins, and how far it goes. */
    trip: z.object({ day: isoDate, km: distanceKm }).nullable(),
  })
  .meta({ id: 'VehiclePlanning' });
export type VehiclePlanning = z.infer<typeof vehiclePlanning>;

/** Default terms. */
export const USUAL_PLANNING: VehiclePlanning = {
  keepUntil: null,
  notBefore: null,
  worthMinor: null,
  lossPerYear: 0.15,
  otherPerYearMinor: null,
  visitBudgetMinor: null,
  yearBudgetMinor: null,
  visitMinutes: null,
  coolingBeforeSummer: true,
  inspection: null,
  trip: null,
};

export const planningUpdate = z.object({ planning: vehiclePlanning, version: rowVersion });
export type PlanningUpdate = z.infer<typeof planningUpdate>;
