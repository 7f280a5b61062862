import { z } from 'zod';
import { anyText, shortText } from './common.ts';
import { dateFormat, numberFormat } from './formats.ts';
import { ROLES } from './roles.ts';

export const signInRequest = z.object({ name: shortText(60), password: anyText(200).min(1) });

const sessionUser = z.object({ id: z.uuid(), name: z.string(), displayName: z.string(), role: z.enum(ROLES) });
export type SessionUser = z.infer<typeof sessionUser>;

/** Accounts that the demo offers on its sign-in page; empty in a workshop's own installation. */
const demoAccount = z.object({ name: z.string(), displayName: z.string(), role: z.enum(ROLES), password: z.string() });

/** The bay tablet that asks, with those who can change over at it. */
const bay = z.object({
  tablet: z.string(),
  people: z.array(z.object({ id: z.uuid(), displayName: z.string() })),
  /** Too many wrong PINs were typed: somebody signs in with a password first. */
  locked: z.boolean(),
});
export type Bay = z.infer<typeof bay>;

export const sessionState = z
  .object({
    user: sessionUser.nullable(),
    csrfToken: z.string().nullable(),
    demoAccounts: z.array(demoAccount),
    /** Nobody is here yet: the workshop is set up first. */
    setUp: z.enum(['needed', 'done']),
    workshopName: z.string(),
    formats: z.object({ numberFormat, dateFormat, timeZone: z.string() }),
    bay: bay.nullable(),
    /** Signed in at it with a PIN, for what a mechanic may do. */
    byPin: z.boolean(),
    /** True for the owner if there was no good backup for too long. */
    backupOld: z.boolean(),
    /** The day the server counts as today, in the workshop's time zone (a simulated clock in tests). */
    today: z.string(),
  })
  .meta({ id: 'SessionState' });
export type SessionState = z.infer<typeof sessionState>;
