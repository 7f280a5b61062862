/** What is known of one look, beside the chance that it may find something. */
export interface LookWorthFacts {
  /** Chance that it fails before the next service. */
  readonly chance: number;
  /** Chance that the look sees it coming. */
  readonly detection: number;
  readonly falseAlarm: number;
  /** What a failure costs beyond the planned renewal, and the renewal itself; any one money. */
  readonly failureCost: number;
  readonly renewalCost: number;
  /** Whether what is to be done hangs on what the look finds. */
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
 * What a look is worth: the cost that it is expected to save, which is the chance that it sees coming what fails times
 * what a failure costs more than a planned renewal. Where a decision hangs on it, at least the bits that it tells
 * times the price of the renewal that is decided on: a rule of ours, so that a look that settles an expensive job is
 * not left out because the job itself would be no disaster.
 */
export function lookWorth(facts: LookWorthFacts): number {
  const saved = facts.chance * facts.detection * facts.failureCost;
  return facts.decides ? Math.max(saved, lookBits(facts) * facts.renewalCost) : saved;
}
