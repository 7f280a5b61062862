import type { DecisionFacts } from './facts.ts';
import type { DecisionRule, Verdict } from './kinds.ts';

/**
 * A susceptible share that survival has worn down to this part of itself has shown that this engine is not one of them.
 */
const FADED_PART = 0.15;
/** Share of its limit from which an item is worth a look at the next visit. */
const LOOK_FROM = 1 / 3;
/** Share of its limit below which a safety item asks for nothing but by its interval. */
const SAFETY_FROM = 0.1;
/** After a worn finding on an engine or safety item so much of the limit counts. */
const WORN_PART = 1 / 3;
/** Detection from which a look clears a belt, an engine or a safety item that is past its custom without proof. */
export const SURE_LOOK = 0.9;

/** True if a failure costs the engine or somebody's safety. */
export const isGrave = ({ consequence, safety }: Pick<DecisionFacts, 'consequence' | 'safety'>): boolean =>
  safety || consequence === 'engine';
/** True if a failure costs the engine, somebody's safety, or leaves the vehicle on the road. */
export const isSerious = (facts: Pick<DecisionFacts, 'consequence' | 'safety'>): boolean =>
  isGrave(facts) || facts.consequence === 'stranded';

/** The limit that counts after a worn finding. */
export const wornLimit = (facts: Pick<DecisionFacts, 'consequence' | 'safety' | 'classLimit'>): number =>
  isGrave(facts) ? facts.classLimit * WORN_PART : facts.classLimit;

const isStain = ({ consequence, safety }: DecisionFacts): boolean => consequence === 'cosmetic' && !safety;
const isNear = ({ chance, limit }: DecisionFacts): boolean => chance >= limit * LOOK_FROM;
const isOver = ({ chance, limit }: DecisionFacts): boolean => chance >= limit;

/** It can be looked at, and nobody has of late. */
const canLook = ({ look }: DecisionFacts): boolean => look !== null && look.isReachable && !look.isOnFile;
/** A look would clear it although its custom has passed and nobody can show a renewal. */
const isSure = ({ look, ...facts }: DecisionFacts): boolean =>
  look !== null && (look.detection >= SURE_LOOK || !(facts.isBelt || isGrave(facts)));
/** It was looked at and good, and that is enough for what is past its custom. */
const isCleared = (facts: DecisionFacts): boolean => facts.look !== null && facts.look.isOnFile && isSure(facts);
const isGoodOnFile = ({ look }: DecisionFacts): boolean => look !== null && look.isOnFile;
/** It was looked at and good, and the limit is not crossed before the vehicle can be brought in. */
const wasGood = (facts: DecisionFacts): boolean => isGoodOnFile(facts) && !facts.crossesAtOnce();
const settlesFirst = (facts: DecisionFacts): boolean => !facts.noProof || facts.look!.settlesFirst();

/** Renewing it makes it safer, and costs no more than waiting where a failure is only money. */
const isWorthwhile = (facts: DecisionFacts): boolean => facts.helps() && (isGrave(facts) || facts.pays());
/**
 * A look comes before the work even where it cannot settle it: nobody renews such parts by an interval, or nothing
 * grave rests on it and nobody knows what is in there, or its renewal would not be worthwhile.
 */
const isLookedAtFirst = (facts: DecisionFacts): boolean =>
  !facts.hasCustom || (!isGrave(facts) && facts.isOpen) || !isWorthwhile(facts);

interface DecisionRow {
  readonly rule: DecisionRule;
  readonly verdict: Verdict;
  readonly when: (facts: DecisionFacts) => boolean;
}

/** Step 1: facts. What has failed or is worn is no chance any more. */
const FACT_ROWS: readonly DecisionRow[] = [
  { rule: 'failed_and_grave', verdict: 'hold', when: (f) => f.hasFailed && isSerious(f) },
  { rule: 'stain', verdict: 'run_on', when: (f) => (f.hasFailed || f.foundWorn) && isStain(f) },
  { rule: 'failed', verdict: 'renew', when: (f) => f.hasFailed },
  {
    rule: 'watched_look',
    verdict: 'look',
    when: (f) => f.watched && !f.foundWorn && isOver(f) && canLook(f) && f.look!.settles(),
  },
  { rule: 'watched', verdict: 'watch', when: (f) => f.watched && (f.foundWorn || isNear(f)) },
  { rule: 'watched_left', verdict: 'run_on', when: (f) => f.watched },
  { rule: 'worn_and_grave', verdict: 'hold', when: (f) => f.foundWorn && isSerious(f) && f.soon() >= wornLimit(f) },
  { rule: 'worn', verdict: 'renew', when: (f) => f.foundWorn },
  { rule: 'revised_part', verdict: 'behind_it', when: (f) => f.revisedFitted },
];

