export const ROLES = ['mechanic', 'adviser', 'owner'] as const;
export type Role = (typeof ROLES)[number];

/** Permissions of each role beyond reading. */
export const MAY = {
  editVehicles: ['mechanic', 'adviser', 'owner'],
  planVisits: ['mechanic', 'adviser', 'owner'],
  editSettings: ['owner'],
  managePeople: ['owner'],
  writeLibrary: ['mechanic', 'adviser', 'owner'],
  publishLibrary: ['owner'],
  importFiles: ['adviser', 'owner'],
  judgeFleet: ['adviser', 'owner'],
} as const satisfies Record<string, readonly Role[]>;
export type Permission = keyof typeof MAY;

export const may = (role: Role, permission: Permission): boolean => (MAY[permission] as readonly Role[]).includes(role);

/** Minutes without a touch after which a bay tablet asks for a PIN again. */
export const BAY_REST_MINUTES = 5;
