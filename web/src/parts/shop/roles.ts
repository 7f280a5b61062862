import type { Role } from '@crosspeen/contract';

/** Roles as people say them. */
export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  mechanic: 'Mechanic, at the bay',
  adviser: 'Adviser, at the desk',
  owner: 'Owner',
};
