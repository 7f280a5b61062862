/** What a visit does about a weak point. */
export const JOB_ACTIONS = ['renew', 'look'] as const;
export type JobAction = (typeof JOB_ACTIONS)[number];

/** Minutes that a look is reckoned with where nobody told how long it takes. */
export const UNTOLD_LOOK_MINUTES = 10;

/** Minutes of labour of one job for itself; what it shares with others is not taken off. */
export const jobMinutes = (
  action: JobAction,
  { renewMinutes, look }: { readonly renewMinutes: number; readonly look: { readonly minutes: number } | null },
): number => (action === 'renew' ? renewMinutes : (look?.minutes ?? UNTOLD_LOOK_MINUTES));
