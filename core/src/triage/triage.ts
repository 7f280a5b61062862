/** A check is never reckoned quicker than this: putting a hand there takes it. */
const LEAST_MINUTES = 0.5;

/** How near a chance may come to never and to always, where nobody says otherwise. */
export const TRIAGE_EPSILON = 1e-4;

/**
 * Failures that a library does not list, for each one that it lists. It is a view of the trade, not
 * a measurement.
 */
const UNLISTED_FOR_LISTED = 0.3;
/** Odds of something not listed are never lower, however little is likely to have failed. */
const LEAST_UNLISTED_ODDS = 1e-3;

/** Odds of something that is not listed, against which explanations of these risks are held. */
export const unlistedOddsBeside = (risks: readonly number[]): number =>
  Math.max(LEAST_UNLISTED_ODDS, UNLISTED_FOR_LISTED * risks.reduce((sum, risk) => sum + risk / (1 - risk), 0));

/** Question of a search: it seeks one explanation among those listed and one that is not listed. */
export interface TriageQuestion {
  /** Chance of each listed explanation since the vehicle was last known good. */
  readonly risks: readonly number[];
  /** Odds of something that is not listed. */
  readonly unlistedOdds: number;
  /**
   * Frequency of a yes of each check under each explanation; one row more than there are risks, for
   * the unlisted one.
   */
  readonly shows: readonly (readonly number[])[];
  /** Minutes that each check adds to what is off already. */
  readonly minutes: readonly number[];
  /** Answers of the checks, by their place. */
  readonly answers: ReadonlyMap<number, boolean>;
  readonly epsilon?: number;
}

/** Explanations in the order of the question, what is not listed last. */
export interface TriageState {
  readonly prior: readonly number[];
  readonly posterior: readonly number[];
  readonly entropyBits: number;
  /** Expected information of each check in bits; 0 for those answered. */
  readonly gainsBits: readonly number[];
  /** The check that tells the most for its minutes; null where none is left that tells anything. */
  readonly best: number | null;
  readonly bestBitsPerMinute: number;
}

const kept = (chance: number, epsilon: number): number => Math.min(1 - epsilon, Math.max(epsilon, chance));

const normalised = (weights: readonly number[]): number[] => {
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  return weights.map((weight) => weight / all);
};

/** Bits that one answer of chance `p` tells where `q` was expected: p log2(p/q) + (1-p) log2((1-p)/(1-q)). */
const divergence = (p: number, q: number): number => p * Math.log2(p / q) + (1 - p) * Math.log2((1 - p) / (1 - q));

/** Throws RangeError naming the field where the parts of a question do not fit together. */
function mustFit({ risks, unlistedOdds, shows, minutes, answers }: TriageQuestion): void {
  if (risks.some((risk) => !(risk >= 0 && risk < 1))) throw new RangeError('risks must be at least 0 and under 1');
  if (!(unlistedOdds > 0)) throw new RangeError('unlistedOdds must be positive');
  if (shows.length !== risks.length + 1)
    throw new RangeError('shows needs one row for each risk, and one for the rest');
  if (shows.some((row) => row.length !== minutes.length))
    throw new RangeError('shows needs one chance for each check in every row');
  if (shows.some((row) => row.some((chance) => !(chance >= 0 && chance <= 1))))
    throw new RangeError('shows must be chances between 0 and 1');
  if (minutes.some((of) => !(of >= 0))) throw new RangeError('minutes must not be negative');
  for (const check of answers.keys())
    if (minutes[check] === undefined) throw new RangeError(`answers: there is no check ${check}`);
}

/**
 * Ranks the explanations after the answers, and finds the check with the most information for its
 * minutes. Bayes' rule with a single explanation: prior odds risk / (1 - risk) against those of the
 * unlisted one; chances are kept in [epsilon, 1 - epsilon]. The gain of a check is the expected
 * information of its answer about the explanation, the sum over explanations of posterior times
 * divergence (Lindley 1956). Throws RangeError naming the field.
 */
export function triageNext(question: TriageQuestion): TriageState {
  mustFit(question);
  const { risks, unlistedOdds, minutes, answers, epsilon = TRIAGE_EPSILON } = question;
  const shows = question.shows.map((row) => row.map((chance) => kept(chance, epsilon)));
  const prior = normalised([...risks.map((risk) => risk / (1 - risk)), unlistedOdds]);
  const posterior = normalised(
    prior.map((weight, i) => {
      let likely = weight;
      for (const [check, yes] of answers) likely *= yes ? shows[i]![check]! : 1 - shows[i]![check]!;
      return likely;
    }),
  );
  const gainsBits = minutes.map((_, check) => {
    if (answers.has(check)) return 0;
    const expected = posterior.reduce((sum, weight, i) => sum + weight * shows[i]![check]!, 0);
    const gain = posterior.reduce((sum, weight, i) => sum + weight * divergence(shows[i]![check]!, expected), 0);
    return Math.max(0, gain);
  });
  let best: number | null = null;
  let bestBitsPerMinute = 0;
  gainsBits.forEach((gain, check) => {
    const perMinute = gain / Math.max(LEAST_MINUTES, minutes[check]!);
    if (perMinute <= bestBitsPerMinute) return;
    best = check;
    bestBitsPerMinute = perMinute;
  });
  return {
    prior,
    posterior,
    entropyBits: posterior.reduce((sum, weight) => (weight > 0 ? sum - weight * Math.log2(weight) : sum), 0),
    gainsBits,
    best,
    bestBitsPerMinute,
  };
}

/** An explanation so likely is taken for the one. A setting of ours, not a law. */
export const KNOWN_ENOUGH = 0.9;

/** A check that is expected to tell less is not worth walking to. */
export const LEAST_TELLING_BITS = 0.02;

/**
 * State of a search: `known` names the one explanation, `unlisted` means that it is most likely
 * something not listed, `open` that a check is still informative, `stuck` that none left is.
 */
export type TriageStanding =
  { readonly stands: 'known'; readonly explanation: number } | { readonly stands: 'unlisted' | 'open' | 'stuck' };

/** Tells whether a search is complete, goes on, or has no check left. */
export function triageStanding({ posterior, gainsBits }: TriageState): TriageStanding {
  const unlisted = posterior.length - 1;
  const first = posterior.reduce((best, chance, i) => (chance > posterior[best]! ? i : best), 0);
  if (posterior[first]! >= KNOWN_ENOUGH)
    return first === unlisted ? { stands: 'unlisted' } : { stands: 'known', explanation: first };
  return { stands: gainsBits.some((gain) => gain >= LEAST_TELLING_BITS) ? 'open' : 'stuck' };
}

/** Explanations once a check has said no, and once it has said yes. */
export function triageOutcomes(
  question: TriageQuestion,
  check: number,
): { readonly yes: readonly number[]; readonly no: readonly number[] } {
  const after = (yes: boolean): readonly number[] =>
    triageNext({ ...question, answers: new Map([...question.answers, [check, yes]]) }).posterior;
  return { yes: after(true), no: after(false) };
}

/** Repairs that a told share weighs as much as, beside those that were counted here. */
const TOLD_WEIGHS = 10;

/**
 * Frequency of a symptom under a cause, from the library and from repairs of this workshop:
 * `proved` of those had the cause with the symptom, `refuted` looked for it because of the symptom
 * and found another. A beta prior worth ten repairs has the published frequency as its mean. The
 * result is between 0 and 1.
 */
export const showsHere = (
  told: number,
  { proved, refuted }: { readonly proved: number; readonly refuted: number },
): number => (told * TOLD_WEIGHS + proved) / (TOLD_WEIGHS + proved + refuted);
