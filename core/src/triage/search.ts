import { closureOf, type Operation } from '../access/access.ts';
import { forbiddenWith, isAllowed, type EngineState, type Forbiddable, type NeedsFact } from '../look/needs.ts';
import { triageNext, triageOutcomes, triageStanding, type TriageQuestion, type TriageStanding } from './triage.ts';

/** A search for the cause of what is reported: what may explain it, what can be checked, and what was said so far. */
export interface TriageSearch {
  readonly explanations: readonly {
    readonly weakPointId: string;
    readonly title: string;
    readonly risk: number;
    /** What the suspicion of it forbids: a belt that may have jumped is not cranked. */
    readonly forbids: readonly Forbiddable[];
  }[];
  readonly unlistedOdds: number;
  readonly checks: readonly {
    /** Key of its answer; a symptom is `symptom:` and its id. */
    readonly about: string;
    readonly minutes: number;
    /** Operations, by key, that must be off. */
    readonly off: readonly string[];
    /** Frequency of a yes under each explanation, in their order; the unlisted one is last. */
    readonly shows: readonly number[];
    readonly needs: NeedsFact;
    /** Symptoms, by id, with which it comes first, whatever it tells: it finds a leak of fuel, a fire, a brake. */
    readonly firstFor: readonly string[];
  }[];
  readonly operations: Readonly<Record<string, Operation>>;
  readonly reports: readonly { readonly symptomId: string | null; readonly forbids: readonly Forbiddable[] }[];
  readonly answers: readonly {
    readonly about: string;
    readonly said: boolean;
    /** A look on file says so: what was off for it is on again. */
    readonly isOnFile?: boolean;
  }[];
}

/** One explanation with how likely it was before anything was reported, and is now. */
export interface Weighed {
  /** Null: something that is not listed. */
  readonly weakPointId: string | null;
  readonly title: string;
  readonly prior: number;
  readonly chance: number;
}

/** A check that may be made next, with what each answer would leave. */
export interface NextCheck {
  readonly about: string;
  readonly bits: number;
  /** Minutes it adds to what is off already. */
  readonly minutes: number;
  readonly bitsPerMinute: number;
  /** It comes before all others with what is reported, whatever it tells. */
  readonly isFirst: boolean;
  /** The explanation that would lead after yes and after no, with its chance. */
  readonly yes: Weighed;
  readonly no: Weighed;
}

/** State of a search, as the screen shows it. */
export interface SearchStanding {
  readonly explanations: readonly Weighed[];
  readonly next: readonly NextCheck[];
  readonly standing: TriageStanding;
  /** What is forbidden on this vehicle now. */
  readonly forbidden: readonly Forbiddable[];
  /** What the checks that are left out for it need, one entry for each. */
  readonly leftOut: readonly EngineState[];
}

/** A cause that is at least so likely forbids what would harm it: one in twenty is not worth an engine. */
const SUSPECTED = 0.05;

/** Checks that are laid out with what their answers would do; the others tell less for their minutes. */
const SHOWN_CHECKS = 6;
/** A check that is expected to tell less is not laid out. */
const LEAST_OFFERED_BITS = 0.005;

/**
 * Answers of the checks: a reported symptom counts as a yes, and the last answer to each check
 * counts.
 */
function answersOf({ checks, reports, answers }: TriageSearch): Map<number, boolean> {
  const at = new Map(checks.map(({ about }, i) => [about, i]));
  const byCheck = new Map<number, boolean>();
  for (const { symptomId } of reports) {
    const check = at.get(`symptom:${symptomId}`);
    if (symptomId !== null && check !== undefined) byCheck.set(check, true);
  }
  for (const { about, said: yes } of answers) {
    const check = at.get(about);
    if (check !== undefined) byCheck.set(check, yes);
  }
  return byCheck;
}

/** What reports and suspects forbid on this vehicle. */
function forbiddenIn({ reports, explanations }: TriageSearch, posterior: readonly number[]): ReadonlySet<Forbiddable> {
  return forbiddenWith([
    ...reports.flatMap(({ forbids }) => forbids),
    ...explanations.flatMap(({ forbids }, i) => (posterior[i]! >= SUSPECTED ? forbids : [])),
  ]);
}

/**
 * A search reckoned on from what is reported and answered: explanations, likeliest first, and the checks that tell the
 * most for the minutes they add to what is off already. Before information comes harm: a check that a report or a
 * suspect forbids is never offered, and one that finds a leak, a fire or a brake comes first. Throws RangeError as the
 * parts do.
 */
export function searchOn(asked: TriageSearch): SearchStanding {
  const operations = new Map(Object.entries(asked.operations));
  const answers = answersOf(asked);
  const onFile = new Set(asked.answers.filter(({ isOnFile }) => isOnFile === true).map(({ about }) => about));
  const off = new Set(
    [...answers.keys()].flatMap((check) => {
      const { about, off: keys } = asked.checks[check]!;
      return onFile.has(about) ? [] : closureOf(operations, keys);
    }),
  );
  const minutes = asked.checks.map(
    (check) =>
      check.minutes +
      closureOf(operations, check.off)
        .filter((key) => !off.has(key))
        .reduce((sum, key) => sum + operations.get(key)!.minutes, 0),
  );
  const question: TriageQuestion = {
    risks: asked.explanations.map(({ risk }) => risk),
    unlistedOdds: asked.unlistedOdds,
    shows: [...asked.explanations, null].map((_, row) => asked.checks.map(({ shows }) => shows[row]!)),
    minutes,
    answers,
  };
  const state = triageNext(question);
  const weighed = (chances: readonly number[]): Weighed[] =>
    chances
      .map((chance, i) => ({
        weakPointId: asked.explanations[i]?.weakPointId ?? null,
        title: asked.explanations[i]?.title ?? 'Something not listed',
        prior: state.prior[i]!,
        chance,
      }))
      .sort((a, b) => b.chance - a.chance);
  const forbidden = forbiddenIn(asked, state.posterior);
  const allowed = asked.checks.map(({ needs }) => isAllowed(needs, forbidden));
  const reported = new Set(asked.reports.map(({ symptomId }) => symptomId));
  const comesFirst = asked.checks.map(
    ({ firstFor }, check) => !answers.has(check) && firstFor.some((symptom) => reported.has(symptom)),
  );
  const perMinute = (check: number): number => state.gainsBits[check]! / Math.max(0.5, minutes[check]!);
  const next = asked.checks
    .map((_, check) => check)
    .filter((check) => allowed[check] && (comesFirst[check] || state.gainsBits[check]! > LEAST_OFFERED_BITS))
    .sort((a, b) => Number(comesFirst[b]) - Number(comesFirst[a]) || perMinute(b) - perMinute(a))
    .slice(0, SHOWN_CHECKS)
    .map((check): NextCheck => {
      const outcomes = triageOutcomes(question, check);
      return {
        about: asked.checks[check]!.about,
        bits: state.gainsBits[check]!,
        minutes: minutes[check]!,
        bitsPerMinute: perMinute(check),
        isFirst: comesFirst[check]!,
        yes: weighed(outcomes.yes)[0]!,
        no: weighed(outcomes.no)[0]!,
      };
    });
  const gainsBits = state.gainsBits.map((gain, check) => (allowed[check] ? gain : 0));
  return {
    explanations: weighed(state.posterior),
    next,
    standing: triageStanding({ ...state, gainsBits }),
    forbidden: [...forbidden],
    leftOut: asked.checks.flatMap(({ needs }, check) =>
      !allowed[check] && state.gainsBits[check]! > LEAST_OFFERED_BITS ? [needs.engine] : [],
    ),
  };
}
