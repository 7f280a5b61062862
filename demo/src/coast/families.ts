import { CAR_FAMILIES } from './families-cars.ts';
import { OTHER_FAMILIES } from './families-heavy.ts';
import type { CoastFamily } from './family.ts';

/** Twelve engines beside those of the harbour pack. */
export const COAST_FAMILIES: readonly CoastFamily[] = [...CAR_FAMILIES, ...OTHER_FAMILIES];
