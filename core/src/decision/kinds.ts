export const CONSEQUENCES = ['engine', 'stranded', 'damage', 'leak', 'drivability', 'emissions', 'cosmetic'] as const;
export type Consequence = (typeof CONSEQUENCES)[number];

export const VERDICTS = ['hold', 'renew', 'look', 'ride_along', 'watch', 'run_on', 'behind_it'] as const;
export type Verdict = (typeof VERDICTS)[number];

/**
 * Names of all that may decide, in their order. They stand apart from the rows of decide.ts, so that a browser can
 * check a name without loading the rules.
 */
export const DECISION_RULES = [
  'failed_and_grave',
  'stain',
  'failed',
  'watched_look',
  'watched',
  'watched_left',
  'worn_and_grave',
  'worn',
  'revised_part',
  'too_likely_to_drive',
  'would_have_shown',
  'customary_condition',
  'customary',
  'notice_renews',
  'no_proof_look',
  'no_proof_customary',
  'no_proof_listen',
  'no_proof',
  'looked_at',
  'safety_look',
  'safety_never_waits',
  'over_limit_warns',
  'over_limit_beyond_a_look',
  'over_limit',
  'no_better',
  'left_until_it_fails',
  'school_renews',
  'school_looks',
  'school_beyond_a_look',
  'notice_looks',
  'interval_look',
  'customary_look',
  'customary_unseen',
  'customary_left',
  'rides_along',
  'safety_watched',
  'near_limit',
  'below_limit',
] as const;
export type DecisionRule = (typeof DECISION_RULES)[number];

const WORK: Readonly<Record<Verdict, boolean>> = {
  hold: true,
  renew: true,
  look: true,
  ride_along: false,
  watch: false,
  run_on: false,
  behind_it: false,
};
const IDLE: Readonly<Record<Verdict, boolean>> = {
  hold: false,
  renew: false,
  look: false,
  ride_along: false,
  watch: false,
  run_on: true,
  behind_it: true,
};
/** Tells whether a verdict calls the vehicle in for work of its own. */
export const asksForWork = (verdict: Verdict): boolean => WORK[verdict];
/**
 * Tells whether a verdict asks for nothing: no work, no job beside another, no watching by the
 * driver.
 */
export const leavesAlone = (verdict: Verdict): boolean => IDLE[verdict];

/**
 * Most chance of failing before the next service that a workshop lets stand, by consequence. Cosmetic never asks for
 * work.
 */
export const DEFAULT_LIMITS: Readonly<Record<Consequence, number>> = {
  engine: 0.03,
  stranded: 0.08,
  damage: 0.12,
  leak: 0.25,
  drivability: 0.3,
  emissions: 0.3,
  cosmetic: Infinity,
};
/**
 * Consequences for which a workshop may want proof: without a proven renewal, the part is judged as
 * the first one.
 */
export const PROOF_CLASSES = [...CONSEQUENCES, 'safety'] as const;
export type ProofClass = (typeof PROOF_CLASSES)[number];
export const DEFAULT_PROOF: readonly ProofClass[] = ['engine', 'safety'];

/** Tells whether the policy wants proof for a weak point of this consequence. */
export const wantsProof = (consequence: Consequence, safety: boolean, proofFor: readonly ProofClass[]): boolean =>
  proofFor.includes(consequence) || (safety && proofFor.includes('safety'));

/** Limit on anything with the safety flag, whatever its consequence. */
export const SAFETY_LIMIT = 0.01;

/** The limit that counts: the class's own, or the safety limit where that is stricter. */
export const limitFor = (
  consequence: Consequence,
  safety: boolean,
  limits: Readonly<Record<Consequence, number>>,
  safetyLimit: number,
): number => (safety ? Math.min(safetyLimit, limits[consequence]) : limits[consequence]);
