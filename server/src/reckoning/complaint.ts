import type { SettingsValues, WireTriage } from '@crosspeen/contract';
import {
  dayFromIso,
  forbidsWhile,
  foundAnswers,
  isoFromDay,
  lookAbout,
  outlook,
  searchOn,
  showsHere,
  STANDING_STILL,
  unlistedOddsBeside,
  withFound,
  type Forbiddable,
  type WeakPointFact,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import type { FamilyKnowledge } from '../knowledge/family.ts';
import { sinceLastEnd } from '../ledger/records.ts';
import { questionOf } from './answer.ts';
import { subjectOf, type VehicleRecords } from './records.ts';
import type { Subject } from './subject.ts';

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
type Answer = WireTriage['answers'][number];

const lookWords = (component: string): string => `${component}: worn or failed?`;

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
            about: lookAbout(id),
            kind: 'look',
            words: lookWords(component),
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

const givenAnswers = (manager: EntityManager, vehicleId: string): Promise<Omit<Answer, 'isOnFile'>[]> =>
  manager.query(
    `select r.about, r.words, r.said, r.day, u.display_name as by
      from triage_answer r
      join app_user u on u.id = r.user_id
      where r.vehicle_id = $1 and r.retracted_at is null and r.created_at > ${sinceLastEnd('$1')}
      order by r.created_at`,
    [vehicleId],
  );

/** What was answered in a search, and what looks on file answer of it; `vehicleId` is null where none is on file. */
export async function answersOf(
  manager: EntityManager,
  vehicleId: string | null,
  {
    knowledge,
    subject,
    reports,
    today,
  }: {
    readonly knowledge: FamilyKnowledge;
    readonly subject: Pick<Subject, 'findings' | 'services'>;
    readonly reports: readonly { readonly day: number; readonly goodDay: number | null }[];
    readonly today: number;
  },
): Promise<Answer[]> {
  const rows = vehicleId === null ? [] : await givenAnswers(manager, vehicleId);
  if (reports.length === 0) return rows.map((row) => ({ ...row, isOnFile: false }));
  const { given, found } = withFound(
    rows.map((row) => ({ about: row.about, day: dayFromIso(row.day)!, row })),
    foundAnswers(knowledge.weakPoints, subject, {
      sinceDay: sinceDayOf(reports, today),
      reportedDay: Math.min(...reports.map(({ day }) => day)),
      today,
    }),
  );
  const partOf = new Map(knowledge.weakPoints.map(({ id, component }) => [id, component]));
  return [
    ...found.map(({ about, weakPointId, said, day }): Answer => ({
      about,
      words: lookWords(partOf.get(weakPointId)!),
      said,
      day: isoFromDay(day),
      by: null,
      isOnFile: true,
    })),
    ...given.map(({ row }): Answer => ({ ...row, isOnFile: false })),
  ];
}

/** The symptoms that weak points of an engine are told to show, in their words. */
export const symptomsOf = (manager: EntityManager, { weakPoints }: FamilyKnowledge): Promise<SymptomOut[]> =>
  manager.query(
    'select id, key, words, codes, stop, tells, drive, forbids from symptom where key = any($1::text[]) order by words',
    [
      [
        ...new Set(
          weakPoints.flatMap(({ symptoms }: Pick<WeakPointFact, 'symptoms'>) => symptoms.map((one) => one.symptom)),
        ),
      ],
    ],
  );

/** How searches on an engine family ended, by symptom and weak point. */
export async function endCounts(manager: EntityManager, familyId: string): Promise<Map<string, EndCount>> {
  const rows = await manager.query<EndCount[]>(
    `select told as "symptomId", w.key as "weakPointKey",
        (count(*) filter (where r.outcome = 'proved'))::int as proved,
        (count(*) filter (where r.outcome = 'refuted'))::int as refuted
      from triage_end r
      join weak_point w on w.id = r.weak_point_id
      cross join jsonb_array_elements_text(r.symptoms) as told
      where w.family_id = $1 and r.retracted_at is null
      group by told, w.key`,
    [familyId],
  );
  return new Map(rows.map((row) => [countKey(row.symptomId, row.weakPointKey), row]));
}

/** Days over which chances are reckoned at least: what has just begun may have been long in coming. */
const LEAST_DAYS = 90;

/** Day since which what is reported may have come: the last good day, and some time at least. */
export const sinceDayOf = (
  reports: readonly { readonly day: number; readonly goodDay: number | null }[],
  today: number,
): number => Math.min(today - LEAST_DAYS, ...reports.map(({ day, goodDay }) => goodDay ?? day));

/** What the chances of a complaint are reckoned on. */
export interface ComplaintGrounds {
  readonly knowledge: FamilyKnowledge;
  /** What was known of the vehicle on a day. */
  readonly subjectAt: (day: number) => Subject;
  readonly settings: SettingsValues;
  readonly today: number;
}

/** Chances of the weak points to have failed since a day, by id: judged as the vehicle stood that day. */
export function risksSince({
  knowledge,
  subjectAt,
  settings,
  sinceDay,
  today,
}: ComplaintGrounds & { readonly sinceDay: number }): Map<string, number> {
  const { input } = questionOf({
    knowledge,
    subject: subjectAt(sinceDay),
    settings: { ...settings, serviceDays: today - sinceDay, serviceKm: Number.MAX_SAFE_INTEGER },
    today: sinceDay,
  });
  const { rows } = outlook(input, { drawn: false });
  return new Map(rows.map(({ weakPoint, chance }) => [weakPoint.id, chance]));
}

/** An open complaint by the key of its symptom. */
interface OpenReport {
  readonly symptom: string;
  readonly day: number;
  readonly goodDay: number | null;
}

/**
 * How likely each weak point is the cause of what is reported, by id: the same search that the complaint's own page
 * shows. Empty where nothing is reported.
 */
export async function suspectsOf(
  manager: EntityManager,
  {
    reports,
    familyId,
    vehicleId,
    ...grounds
  }: ComplaintGrounds & {
    readonly reports: readonly OpenReport[];
    readonly familyId: string;
    /** Null for a vehicle that is not on file. */
    readonly vehicleId: string | null;
  },
): Promise<ReadonlyMap<string, number>> {
  if (reports.length === 0) return new Map();
  const { knowledge, today } = grounds;
  const [symptoms, counts, answers] = await Promise.all([
    symptomsOf(manager, knowledge),
    endCounts(manager, familyId),
    answersOf(manager, vehicleId, { knowledge, subject: grounds.subjectAt(today), reports, today }),
  ]);
  const listed = reports.flatMap(({ symptom }) => symptoms.find(({ key }) => key === symptom) ?? []);
  if (listed.length === 0) return new Map();
  const risks = risksSince({ ...grounds, sinceDay: sinceDayOf(reports, today) });
  const search: SearchGrounds = { knowledge, risks, symptoms, listed, counts };
  const { explanations } = searchOn({
    ...searchOf(search),
    operations: Object.fromEntries(knowledge.operations.map((operation) => [operation.key, operation])),
    reports: listed.map((symptom) => ({ symptomId: symptom.id, forbids: forbidsOf(symptom) })),
    answers,
  });
  const showing = new Set(candidatesOf(search).map(({ id }) => id));
  return new Map(
    explanations.flatMap(({ weakPointId, chance }) =>
      weakPointId !== null && showing.has(weakPointId) ? [[weakPointId, chance] as const] : [],
    ),
  );
}

/** What is known of a vehicle on file, with what its open complaints make of it. */
export async function subjectOnFile(
  manager: EntityManager,
  records: VehicleRecords,
  grounds: Omit<ComplaintGrounds, 'subjectAt'>,
): Promise<Subject> {
  const subject = subjectOf(records, grounds.today);
  return {
    ...subject,
    suspects: await suspectsOf(manager, {
      ...grounds,
      subjectAt: (day) => subjectOf(records, day),
      reports: subject.reports,
      familyId: records.row.familyId,
      vehicleId: records.row.id,
    }),
  };
}
