import { minutesText } from '../units/minutes.ts';
import type { Consequence, RideFact, VerdictFacts, VerdictRule } from './verdict.ts';

/** Consequences in a mechanic's words. */
export const CONSEQUENCE_WORDS: Readonly<Record<Consequence, string>> = {
  engine: 'the engine is destroyed or must be opened',
  stranded: 'it stops on the road',
  damage: 'it harms the part beside it',
  leak: 'it leaks',
  drivability: 'it runs badly',
  emissions: 'it fails the emissions test',
  cosmetic: 'it leaves a stain',
};

/** The same as a label, where there is no sentence around it. */
export const CONSEQUENCE_LABELS: Readonly<Record<Consequence, string>> = {
  engine: 'engine lost',
  stranded: 'stops on the road',
  damage: 'harms its neighbour',
  leak: 'leaks',
  drivability: 'runs badly',
  emissions: 'fails the emissions test',
  cosmetic: 'ugly only',
};

/**
 * A chance in [0, 1] as a percentage of two digits, at most one of them behind the point, that is never 0 or 100.
 * `beyond` is `under` or `over` where the chance lies beyond the percentage. Example: 0.0004 is under 0.1.
 */
export function chanceShown(chance: number): { readonly percent: number; readonly beyond: 'under' | 'over' | null } {
  if (chance < 0.001) return { percent: 0.1, beyond: 'under' };
  if (chance >= 0.995) return { percent: 99, beyond: 'over' };
  const percent = chance < 0.0995 ? Math.round(chance * 1000) / 10 : Math.round(chance * 100);
  return { percent, beyond: null };
}

/** A chance in the words of a sentence: `under 0.1 %`, `0.3 %`, `12 %`, `over 99 %`. */
export function chanceWords(chance: number): string {
  const { percent, beyond } = chanceShown(chance);
  return `${beyond === null ? '' : `${beyond} `}${percent} %`;
}

/** The figures of a row in words. */
interface Said {
  readonly chance: string;
  readonly limit: string;
  /** Consequence of its failure. */
  readonly then: string;
  /** Words that no renewal is proven, and the chance in that case. */
  readonly unproven: string;
  /** The job that it goes along with. */
  readonly ride: RideFact | null;
}

const REASONS: Readonly<Record<VerdictRule, (said: Said) => string>> = {
  does_not_apply: () => 'It does not apply to this engine.',
  failed_and_grave: () => 'It has failed here; no renewal recorded after that.',
  failed: () => 'It has failed here; no renewal recorded after that.',
  worn_and_grave: ({ then }) => `It is worn. If it fails, ${then}.`,
  worn: () => 'Worn at the last look, and not renewed since.',
  watched_look: ({ chance }) =>
    `${chance} before the next service. Nobody renews it before it fails; a look tells more.`,
  watched: () => 'Nobody renews it before it fails: the driver keeps an eye on it.',
  revised_part: () => 'The revised part is fitted; it ends this weak point.',
  too_likely_to_drive: ({ chance, then }) => `${chance} before the next service. If it fails, ${then}.`,
  no_proof_look: ({ unproven }) => `${unproven} A look settles it.`,
  no_proof_customary: ({ unproven }) => unproven,
  no_proof_listen: ({ unproven }) => `${unproven} Look before anybody opens it.`,
  no_proof: ({ unproven }) => `${unproven} It cannot be looked at.`,
  safety_look: ({ chance, limit }) => `Safety item: ${chance} before the next service is over ${limit}. Look at it.`,
  safety_never_waits: ({ chance, limit }) =>
    `Safety item: ${chance} before the next service is over ${limit}, and no look would settle it.`,
  over_limit_warns: ({ chance, limit }) =>
    `${chance} before the next service is over ${limit}; a look finds it in time.`,
  over_limit_beyond_a_look: ({ chance, limit }) =>
    `${chance} before the next service is over ${limit}; even a good look would leave it over.`,
  over_limit: ({ chance, limit }) => `${chance} before the next service is over ${limit}. It gives no early sign.`,
  school_renews: ({ chance }) => `${chance} before the next service; the school used here renews it by then.`,
  school_looks: ({ chance }) => `${chance} before the next service; the school used here looks at it by then.`,
  school_beyond_a_look: ({ chance }) => `${chance} before the next service: more than even a good look would settle.`,
  would_have_shown: () => 'An engine that has this fault would have shown it by now.',
  crosses_soon_warns: ({ chance, limit }) =>
    `${chance} now; it will go above ${limit} before the next service. A look at that visit settles it.`,
  crosses_soon: ({ chance, limit }) => `${chance} now; it will go above ${limit} before the next service.`,
  safety_watched: ({ chance }) => `Safety item: look at it at every service; ${chance} before the next one.`,
  rides_along: ({ ride }) => alongWords(ride!),
  near_limit_deep: ({ chance, limit }) => `${chance}, near ${limit}, but hard to reach: do it with other work there.`,
  near_limit: ({ chance, limit }) => `${chance}, near ${limit}: look at it at the next visit.`,
  below_limit: ({ chance, limit }) => `${chance} before the next service, under ${limit}.`,
};

