import type { Answer, AnswerRow } from '@crosspeen/contract';
import {
  ANOTHER,
  coveredUntil,
  dayFromIso,
  distanceAtDay,
  enginePath,
  meterOffset,
  natureOf,
  outlook,
  readingsSinceNew,
  usagePath,
  weighVariants,
  type DutyProfile,
  type EngineSwap,
  type FindingFact,
  type MeterChange,
  type OutlookInput,
  type OutlookPolicy,
  type OutlookRow,
  type Reading,
  type SchoolChoice,
  type ServiceFact,
  type UsagePath,
  type VariantWeight,
} from '@crosspeen/core';
import type { SettingsValues } from '@crosspeen/contract';
import { MADE_BEFORE_REGISTERED, mayBeMade } from './production.ts';
import type { FamilyKnowledge, NoticeFact, VariantRow } from '../knowledge/family.ts';

/** What is known of the vehicle a question is about; nulls and what is left out of records are unknown. */
export interface Subject {
  /** As the dash showed them. */
  readonly readings: readonly Reading[];
  readonly meterChanges: readonly MeterChange[];
  readonly engineSwaps: readonly EngineSwap[];
  readonly registeredDay: number | null;
  /** False when only a year is known. */
  readonly registeredExact: boolean;
  readonly variantKey: string | null;
  readonly model: string | null;
  readonly market: string | null;
  readonly serial: number | null;
  readonly features: Readonly<Record<string, boolean>>;
  readonly fitted: Readonly<Record<string, string>>;
  readonly severity: number;
  readonly duty: DutyProfile;
  /** On file, and so among the observations that the workshop's experience rests on. */
  readonly counted: boolean;
  readonly choices: readonly SchoolChoice[];
  readonly services: readonly ServiceFact[];
  readonly findings: readonly FindingFact[];
}

/** A subject of which nothing but a reading may be known. */
export const UNKNOWN_SUBJECT: Omit<Subject, 'readings'> = {
  meterChanges: [],
  engineSwaps: [],
  registeredDay: null,
  registeredExact: false,
  variantKey: null,
  model: null,
  market: null,
  serial: null,
  features: {},
  fitted: {},
  severity: 1,
  duty: {},
  counted: false,
  choices: [],
  services: [],
  findings: [],
};

/**
 * Days that production may lie before and after the day of registration as understood: a bare year stands for its
 * middle.
 */
const PRODUCTION = {
  exact: { before: MADE_BEFORE_REGISTERED, after: 0 },
  year: { before: 2 * MADE_BEFORE_REGISTERED, after: MADE_BEFORE_REGISTERED },
} as const;
/** Relative spread of a forecast that rests on the prior rate alone; more road behind a vehicle narrows it. */
const PRIOR_SPREAD = 0.35;

/**
 * The span in which a vehicle was made, as its middle and half its length; null when nobody knows when it was
 * registered.
 */
function productionSpan({ registeredDay, registeredExact }: Pick<Subject, 'registeredDay' | 'registeredExact'>): {
  day: number | null;
  slackDays: number;
} {
  const { before, after } = registeredExact ? PRODUCTION.exact : PRODUCTION.year;
  return { day: registeredDay === null ? null : registeredDay + (after - before) / 2, slackDays: (after + before) / 2 };
}

const isoDay = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso));

/** How far the forecast rate may be off: it narrows with the days of use that the readings cover. */
export function rateSpread(path: UsagePath, priorWeightDays = 180): number {
  const days = path.knots.length > 1 ? path.knots[path.knots.length - 1]!.day - path.knots[0]!.day : 0;
  return PRIOR_SPREAD * Math.sqrt(priorWeightDays / (priorWeightDays + Math.min(days, 1461)));
}

/** What is drawn needs no more digits; the chance itself keeps all of its own. */
const millionth = (value: number): number => Math.round(value * 1e6) / 1e6;