/** Step 2: how long it may wait. Every row that answers Look asks whether there is a look, and what it would settle. */
const WAIT_ROWS: readonly DecisionRow[] = [
  { rule: 'too_likely_to_drive', verdict: 'hold', when: (f) => isSerious(f) && !f.isOpen && f.soon() >= f.classLimit },
  {
    rule: 'would_have_shown',
    verdict: 'behind_it',
    when: (f) => f.nature === 'defect' && f.shareLeft <= FADED_PART && !isNear(f),
  },
  {
    rule: 'customary_condition',
    verdict: 'look',
    when: (f) => isSerious(f) && f.customPassed && !f.isOpen && f.byCondition && canLook(f) && f.look!.settles(),
  },
  {
    rule: 'customary',
    verdict: 'renew',
    when: (f) => isSerious(f) && f.customPassed && !f.isOpen && !(f.byCondition && wasGood(f)),
  },
  { rule: 'notice_renews', verdict: 'renew', when: (f) => f.notice?.asks === 'renew' },
  {
    rule: 'no_proof_look',
    verdict: 'look',
    when: (f) => isSerious(f) && f.customPassed && f.isOpen && canLook(f) && isSure(f) && settlesFirst(f),
  },
  {
    rule: 'no_proof_customary',
    verdict: 'renew',
    when: (f) => isSerious(f) && f.customPassed && f.isOpen && !isCleared(f),
  },
  { rule: 'no_proof_listen', verdict: 'look', when: (f) => f.noProof && f.chanceIfFirst >= f.classLimit && canLook(f) },
  {
    rule: 'no_proof',
    verdict: 'renew',
    when: (f) => f.noProof && f.chanceIfFirst >= f.classLimit && !(f.look?.isReachable ?? false),
  },
  {
    rule: 'looked_at',
    verdict: 'look',
    // Where a look comes first even if it cannot settle it, its good result must not lead to the work either.
    when: (f) => isOver(f) && (wasGood(f) || (isGoodOnFile(f) && isLookedAtFirst(f))),
  },
  {
    rule: 'safety_look',
    verdict: 'look',
    when: (f) => f.safety && isOver(f) && canLook(f) && (f.look!.settles() || isLookedAtFirst(f)),
  },
  { rule: 'safety_never_waits', verdict: 'renew', when: (f) => f.safety && isOver(f) && f.helps() },
  {
    rule: 'over_limit_warns',
    verdict: 'look',
    when: (f) => isOver(f) && canLook(f) && (f.look!.settles() || isLookedAtFirst(f)),
  },
  { rule: 'over_limit_beyond_a_look', verdict: 'renew', when: (f) => isOver(f) && f.look !== null && isWorthwhile(f) },
  { rule: 'over_limit', verdict: 'renew', when: (f) => isOver(f) && isWorthwhile(f) },
  { rule: 'no_better', verdict: 'watch', when: (f) => isOver(f) && !f.helps() },
  { rule: 'left_until_it_fails', verdict: 'watch', when: isOver },
  { rule: 'school_renews', verdict: 'renew', when: (f) => f.schoolAsks === 'renew' },
  { rule: 'school_looks', verdict: 'look', when: (f) => f.schoolAsks === 'look' && canLook(f) && f.look!.settles() },
  { rule: 'school_beyond_a_look', verdict: 'renew', when: (f) => f.schoolAsks === 'look' && canLook(f) },
  { rule: 'notice_looks', verdict: 'look', when: (f) => f.notice?.asks === 'look' && canLook(f) },
  { rule: 'interval_look', verdict: 'look', when: (f) => !isStain(f) && canLook(f) && f.look!.isDue },
  {
    rule: 'customary_look',
    verdict: 'look',
    when: (f) => !isStain(f) && canLook(f) && (f.customPassed || (f.isOpen && f.middlePassed)),
  },
  {
    rule: 'customary_unseen',
    verdict: 'renew',
    when: (f) =>
      !isStain(f) && f.look === null && (f.customPassed || (f.isOpen && f.middlePassed)) && f.helps() && f.pays(),
  },
  {
    rule: 'customary_left',
    verdict: 'watch',
    when: (f) => !isStain(f) && f.look === null && (f.customPassed || (f.isOpen && f.middlePassed)),
  },
];

/** Step 3: what goes along with a job that is asked for; decided once all jobs of the vehicle are known. */
export const RIDES_ALONG = { rule: 'rides_along', verdict: 'ride_along' } as const;

/** Step 4: the rest. */
const REST_ROWS: readonly DecisionRow[] = [
  {
    rule: 'safety_watched',
    verdict: 'look',
    when: (f) => f.safety && canLook(f) && f.chance >= f.classLimit * SAFETY_FROM,
  },
  { rule: 'near_limit', verdict: 'look', when: (f) => isNear(f) && canLook(f) },
  { rule: 'below_limit', verdict: 'run_on', when: () => true },
];

/** What decides on a part by itself, in its order. */
export const OWN_ROWS: readonly DecisionRow[] = [...FACT_ROWS, ...WAIT_ROWS, ...REST_ROWS];

export interface Decided {
  readonly verdict: Verdict;
  /** What decided. */
  readonly rule: DecisionRule;
}

/**
 * The decision on one weak point of one vehicle, by itself: facts, then how long it may wait, then the rest; the first
 * row that holds decides.
 */
export function decide(facts: DecisionFacts): Decided {
  const { rule, verdict } = OWN_ROWS.find(({ when }) => when(facts))!;
  return { rule, verdict };
}

/** Tells whether a decision gives way to a job that takes the part along. */
export const givesWay = ({ verdict }: Decided): boolean => verdict !== 'hold' && verdict !== 'renew';
