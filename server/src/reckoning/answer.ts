import type { Answer, Judgement, SettingsValues } from '@crosspeen/contract';
import {
  ANOTHER,
  DAYS_PER_YEAR,
  distanceAtDay,
  enginePath,
  forecastSpread,
  lifetimePrior,
  meterOffset,
  outlook,
  productionSpan,
  readingsSinceNew,
  usagePath,
  weighVariants,
  type OutlookInput,
  type OutlookPolicy,
  type ReportFact,
  type UsagePath,
  type VariantWeight,
} from '@crosspeen/core';
import { onVariant, type FamilyKnowledge, type VariantRow } from '../knowledge/family.ts';
import type { Subject } from './subject.ts';
import { isoDay, wireDrawing, wireJudgement, wirePoint, wireUpkeep, wireVariant, wireVariants } from './wire.ts';

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

/** The shop's settings as the core takes them. */
export const policyOf = (settings: SettingsValues): OutlookPolicy => ({
  serviceKm: settings.serviceKm,
  serviceDays: settings.serviceDays,
  holdDays: settings.holdDays,
  safetyLimit: settings.safetyLimit,
  proofFor: settings.proofFor,
  schools: settings.schools,
  failureCost: settings.failureCostMinor,
  labourCostPerHour: settings.labourRateMinor,
  dutyFactors: settings.dutyFactors,
  limits: Object.fromEntries(
    Object.entries(settings.limits).map(([consequence, limit]) => [consequence, limit ?? Infinity]),
  ) as OutlookPolicy['limits'],
});

/** The usage path of a subject, in km since new. */
export const pathOf = (
  { readings, meterChanges, registeredDay }: Pick<Subject, 'readings' | 'meterChanges' | 'registeredDay'>,
  settings: SettingsValues,
): UsagePath =>
  usagePath(
    readingsSinceNew(readings, meterChanges),
    registeredDay,
    lifetimePrior(settings.usualKmPerYear / DAYS_PER_YEAR),
  );

const wireReport = ({ words, day, stop, drive, forbids }: ReportFact): Answer['reports'][number] => ({
  words,
  day,
  stop,
  drive,
  forbids: [...forbids],
});

/** What an answer is given on. */
export interface Grounds {
  readonly knowledge: FamilyKnowledge;
  readonly subject: Subject;
  readonly settings: SettingsValues;
  readonly today: number;
}

export interface Question {
  readonly input: OutlookInput;
  readonly weights: readonly VariantWeight[];
}

/** A subject as the core takes it: path, clocks, facts and policy. Pure. */
export function questionOf({ knowledge: whole, subject, settings, today }: Grounds): Question {
  const knowledge = onVariant(whole, subject.variantKey);
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
      rateSpread: forecastSpread(path),
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
        registeredDay: subject.registeredDay,
      },
      weakPoints: knowledge.weakPoints,
      services: subject.services,
      findings: subject.findings,
      reports: subject.reports,
      suspects: subject.suspects,
      tasks: knowledge.tasks,
      upkeep: subject.upkeep,
      policy: policyOf(settings),
    },
  };
}

/**
 * The answer for one subject from what the library knows and the shop's settings; with what is drawn of it where that
 * is asked for. Pure.
 */
export function answerFor(
  { knowledge: whole, subject, settings, today }: Grounds,
  { drawn }: { readonly drawn: boolean },
): Answer {
  const knowledge = onVariant(whole, subject.variantKey);
  const { input, weights } = questionOf({ knowledge, subject, settings, today });
  const { path, engine } = input;
  const result = outlook(input, { drawn });
  const sinceNew = readingsSinceNew(subject.readings, subject.meterChanges);
  return {
    engine: knowledge.engine,
    layout: knowledge.layout,
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
    operations: knowledge.operations.map(({ key, name, minutes, needs }) => ({
      key,
      name,
      minutes,
      needs: [...needs],
    })),
    judgements: result.rows.map(wireJudgement),
    points: result.rows.map(wirePoint),
    holds: result.holds.map(wireReport),
    reports: subject.reports.map(wireReport),
    upkeep: result.upkeep.map((row) =>
      wireUpkeep(row, new Map(result.rows.map(({ weakPoint }) => [weakPoint.id, weakPoint.title]))),
    ),
    drawing: result.drawing && wireDrawing(result.drawing),
    excluded: result.excluded.map(({ weakPoint, because }) => ({
      weakPointId: weakPoint.id as Judgement['weakPointId'],
      title: weakPoint.title,
      component: weakPoint.component,
      group: weakPoint.group,
      because,
    })),
  };
}
