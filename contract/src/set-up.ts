import { DEFAULT_LIMITS, SAFETY_LIMIT, type Consequence } from '@crosspeen/core';
import { z } from 'zod';
import { anyText, shortText } from './common.ts';
import { newPassword, signInName } from './people.ts';
import { settingsValues } from './settings.ts';

/** How cautious a workshop begins: the usual limits on the chance before the next service, times this. */
export const CAUTIONS = { careful: 0.5, usual: 1, easy: 2 } as const;
export type Caution = keyof typeof CAUTIONS;

/** The limits that a caution stands for, as shares; what never asks for work never does. */
export const limitsOf = (
  caution: Caution,
): { readonly limits: Record<Consequence, number | null>; readonly safetyLimit: number } => ({
  limits: Object.fromEntries(
    Object.entries(DEFAULT_LIMITS).map(([consequence, limit]) => [
      consequence,
      Number.isFinite(limit) ? Math.min(1, limit * CAUTIONS[caution]) : null,
    ]),
  ) as Record<Consequence, number | null>,
  safetyLimit: SAFETY_LIMIT * CAUTIONS[caution],
});

/** Set-up of a workshop: the code that the start command printed, the shop, its owner. */
export const setUpRequest = z
  .object({
    code: anyText(40).min(1, { message: 'must not be empty' }),
    shop: settingsValues
      .pick({
        workshopName: true,
        currency: true,
        taxRate: true,
        distanceUnit: true,
        timeZone: true,
        firstWeekday: true,
        numberFormat: true,
        dateFormat: true,
        labourRateMinor: true,
      })
      .extend({ caution: z.enum(Object.keys(CAUTIONS) as [Caution, ...Caution[]]) }),
    owner: z.object({ name: signInName, displayName: shortText(60), password: newPassword }),
  })
  .meta({ id: 'SetUp' });
export type SetUp = z.infer<typeof setUpRequest>;