const alongWords = ({ title, minutes, alone }: RideFact): string =>
  `“${title}” lays it open: ${minutesText(minutes)} more then, ${minutesText(alone)} by itself, and its own time would come first.`;

/** Below this chance that it is the first one nobody would believe it. */
const HARDLY_FIRST = 0.01;

/** The reason of a verdict in one line, from the rule that decided and the figures it used. */
export const reasonWords = (rule: VerdictRule, facts: VerdictFacts): string =>
  REASONS[rule]({
    chance: chanceWords(facts.chance),
    limit: facts.limit === Infinity ? 'no limit' : `the workshop’s limit of ${chanceWords(facts.limit)}`,
    then: CONSEQUENCE_WORDS[facts.consequence],
    ride: facts.ridesWith,
    unproven:
      facts.firstChance < HARDLY_FIRST
        ? 'Not known how old the part in there is: no renewal recorded.'
        : `Nobody can show that it was renewed; if it is the first one, ${chanceWords(facts.chanceIfFirst)} before the next service.`,
  });

const RECORD_OF_RENEWAL = 'A record of its renewal.';
const RENEWED_OR_SOUND = 'Renewing it, or a second look that finds it sound.';
const PROOF = 'A record of when it was last renewed.';
const OTHER_SCHOOL = 'Following another school for this consequence, in the settings; or a renewal.';
const CLEAN_LOOK = 'A good look lowers the chance; if it is worn, renew it.';

/** Events that would change a verdict; null if only the chance and the records decide it. */
const CHANGES: Readonly<Record<VerdictRule, string | null>> = {
  does_not_apply: 'Finding that it is another engine after all.',
  failed_and_grave: RECORD_OF_RENEWAL,
  failed: RECORD_OF_RENEWAL,
  worn_and_grave: RENEWED_OR_SOUND,
  worn: RENEWED_OR_SOUND,
  watched_look: CLEAN_LOOK,
  watched: 'A failure, or a look that finds more.',
  revised_part: 'Finding the old part fitted after all.',
  too_likely_to_drive: null,
  no_proof_look: 'A record of when it was last renewed, or a good look.',
  no_proof_customary: PROOF,
  no_proof_listen: PROOF,
  no_proof: PROOF,
  safety_look: CLEAN_LOOK,
  safety_never_waits: null,
  over_limit_warns: CLEAN_LOOK,
  over_limit_beyond_a_look: null,
  over_limit: null,
  school_renews: OTHER_SCHOOL,
  school_looks: OTHER_SCHOOL,
  school_beyond_a_look: null,
  would_have_shown: 'A renewal with the unrevised part, or first signs of it.',
  crosses_soon_warns: CLEAN_LOOK,
  crosses_soon: null,
  safety_watched: null,
  rides_along: 'Leaving that job, or a record that it was renewed of late.',
  near_limit_deep: null,
  near_limit: CLEAN_LOOK,
  below_limit: null,
};

/** One line about the event that would change the verdict. */
export function wouldChangeWords(
  rule: VerdictRule,
  facts: VerdictFacts,
  historyOpen: boolean,
  settle: string | null,
): string {
  if (settle !== null) return `To be sure, find out: ${settle}.`;
  const change = CHANGES[rule];
  if (change !== null) return change;
  if (historyOpen) return 'A record of when it was last renewed.';
  return facts.chance >= facts.limit
    ? 'Renewing it; the clock starts again.'
    : 'More distance and age, harder use, or a worn finding.';
}
