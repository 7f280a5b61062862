import { minutesText } from '../units/minutes.ts';
import type { DecisionFacts, RideFact } from './facts.ts';
import type { Consequence, DecisionRule } from './kinds.ts';

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
  damage: 'damages other parts',
  leak: 'leaks',
  drivability: 'runs badly',
  emissions: 'fails the emissions test',
  cosmetic: 'cosmetic',
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
  /** Words that a look was good, where one is on file and was not enough. */
  readonly good: string;
  /** Words that a look is told but would not settle it, or that none is told. */
  readonly noLook: string;
  /** Those who ask for it by now, in brackets. */
  readonly since: string;
  /** No record says what is in there. */
  readonly isOpen: boolean;
  /** A new part is much less likely to fail before the next service. */
  readonly helps: () => boolean;
  /** The notice that asks for something. */
  readonly notice: string;
  /** The job that it goes along with. */
  readonly ride: RideFact | null;
}

const FAILED = 'It has failed here; no renewal recorded after that.';

const REASONS: Readonly<Record<DecisionRule, (said: Said) => string>> = {
  failed_and_grave: () => FAILED,
  stain: () => 'It only leaves a stain: nobody opens it for that.',
  failed: () => FAILED,
  worn_and_grave: ({ then }) => `It is worn and may not last until it is brought in. If it fails, ${then}.`,
  worn: () => 'Worn at the last look, and not renewed since.',
  watched_look: ({ chance }) =>
    `${chance} before the next service. Nobody renews it before it fails; a look tells more.`,
  watched: () => 'Nobody renews it before it fails: the driver keeps an eye on it.',
  watched_left: ({ chance }) => `Nobody renews it before it fails; ${chance} before the next service.`,
  revised_part: () => 'The revised part is fitted; it ends this weak point.',
  too_likely_to_drive: ({ chance, then }) => `${chance} before the next service. If it fails, ${then}.`,
  customary: ({ since, chance }) => `Its customary interval has passed${since}; ${chance} before the next service.`,
  customary_condition: ({ since }) => `Its customary interval has passed${since}. A look settles it.`,
  no_proof_look: ({ unproven }) => `${unproven} A look settles it.`,
  no_proof_customary: ({ unproven, good, since }) =>
    `${unproven}${since === '' ? '' : ` Its interval has passed${since}.`}${good}`,
  no_proof_listen: ({ unproven }) => `${unproven} Look before anybody opens it.`,
  no_proof: ({ unproven, noLook }) => `${unproven} ${noLook}`,
  notice_renews: ({ notice, chance }) =>
    `${notice} asks for a new part, and none is recorded since; ${chance} before the next service.`,
  notice_looks: ({ notice, chance }) =>
    `${notice} asks for a look, and none is recorded since; ${chance} before the next service.`,
  looked_at: ({ chance }) => `It was good at the last look; ${chance} before the next service. Look again by then.`,
  safety_look: ({ chance, limit }) => `Safety item: ${chance} before the next service is over ${limit}. Look at it.`,
  safety_never_waits: ({ chance, limit }) =>
    `Safety item: ${chance} before the next service is over ${limit}, and no look would settle it.`,
  over_limit_warns: ({ chance, limit }) =>
    `${chance} before the next service is over ${limit}. Look before it is renewed.`,
  over_limit_beyond_a_look: ({ chance, limit }) =>
    `${chance} before the next service is over ${limit}; even a good look would leave it over.`,
  over_limit: ({ chance, limit, noLook }) => `${chance} before the next service is over ${limit}. ${noLook}`,
  no_better: ({ chance, limit }) =>
    `${chance} before the next service is over ${limit}, but a new part would be hardly any safer.`,
  left_until_it_fails: ({ chance }) =>
    `${chance} before the next service. Renewing it in advance costs more than waiting for it.`,
  school_renews: ({ chance }) => `${chance} before the next service; the school used here asks for its renewal.`,
  school_looks: ({ chance }) => `${chance} before the next service; the school used here asks for a look.`,
  school_beyond_a_look: ({ chance }) => `${chance} before the next service: more than even a good look would settle.`,
  interval_look: ({ chance }) => `A look is due by its interval; ${chance} before the next service.`,
  customary_look: ({ since, chance, isOpen }) =>
    `${since === '' ? 'Half of such parts have failed by now' : `Its customary interval has passed${since}`}` +
    `${isOpen ? ', and no renewal is recorded' : ''}: look at it. ${chance} before the next service.`,
  customary_unseen: ({ since, chance }) =>
    `${since === '' ? 'Half of such parts have failed by now' : `Its customary interval has passed${since}`}, ` +
    `and it cannot be looked at: ${chance} before the next service.`,
  customary_left: ({ since, chance, helps }) =>
    `${since === '' ? 'Half of such parts have failed by now' : `Its customary interval has passed${since}`}, ` +
    `but ${helps() ? 'renewing it in advance costs more than waiting for it' : 'a new part would be hardly any safer'}: ` +
    `${chance} before the next service.`,
  rides_along: ({ ride }) => alongWords(ride!),
  would_have_shown: () => 'An engine that has this fault would have shown it by now.',
  safety_watched: ({ chance }) => `Safety item: look at it at every service; ${chance} before the next one.`,
  near_limit: ({ chance, limit }) =>
    `${chance} before the next service, more than a third of ${limit}: look at it at the next visit.`,
  below_limit: ({ chance, limit }) => `${chance} before the next service, under ${limit}.`,
};

/** A name within a sentence; one that begins with an abbreviation stays as it is. */
const inSentence = (name: string): string =>
  /^[A-Z][a-z]/.test(name) ? `${name.charAt(0).toLowerCase()}${name.slice(1)}` : name;

