import type { Role } from '@crosspeen/contract';

/** The people of the demo workshop; their passwords are no secret and are offered on the sign-in page. */
export const DEMO_ACCOUNTS: readonly { name: string; displayName: string; role: Role; password: string }[] = [
  { name: 'tove', displayName: 'Tove Marrick', role: 'mechanic', password: 'bay-two-lamp' },
  { name: 'anselm', displayName: 'Anselm Quist', role: 'adviser', password: 'front-desk-bell' },
  { name: 'ruta', displayName: 'Ruta Halvane', role: 'owner', password: 'slate-roof-shop' },
];

export const DEMO_WORKSHOP = 'Pellanmouth Quay Garage';
