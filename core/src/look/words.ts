/** Places of a look, in the order of the walk round the vehicle. */
export const LOOK_PLACES = ['inside', 'top', 'front', 'rear', 'underneath', 'opened', 'road'] as const;
export type LookPlace = (typeof LOOK_PLACES)[number];

/** Senses and tools with which a look is made. */
export const LOOK_METHODS = ['look', 'feel', 'listen', 'spin', 'squeeze', 'measure', 'codes'] as const;
export type LookMethod = (typeof LOOK_METHODS)[number];

/** Condition of a part that came out, or that a look found. */
export const CONDITIONS = ['sound', 'worn', 'failed'] as const;
export type Condition = (typeof CONDITIONS)[number];