const ALONG: Readonly<Record<RideFact['because'], (ride: RideFact) => string>> = {
  same_part: ({ title }) => `“${title}” renews this very part.`,
  named: ({ title, minutes, alone }) =>
    `Goes in new with the ${inSentence(title)}: ${minutesText(minutes)} more then, ${minutesText(alone)} by itself.`,
  cheaper: ({ title, minutes, alone }) =>
    `Renewing the ${inSentence(title)} opens it: ${minutesText(minutes)} more then, ${minutesText(alone)} by itself. ` +
    'That costs less than waiting.',
};
const alongWords = (ride: RideFact): string => ALONG[ride.because](ride);

/** Below this chance that it is the first one nobody would believe it. */
const HARDLY_FIRST = 0.01;

const unprovenWords = ({ firstChance, chanceIfFirst, noProof }: DecisionFacts): string =>
  firstChance < HARDLY_FIRST || !noProof
    ? 'Not known how old the part in there is: no renewal recorded.'
    : `Nobody can show that it was renewed; if it is the first one, ${chanceWords(chanceIfFirst)} before the next service.`;

/** Who asks for the interval that has passed, in brackets. */
const sinceWords = ({ customPassed, customBy }: DecisionFacts): string =>
  !customPassed || customBy().length === 0 ? '' : ` (${customBy().join(', ')})`;

/** Below this a suspicion is not worth a word. */
const SAID_FROM = 0.05;

/** What the open complaints make of it. */
const suspectWords = ({ suspicion, hasFailed }: DecisionFacts): string =>
  suspicion < SAID_FROM || hasFailed ? '' : `A complaint is open: ${chanceWords(suspicion)} that this is its cause. `;

/** What a failed neighbour does to it. */
const harmWords = ({ harmedBy, hasFailed }: DecisionFacts): string =>
  harmedBy.length === 0 || hasFailed ? '' : ` “${harmedBy.join('”, “')}” may have harmed it.`;

/** The reason of a decision in one line, from the rule that decided and the facts it used. */
export const reasonWords = (rule: DecisionRule, facts: DecisionFacts): string =>
  `${suspectWords(facts)}${ruleWords(rule, facts)}${harmWords(facts)}`;

const ruleWords = (rule: DecisionRule, facts: DecisionFacts): string =>
  REASONS[rule]({
    chance: chanceWords(facts.chance),
    limit: facts.classLimit === Infinity ? 'no limit' : `the workshop’s limit of ${chanceWords(facts.classLimit)}`,
    then: CONSEQUENCE_WORDS[facts.consequence],
    notice: facts.notice?.by ?? '',
    ride: facts.ridesWith,
    unproven: unprovenWords(facts),
    good:
      facts.look?.isOnFile === true
        ? ` The last look was good, but such a look finds only ${chanceWords(facts.look.detection)}.`
        : '',
    noLook: facts.look === null ? 'No look is told for it.' : 'A look takes more off than its renewal.',
    since: sinceWords(facts),
    isOpen: facts.isOpen,
    helps: facts.helps,
  });

const RECORD_OF_RENEWAL = 'A record of its renewal.';
const RENEWED_OR_SOUND = 'Renewing it, or a second look that finds it sound.';
const PROOF = 'A record of when it was last renewed.';
const OTHER_SCHOOL = 'Following another school for this consequence, in the settings; or a renewal.';
const CLEAN_LOOK = 'A good look lowers the chance; if it is worn, renew it.';

/** Events that would change a decision; null if only the chance and the records decide it. */
const CHANGES: Readonly<Record<DecisionRule, string | null>> = {
  failed_and_grave: RECORD_OF_RENEWAL,
  stain: null,
  failed: RECORD_OF_RENEWAL,
  worn_and_grave: RENEWED_OR_SOUND,
  worn: RENEWED_OR_SOUND,
  watched_look: CLEAN_LOOK,
  watched: 'A failure, or a look that finds more.',
  watched_left: 'A failure, or a look that finds more.',
  revised_part: 'Finding the old part fitted after all.',
  too_likely_to_drive: null,
  customary: RECORD_OF_RENEWAL,
  customary_condition: CLEAN_LOOK,
  notice_renews: RECORD_OF_RENEWAL,
  no_proof_look: 'A record of when it was last renewed, or a good look.',
  no_proof_customary: PROOF,
  no_proof_listen: 'A record of when it was last renewed, or a good look.',
  no_proof: PROOF,
  looked_at: CLEAN_LOOK,
  safety_look: CLEAN_LOOK,
  safety_never_waits: null,
  over_limit_warns: CLEAN_LOOK,
  over_limit_beyond_a_look: null,
  over_limit: null,
  no_better: 'A look that finds it worn, or first signs of it.',
  left_until_it_fails: 'A failure; or first signs of it.',
  school_renews: OTHER_SCHOOL,
  school_looks: OTHER_SCHOOL,
  school_beyond_a_look: null,
  notice_looks: CLEAN_LOOK,
  interval_look: CLEAN_LOOK,
  customary_look: 'A record of when it was last renewed, or a good look.',
  customary_unseen: RECORD_OF_RENEWAL,
  customary_left: 'A failure; or first signs of it.',
  rides_along: 'Cancel that job, or enter its renewal.',
  would_have_shown: 'A renewal with the unrevised part, or first signs of it.',
  safety_watched: CLEAN_LOOK,
  near_limit: CLEAN_LOOK,
  below_limit: null,
};

/** One line about the event that would change the decision. */
export function wouldChangeWords(
  rule: DecisionRule,
  facts: DecisionFacts,
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
