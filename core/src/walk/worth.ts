/** Facts of one look, beside the chance that it finds something. */
export interface LookWorthFacts {
  /** Chance that it fails before the next service. */
  readonly chance: number;
  /** Chance that the look sees it coming. */
  readonly detection: number;
  readonly falseAlarm: number;
  /** Cost of a failure beyond the planned renewal, and of the renewal itself; any one money. */
  readonly failureCost: number;
  readonly renewalCost: number;
  /** True if a decision depends on the result of the look. */
  readonly decides: boolean;
}

const plogp = (p: number): number => (p > 0 ? -p * Math.log2(p) : 0);
const entropy = (p: number): number => plogp(p) + plogp(1 - p);

/**
 * Bits that a look is expected to tell about whether it fails before the next service: the mutual information of the
 * finding and the failure, H(found) - H(found | fails or not) (Shannon 1948).
 */
export function lookBits({
  chance,
  detection,
  falseAlarm,
}: Pick<LookWorthFacts, 'chance' | 'detection' | 'falseAlarm'>): number {
  const found = chance * detection + (1 - chance) * falseAlarm;
  return Math.max(0, entropy(found) - chance * entropy(detection) - (1 - chance) * entropy(falseAlarm));
}

/**
 * Worth of a look: the expected cost that it saves, which is the chance that it foresees a failure
 * times the cost of the failure beyond a planned renewal. If a decision depends on it, its worth is
 * at least its information in bits times the price of the renewal in question. This rule is our
 * own: a look that settles an expensive job is kept even if the job itself would be no disaster.
 */
export function lookWorth(facts: LookWorthFacts): number {
  const saved = facts.chance * facts.detection * facts.failureCost;
  return facts.decides ? Math.max(saved, lookBits(facts) * facts.renewalCost) : saved;
}
