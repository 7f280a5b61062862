/** Actions of a visit on a weak point. */
export const JOB_ACTIONS = ['renew', 'look'] as const;
export type JobAction = (typeof JOB_ACTIONS)[number];
