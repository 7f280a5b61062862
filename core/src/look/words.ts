/** Where a look takes place, in the order of the hands. */
export const LOOK_PLACES = ['inside', 'top', 'front', 'rear', 'underneath', 'opened', 'road'] as const;
export type LookPlace = (typeof LOOK_PLACES)[number];

/** With what sense or tool a look is made. */
export const LOOK_METHODS = ['look', 'feel', 'listen', 'spin', 'squeeze', 'measure', 'codes'] as const;
export type LookMethod = (typeof LOOK_METHODS)[number];

/** In what state a part was when it came out, or what a look found. */
export const CONDITIONS = ['sound', 'worn', 'failed'] as const;
export type Condition = (typeof CONDITIONS)[number];
