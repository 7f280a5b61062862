import { z } from 'zod';
import { anyText, shortText } from './common.ts';

export const ROLES = ['mechanic', 'adviser', 'owner'] as const;
export type Role = (typeof ROLES)[number];

/** What each role may do beyond reading. */
export const MAY = {
  editVehicles: ['mechanic', 'adviser', 'owner'],
  planVisits: ['mechanic', 'adviser', 'owner'],
  editSettings: ['owner'],
  writeLibrary: ['mechanic', 'adviser', 'owner'],
  publishLibrary: ['owner'],
  importFiles: ['adviser', 'owner'],
  judgeFleet: ['adviser', 'owner'],
} as const satisfies Record<string, readonly Role[]>;
export type Permission = keyof typeof MAY;

export const may = (role: Role, permission: Permission): boolean => (MAY[permission] as readonly Role[]).includes(role);

export const signInRequest = z.object({ name: shortText(60), password: anyText(200).min(1) });

const sessionUser = z.object({ id: z.uuid(), name: z.string(), displayName: z.string(), role: z.enum(ROLES) });
export type SessionUser = z.infer<typeof sessionUser>;

/** Accounts that the demo offers on its sign-in page; empty in a workshop's own installation. */
const demoAccount = z.object({ name: z.string(), displayName: z.string(), role: z.enum(ROLES), password: z.string() });

export const sessionState = z
  .object({
    user: sessionUser.nullable(),
    csrfToken: z.string().nullable(),
    demoAccounts: z.array(demoAccount),
    /** The day the server counts as today (a simulated clock in tests). */
    today: z.string(),
  })
  .meta({ id: 'SessionState' });
export type SessionState = z.infer<typeof sessionState>;