/** What is in force for this vehicle, with the day a coverage ends. */
function wireNotices(
  notices: readonly NoticeFact[],
  weakPointId: string,
  path: UsagePath,
  { registeredDay }: Pick<Subject, 'registeredDay'>,
  today: number,
): AnswerRow['notices'] {
  return notices
    .filter(
      (notice) =>
        notice.weakPointId === weakPointId && mayBeMade(registeredDay, notice.producedFrom, notice.producedTo),
    )
    .map(({ id, kind, number, title, authority, coveredDays, coveredKm, endsOn }) => {
      const until =
        kind === 'bulletin'
          ? null
          : coveredUntil({ days: coveredDays, km: coveredKm, lastDay: isoDay(endsOn) }, path, registeredDay);
      return {
        id: id as AnswerRow['notices'][number]['id'],
        kind,
        number,
        title,
        authority,
        coveredUntil: until,
        covered: kind === 'bulletin' ? null : until === null || until >= today,
      };
    });
}

function wireRow(row: OutlookRow, notices: AnswerRow['notices']): AnswerRow {
  const { weakPoint } = row;
  return {
    weakPointId: weakPoint.id as AnswerRow['weakPointId'],
    key: weakPoint.key,
    title: weakPoint.title,
    component: weakPoint.component,
    componentKey: weakPoint.componentKey,
    componentClass: weakPoint.componentClass,
    nature: natureOf(weakPoint),
    group: weakPoint.group,
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    effect: weakPoint.effect,
    signs: weakPoint.signs,
    share: weakPoint.share,
    causes: weakPoint.causes.map((cause) => cause.map((span) => ({ ...span }))),
    renewMinutes: weakPoint.renewMinutes,
    look: weakPoint.look
      ? {
          how: weakPoint.look.how,
          minutes: weakPoint.look.minutes,
          detection: weakPoint.look.detection,
          warning: weakPoint.look.warning.map((span) => ({ ...span })),
          cautions: [...(weakPoint.look.cautions ?? [])],
        }
      : null,
    retiredByRevision: weakPoint.retiredByRevision,
    verdict: row.verdict,
    rule: row.rule,
    reason: row.reason,
    wouldChange: row.wouldChange,
    chance: row.chance,
    limit: row.limit === Infinity ? null : row.limit,
    appliesWeight: row.appliesWeight,
    settle: row.settle,
    due: row.due,
    schools: [...row.schools],
    followed: row.followed,
    followedBecause: row.followedBecause,
    fittedTo: weakPoint.fittedTo,
    dutyOn: row.dutyOn,
    experience:
      weakPoint.experience === null
        ? null
        : { parts: weakPoint.experience.parts, failures: weakPoint.experience.failures },
    authorities: row.authorities.map(({ statement, standing, due }) => ({
      ...statement,
      doubted: statement.doubted === true,
      strength: statement.strength ?? null,
      interval: statement.interval.map((span) => ({ ...span })),
      due,
      setAside: standing.counts ? null : { because: standing.because, by: standing.by },
    })),
    notices,
    installs: [...row.installs],
    originalChance: row.originalChance,
    shareLeft: row.shareLeft,
    looks: [...row.looks],
    ribbon: {
      chance: row.ribbon.chance.map((chance) => (chance === null ? null : millionth(chance))),
      mass: row.ribbon.mass.map(millionth),
    },
  };
}

const wireVariant = (row: VariantRow, weight: number): Answer['variants'][number] => ({
  id: row.id,
  key: row.key,
  name: row.name,
  howToTell: row.howToTell,
  weight,
  producedFrom: row.producedFrom,
  producedTo: row.producedTo,
  models: row.models.map(({ model }) => model),
});

/** Variants that fit the day of registration, weighed, and the chosen one alone when there is one. */
export function fittingVariants(
  variants: readonly VariantRow[],
  subject: Pick<Subject, 'registeredDay' | 'registeredExact' | 'variantKey' | 'serial'>,
): VariantWeight[] {
  const windows = variants.map(({ key, name, howToTell, producedFrom, producedTo, serialFrom, serialTo }) => ({
    key,
    name,
    howToTell,
    producedFromDay: isoDay(producedFrom),
    producedToDay: isoDay(producedTo),
    serialFrom,
    serialTo,
  }));
  const chosen = windows.find(({ key }) => key === subject.variantKey);
  if (chosen) return [{ key: chosen.key, name: chosen.name, howToTell: chosen.howToTell, weight: 1 }];
  const made = productionSpan(subject);
  const fitting = weighVariants(windows, made.day, made.slackDays, subject.serial);
  return fitting.length > 0 ? fitting : weighVariants(windows, null, 0, subject.serial);
}

