import type { WireTriage } from '@crosspeen/contract';
import {
  forbidsWhile,
  STANDING_STILL,
  type Forbiddable,
  showsHere,
  unlistedOddsBeside,
  type WeakPointFact,
} from '@crosspeen/core';
import type { FamilyKnowledge } from '../../knowledge/family.ts';

/** How often a symptom shows under a cause that is not told to show so, and under one that nobody listed. */
const SHOWS_OTHERWISE = 0.02;
const SHOWS_UNLISTED = 0.1;
/** A check for something listed says yes so often when it is something else that nobody listed. */
const SAYS_UNLISTED = 0.05;
/** Minutes that asking takes. */
const ASKING_MINUTES = 1;
/** No chance is certain: a search could never leave what it had been sure of. */
const MOST_RISK = 0.999;

/** How repairs of this workshop ended where a symptom had been reported, by symptom and weak point key. */
export interface EndCount {
  readonly symptomId: string;
  readonly weakPointKey: string;
  readonly proved: number;
  readonly refuted: number;
}

export const countKey = (symptomId: string, weakPointKey: string): string => `${symptomId} ${weakPointKey}`;

export interface SymptomOut {
  readonly id: string;
  readonly key: string;
  readonly words: string;
  readonly codes: string[];
  readonly stop: string | null;
  readonly tells: string | null;
  readonly drive: string | null;
  readonly forbids: Forbiddable[];
}

/** What a search stands on: what is known of the engine, what may have failed, what is reported, how searches ended. */
export interface SearchGrounds {
  readonly knowledge: FamilyKnowledge;
  /** Chance of each weak point to have failed since the last good day, by id. */
  readonly risks: ReadonlyMap<string, number>;
  readonly symptoms: readonly SymptomOut[];
  /** Those that are reported. */
  readonly listed: readonly SymptomOut[];
  readonly counts: ReadonlyMap<string, Pick<EndCount, 'proved' | 'refuted'>>;
}

/** What a report of a symptom forbids. */
export const forbidsOf = ({ stop, forbids }: Pick<SymptomOut, 'stop' | 'forbids'>): Forbiddable[] => [
  ...forbidsWhile(forbids, stop),
];

type Check = WireTriage['checks'][number];

const factsOf = ({ knowledge, risks }: SearchGrounds): WeakPointFact[] =>
  knowledge.weakPoints.filter(({ id }) => risks.has(id));

/** Causes that are told to show something that is reported; the rest only share the blame. */
const candidatesOf = (grounds: SearchGrounds): WeakPointFact[] =>
  factsOf(grounds).filter((fact) =>
    fact.symptoms.some(({ symptom }) => grounds.listed.some(({ key }) => key === symptom)),
  );

const countOf = ({ counts }: SearchGrounds, symptomId: string, key: string): { proved: number; refuted: number } =>
  counts.get(countKey(symptomId, key)) ?? { proved: 0, refuted: 0 };

/** How often a symptom shows under each cause, and last under one that nobody listed. */
const showsSymptom = (grounds: SearchGrounds, symptom: SymptomOut): number[] => [
  ...factsOf(grounds).map((fact) => {
    const told = fact.symptoms.find((one) => one.symptom === symptom.key)?.shows ?? SHOWS_OTHERWISE;
    return showsHere(told, countOf(grounds, symptom.id, fact.key));
  }),
  SHOWS_UNLISTED,
];

const asking = (grounds: SearchGrounds, symptom: SymptomOut, more: string | null): Check => ({
  about: `symptom:${symptom.id}`,
  kind: 'symptom',
  words: symptom.words,
  more,
  minutes: ASKING_MINUTES,
  off: [],
  cautions: [],
  weakPointId: null,
  needs: STANDING_STILL,
  firstFor: [],
  shows: showsSymptom(grounds, symptom),
});

function checksOf(grounds: SearchGrounds): Check[] {
  const { knowledge, symptoms, listed } = grounds;
  const facts = factsOf(grounds);
  const candidates = candidatesOf(grounds);
  const operations = new Set(knowledge.operations.map(({ key }) => key));
  const offOf = (off: readonly string[] | undefined): string[] => (off ?? []).filter((key) => operations.has(key));
  const told = knowledge.checks
    .filter(({ shows }) => shows.some(({ weakPoint }) => facts.some((fact) => fact.key === weakPoint)))
    .map((check): Check => ({
      about: `check:${check.key}`,
      kind: 'check',
      words: check.ask,
      more: null,
      minutes: check.minutes,
      off: offOf(check.off),
      cautions: [...(check.cautions ?? [])],
      weakPointId: null,
      needs: check.needs ?? STANDING_STILL,
      firstFor: symptoms.filter(({ key }) => check.firstFor?.includes(key)).map(({ id }) => id),
      shows: [
        ...facts.map((fact) => check.shows.find(({ weakPoint }) => weakPoint === fact.key)?.yes ?? check.otherwise),
        Math.max(check.otherwise, SAYS_UNLISTED),
      ],
    }));
  const looks = candidates.flatMap(({ id, component, look }): Check[] =>
    look === null
      ? []
      : [
          {
            about: `look:${id}`,
            kind: 'look',
            words: `${component}: worn or failed?`,
            more: look.how,
            minutes: look.minutes,
            off: offOf(look.off),
            cautions: [...(look.cautions ?? [])],
            weakPointId: id as Check['weakPointId'],
            needs: look.needs ?? STANDING_STILL,
            firstFor: [],
            shows: [...facts.map((other) => (other.id === id ? look.detection : look.falseAlarm)), look.falseAlarm],
          },
        ],
  );
  const others = symptoms.filter(
    ({ id, key }) =>
      !listed.some((one) => one.id === id) &&
      candidates.some((fact) => fact.symptoms.some(({ symptom }) => symptom === key)),
  );
  return [
    ...listed.map((symptom) => asking(grounds, symptom, symptom.tells)),
    ...told,
    ...looks,
    ...others.map((symptom) =>
      asking(grounds, symptom, symptom.codes.length > 0 ? `Code ${symptom.codes.join(', ')}` : null),
    ),
  ];
}

/** What may explain what is reported, each with its chance and how often it was the cause here; and what would tell. */
export function searchOf(grounds: SearchGrounds): Pick<WireTriage, 'explanations' | 'unlistedOdds' | 'checks'> {
  const facts = factsOf(grounds);
  const candidates = new Set(candidatesOf(grounds).map(({ id }) => id));
  const risk = ({ id }: WeakPointFact): number => Math.min(grounds.risks.get(id)!, MOST_RISK);
  return {
    explanations: facts.map((fact) => {
      const here = grounds.listed.map(({ id }) => countOf(grounds, id, fact.key));
      const proved = here.reduce((sum, count) => sum + count.proved, 0);
      return {
        weakPointId: fact.id as WireTriage['explanations'][number]['weakPointId'],
        title: fact.title,
        component: fact.component,
        risk: risk(fact),
        // Only a cause that is told to show what is reported is a suspect.
        forbids: candidates.has(fact.id) ? [...(fact.forbids ?? [])] : [],
        here: { proved, of: proved + here.reduce((sum, count) => sum + count.refuted, 0) },
      };
    }),
    unlistedOdds: unlistedOddsBeside(facts.map(risk)),
    checks: checksOf(grounds),
  };
}
