import { TIMING } from './slots-timing.ts';
import { COOLING } from './slots-cooling.ts';
import { SEALS } from './slots-seals.ts';
import { OTHER } from './slots-other.ts';

/** Weak points by the build they belong to. */
export const SLOTS = { ...TIMING, ...COOLING, ...SEALS, ...OTHER } as const;
export type SlotName = keyof typeof SLOTS;