export const wireVariants = (variants: readonly VariantRow[], weights: readonly VariantWeight[]): Answer['variants'] =>
  weights
    .map(({ key, weight }) =>
      wireVariant(
        variants.find((row) => row.key === key)!,
        weight,
      ),
    )
    .sort((a, b) => b.weight - a.weight);

/** The shop's settings as the core takes them. */
export const policyOf = (settings: SettingsValues): OutlookPolicy => ({
  serviceKm: settings.serviceKm,
  serviceDays: settings.serviceDays,
  safetyLimit: settings.safetyLimit,
  schools: settings.schools,
  failureCost: settings.failureCostMinor,
  labourCostPerMinute: settings.labourRateMinor / 60,
  dutyFactors: settings.dutyFactors,
  limits: Object.fromEntries(
    Object.entries(settings.limits).map(([consequence, limit]) => [consequence, limit ?? Infinity]),
  ) as OutlookPolicy['limits'],
});

/** The usage path of a subject, in km since new. */
export const pathOf = (
  { readings, meterChanges, registeredDay }: Pick<Subject, 'readings' | 'meterChanges' | 'registeredDay'>,
  settings: SettingsValues,
): UsagePath => usagePath(readingsSinceNew(readings, meterChanges), registeredDay, settings.usualKmPerYear / 365.25);

export interface Question {
  readonly input: OutlookInput;
  readonly weights: readonly VariantWeight[];
}

/** A subject as the core takes it: path, clocks, facts and policy. Pure. */
export function questionOf(
  knowledge: FamilyKnowledge,
  subject: Subject,
  settings: SettingsValues,
  today: number,
): Question {
  const path = pathOf(subject, settings);
  const weights = fittingVariants(knowledge.variants, subject);
  const made = productionSpan(subject);
  const known = (value: string | null): string | null => (value === ANOTHER ? '' : value);
  return {
    weights,
    input: {
      today,
      path,
      engine: enginePath(path, subject.engineSwaps),
      rateSpread: rateSpread(path),
      severity: subject.severity,
      duty: subject.duty,
      counted: subject.counted,
      choices: subject.choices,
      facts: {
        variants: weights,
        model: known(subject.model),
        market: known(subject.market),
        features: subject.features,
        serial: subject.serial,
        fitted: subject.fitted,
        knownFeatures: knowledge.features,
        producedDay: made.day,
        producedSlackDays: made.slackDays,
      },
      weakPoints: knowledge.weakPoints,
      services: subject.services,
      findings: subject.findings,
      policy: policyOf(settings),
    },
  };
}

/** The answer for one subject from what the library knows, the notices in force, and the shop's settings. Pure. */
export function answerFor(
  knowledge: FamilyKnowledge,
  subject: Subject,
  settings: SettingsValues,
  today: number,
  notices: readonly NoticeFact[] = [],
): Answer {
  const { input, weights } = questionOf(knowledge, subject, settings, today);
  const { path, engine } = input;
  const result = outlook(input);
  const sinceNew = readingsSinceNew(subject.readings, subject.meterChanges);
  return {
    engine: knowledge.engine,
    variants: wireVariants(knowledge.variants, weights),
    otherVariants: knowledge.variants
      .filter(({ key }) => !weights.some((weight) => weight.key === key))
      .map((row) => wireVariant(row, 0)),
    today,
    now: result.now,
    nextService: result.nextService,
    usage: {
      knots: [...path.knots],
      startDay: path.startDay,
      rateKmPerDay: path.rateKmPerDay,
      rateSpread: input.rateSpread,
      rejected: path.rejected.map((index) => sinceNew[index]!),
      startAssumed: subject.registeredDay === null,
      meterOffsetKm: meterOffset(subject.meterChanges),
      engine:
        engine === null
          ? null
          : { fittedDay: engine.fittedDay, km: distanceAtDay(engine.path, today), assumed: engine.assumed },
    },
    severity: subject.severity,
    ribbonEdges: [...result.ribbonEdges],
    rows: result.rows.map((row) => wireRow(row, wireNotices(notices, row.weakPoint.id, path, subject, today))),
    excluded: result.excluded.map(({ weakPoint, because }) => ({
      weakPointId: weakPoint.id as AnswerRow['weakPointId'],
      title: weakPoint.title,
      component: weakPoint.component,
      group: weakPoint.group,
      because,
    })),
  };
}
