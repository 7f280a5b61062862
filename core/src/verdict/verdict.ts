import type { Nature } from '../life/nature.ts';

export const CONSEQUENCES = ['engine', 'stranded', 'damage', 'leak', 'drivability', 'emissions', 'cosmetic'] as const;
export type Consequence = (typeof CONSEQUENCES)[number];

export const VERDICTS = ['hold', 'renew', 'look', 'ride_along', 'watch', 'run_on', 'behind_it'] as const;
export type Verdict = (typeof VERDICTS)[number];

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

/** Chance at which an engine or safety item is not driven on any more. */
const HOLD_CHANCE = 0.5;
/**
 * A susceptible share that survival has worn down to this part of itself has shown that this engine is not one of them.
 */
const FADED_PART = 0.15;
/** Share of its limit from which an item that can be watched is worth a look at the next visit. */
const LOOK_FROM = 1 / 3;
/** Minutes of teardown above which a job goes along only with other work there. */
const DEEP_ACCESS_MINUTES = 120;

/** A job that something goes along with. */
export interface RideFact {
  readonly weakPointId: string;
  readonly title: string;
  /** Minutes that it adds to the job, and those it takes by itself. */
  readonly minutes: number;
  readonly alone: number;
}

export interface VerdictFacts {
  readonly applies: boolean;
  /** The revised part that ends the weak point is fitted. */
  readonly revisedFitted: boolean;
  /** Chance of failing before the next service. */
  readonly chance: number;
  /** The workshop's limit for its consequence, or the safety limit if that is stricter. */
  readonly limit: number;
  readonly consequence: Consequence;
  readonly safety: boolean;
  /** Nature of the weak point; wear is never called faded, however far it has come. */
  readonly nature: Nature;
  /** P(susceptible | alive) over the susceptible share: 1 when new, towards 0 for a defect that would have shown. */
  readonly shareLeft: number;
  /** Nobody can show that it was ever renewed, where the workshop wants proof. */
  readonly noProof: boolean;
  /** Chance of failing before the next service if it is the first one; the chance itself where that is no question. */
  readonly chanceIfFirst: number;
  /** How likely it is the first one. */
  readonly firstChance: number;
  /** The limit of its class, whichever school is followed. */
  readonly classLimit: number;
  /** A customary interval has passed since it was new. */
  readonly customPassed: boolean;
  /** There is a way to look at it. */
  readonly canLook: boolean;
  /** A clean look would bring the chance under the limit of its class even if it is the first one. */
  readonly lookSettlesFirst: boolean;
  /** Nobody renews it before it fails: the driver keeps an eye on it. */
  readonly watched: boolean;
  /** The last look found it worn and it has not been renewed since. */
  readonly foundWorn: boolean;
  /** It has failed and has not been renewed since. */
  readonly hasFailed: boolean;
  /** It shows itself for longer than the gap between two visits, to a look that can be done. */
  readonly warnsInTime: boolean;
  /** After a clean look the chance is under the limit of its class. */
  readonly lookSettles: boolean;
  /** The chance crosses the limit before the next service but has not yet. */
  readonly crossesSoon: boolean;
  /**
   * Action that the followed school asks for before the next service; null for Early, which works
   * through the limit.
   */
  readonly schoolAsks: 'renew' | 'look' | null;
  readonly accessMinutes: number;
  /** A job that is asked for lays it open, and its own time would come before that access is open again. */
  readonly ridesWith: RideFact | null;
}

/** True if a failure costs the engine or somebody's safety. */
export const grave = ({ consequence, safety }: VerdictFacts): boolean => safety || consequence === 'engine';
const caughtByLooking = ({ warnsInTime, lookSettles }: VerdictFacts): boolean => warnsInTime && lookSettles;
const nearLimit = ({ chance, limit }: VerdictFacts): boolean => chance >= limit * LOOK_FROM;
const unproven = ({ noProof, chanceIfFirst, classLimit }: VerdictFacts): boolean =>
  noProof && chanceIfFirst >= classLimit;

interface RuleRow {
  readonly rule: string;
  readonly verdict: Verdict;
  readonly when: (facts: VerdictFacts) => boolean;
}

