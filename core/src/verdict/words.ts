import type { Consequence, VerdictFacts } from './verdict.ts';

/** What happens, in a mechanic's words. */
export const CONSEQUENCE_WORDS: Readonly<Record<Consequence, string>> = {
  engine: 'the engine is lost or opened up',
  stranded: 'it stops on the road',
  damage: 'it harms the part beside it',
  leak: 'a leak',
  drivability: 'it runs badly',
  emissions: 'a failed emissions test',
  cosmetic: 'an ugly stain',
};

/** A chance as people say it: `under 1 in 1000`, `3 in 1000`, `12 in 100`. */
export function chanceWords(chance: number): string {
  if (chance < 0.001) return 'under 1 in 1000';
  if (chance < 0.0095) return `${Math.round(chance * 1000)} in 1000`;
  return chance > 0.995 ? 'almost certain' : `${Math.round(chance * 100)} in 100`;
}

/** The reason of a verdict in one line, from the rule that decided and the figures it used. */
export function reasonWords(rule: string, facts: VerdictFacts): string {
  const chance = chanceWords(facts.chance);
  const limit = facts.limit === Infinity ? 'no limit' : `the shop's limit of ${chanceWords(facts.limit)}`;
  switch (rule) {
    case 'failed_and_grave':
    case 'failed':
      return 'It has failed here and no renewal is on record since.';
    case 'worn_and_grave':
      return `Found worn, and when it goes ${CONSEQUENCE_WORDS[facts.consequence]}.`;
    case 'worn':
      return 'Found worn at the last look and not renewed since.';
    case 'revised_part':
      return 'The revised part is fitted; it ends this weak point.';
    case 'too_likely_to_drive':
      return `${chance} before the next service, and then ${CONSEQUENCE_WORDS[facts.consequence]}.`;
    case 'safety_never_waits':
      return `A safety item: ${chance} before the next service is over ${limit}, and it gives no warning in time.`;
    case 'over_limit_warns':
      return `${chance} before the next service is over ${limit}; it shows itself long enough to be caught by looking.`;
    case 'over_limit_beyond_a_look':
      return `${chance} before the next service is over ${limit}; even a clean look would not bring it under.`;
    case 'over_limit':
      return `${chance} before the next service is over ${limit}, and it does not warn in time.`;
    case 'school_renews':
      return `${chance} before the next service; the school this shop follows here renews it by then.`;
    case 'school_looks':
      return `${chance} before the next service; the school this shop follows here looks at it by then.`;
    case 'school_beyond_a_look':
      return `${chance} before the next service: more than even a clean look would settle.`;
    case 'would_have_shown':
      return 'An engine that has this fault would have shown it by now.';
    case 'crosses_soon_warns':
      return `${chance} now; it crosses ${limit} before the next service. A look at that visit settles it.`;
    case 'crosses_soon':
      return `${chance} now; it crosses ${limit} before the next service.`;
    case 'near_limit_deep':
      return `${chance}, near ${limit}, but deep inside: worth doing when the access is open anyway.`;
    case 'near_limit':
      return `${chance}, near ${limit}: look at it at the next visit.`;
    case 'safety_watched':
      return `A safety item stays watched, even at ${chance} before the next service.`;
    default:
      return `${chance} before the next service, under ${limit}.`;
  }
}

/** What would change the verdict, in one line. */
export function wouldChangeWords(
  rule: string,
  facts: VerdictFacts,
  historyOpen: boolean,
  settle: string | null,
): string {
  if (settle !== null) return `Knowing this: ${settle}.`;
  switch (rule) {
    case 'failed_and_grave':
    case 'failed':
      return 'A record of its renewal.';
    case 'worn_and_grave':
    case 'worn':
      return 'Renewing it, or a second look that finds it sound.';
    case 'revised_part':
      return 'Finding the old part fitted after all.';
    case 'school_renews':
    case 'school_looks':
      return 'Following another school for this consequence, in the settings; or a renewal.';
    case 'would_have_shown':
      return 'A renewal with the unrevised part, or first signs of it.';
    case 'over_limit_warns':
    case 'crosses_soon_warns':
    case 'near_limit':
      return 'A clean look lowers the chance; a worn finding makes it a renewal.';
    default:
      if (historyOpen) return 'A record of when it was last renewed.';
      return facts.chance >= facts.limit
        ? 'Renewing it; the clock starts again.'
        : 'More distance and age, harder use, or a worn finding.';
  }
}