/** The rule, read from the top: the first row whose condition holds decides. */
export const VERDICT_RULES = [
  { rule: 'does_not_apply', verdict: 'behind_it', when: (f) => !f.applies },
  {
    rule: 'failed_and_grave',
    verdict: 'hold',
    when: (f) => f.hasFailed && (grave(f) || f.consequence === 'stranded' || f.consequence === 'damage'),
  },
  { rule: 'failed', verdict: 'renew', when: (f) => f.hasFailed },
  {
    rule: 'watched_look',
    verdict: 'look',
    when: (f) => f.watched && !f.foundWorn && f.chance >= f.limit && caughtByLooking(f),
  },
  { rule: 'watched', verdict: 'watch', when: (f) => f.watched && (f.foundWorn || f.crossesSoon || nearLimit(f)) },
  { rule: 'worn_and_grave', verdict: 'hold', when: (f) => f.foundWorn && (grave(f) || f.consequence === 'stranded') },
  { rule: 'worn', verdict: 'renew', when: (f) => f.foundWorn },
  { rule: 'revised_part', verdict: 'behind_it', when: (f) => f.revisedFitted },
  { rule: 'too_likely_to_drive', verdict: 'hold', when: (f) => grave(f) && f.chance >= HOLD_CHANCE },
  { rule: 'no_proof_look', verdict: 'look', when: (f) => unproven(f) && f.canLook && f.lookSettlesFirst },
  { rule: 'no_proof_customary', verdict: 'renew', when: (f) => unproven(f) && f.customPassed },
  { rule: 'no_proof_listen', verdict: 'look', when: (f) => unproven(f) && f.canLook },
  { rule: 'no_proof', verdict: 'renew', when: unproven },
  { rule: 'safety_look', verdict: 'look', when: (f) => f.safety && f.chance >= f.limit && f.canLook && f.lookSettles },
  { rule: 'safety_never_waits', verdict: 'renew', when: (f) => f.safety && f.chance >= f.limit },
  { rule: 'over_limit_warns', verdict: 'look', when: (f) => f.chance >= f.limit && caughtByLooking(f) },
  { rule: 'over_limit_beyond_a_look', verdict: 'renew', when: (f) => f.chance >= f.limit && f.warnsInTime },
  { rule: 'over_limit', verdict: 'renew', when: (f) => f.chance >= f.limit },
  { rule: 'school_renews', verdict: 'renew', when: (f) => f.schoolAsks === 'renew' },
  { rule: 'school_looks', verdict: 'look', when: (f) => f.schoolAsks === 'look' && f.lookSettles },
  { rule: 'school_beyond_a_look', verdict: 'renew', when: (f) => f.schoolAsks === 'look' },
  {
    rule: 'would_have_shown',
    verdict: 'behind_it',
    when: (f) => f.nature === 'defect' && f.shareLeft <= FADED_PART && !nearLimit(f),
  },
  { rule: 'crosses_soon_warns', verdict: 'look', when: (f) => f.crossesSoon && f.warnsInTime },
  { rule: 'crosses_soon', verdict: 'renew', when: (f) => f.crossesSoon },
  { rule: 'safety_watched', verdict: 'look', when: (f) => f.safety },
  { rule: 'rides_along', verdict: 'ride_along', when: (f) => f.ridesWith !== null },
  {
    rule: 'near_limit_deep',
    verdict: 'ride_along',
    when: (f) => nearLimit(f) && f.accessMinutes >= DEEP_ACCESS_MINUTES,
  },
  { rule: 'near_limit', verdict: 'look', when: nearLimit },
  { rule: 'below_limit', verdict: 'run_on', when: () => true },
] as const satisfies readonly RuleRow[];

/** Name of a row of the table. */
export type VerdictRule = (typeof VERDICT_RULES)[number]['rule'];

export interface Judgement {
  readonly verdict: Verdict;
  /** The row of the table that decided. */
  readonly rule: VerdictRule;
}

/**
 * The verdict of one weak point on one vehicle: the first row of VERDICT_RULES that holds. Safety rows stand above
 * cost.
 */
export function judge(facts: VerdictFacts): Judgement {
  const { rule, verdict } = VERDICT_RULES.find(({ when }) => when(facts))!;
  return { rule, verdict };
}

/** The limit that counts: the class's own, or the safety limit where that is stricter. */
export const limitFor = (
  consequence: Consequence,
  safety: boolean,
  limits: Readonly<Record<Consequence, number>>,
  safetyLimit: number,
): number => (safety ? Math.min(safetyLimit, limits[consequence]) : limits[consequence]);
