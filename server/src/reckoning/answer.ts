import type { Answer, AnswerPoint, Judgement, SettingsValues } from '@crosspeen/contract';
import {
  ANOTHER,
  coveredUntil,
  dayFromIso,
  DAYS_PER_YEAR,
  distanceAtDay,
  enginePath,
  forecastSpread,
  lifetimePrior,
  mayBeMade,
  meterOffset,
  outlook,
  productionSpan,
  readingsSinceNew,
  usagePath,
  weighVariants,
  type Drawing,
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
  type Span,
  type StatementFact,
  type UpkeepFact,
  type UpkeepRow,
  type UsagePath,
  type VariantWeight,
  type WeakPointFact,
} from '@crosspeen/core';
import { onVariant, type FamilyKnowledge, type NoticeFact, type VariantRow } from '../knowledge/family.ts';

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
  readonly upkeep: readonly UpkeepFact[];
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
  upkeep: [],
};

const isoDay = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso));

/** What is drawn needs no more digits; the chance itself keeps all of its own. */
const millionth = (value: number): number => Math.round(value * 1e6) / 1e6;

/** What is in force for this vehicle, with the day a coverage ends. */
function wireNotices(
  notices: readonly NoticeFact[],
  weakPointId: string,
  { registeredDay, model }: Pick<Subject, 'registeredDay' | 'model'>,
  { path, today }: { readonly path: UsagePath; readonly today: number },
): Judgement['notices'] {
  return notices
    .filter(
      (notice) =>
        notice.weakPointId === weakPointId &&
        (notice.models.length === 0 || model === null || notice.models.includes(model)) &&
        mayBeMade(registeredDay, isoDay(notice.producedFrom), isoDay(notice.producedTo)),
    )
    .map(({ id, kind, number, title, authority, coveredDays, coveredKm, endsOn, pays }) => {
      const until =
        kind === 'bulletin'
          ? null
          : coveredUntil({ days: coveredDays, km: coveredKm, lastDay: isoDay(endsOn) }, path, registeredDay);
      return {
        id: id as Judgement['notices'][number]['id'],
        kind,
        number,
        title,
        authority,
        coveredUntil: until,
        pays: kind === 'bulletin' ? null : (pays ?? 1),
        covered: kind === 'bulletin' ? null : until === null || until >= today,
      };
    });
}

const wireStatement = (said: StatementFact): AnswerPoint['statements'][number] => ({
  ...said,
  doubted: said.doubted === true,
  strength: said.strength ?? null,
  interval: said.interval.map((span) => ({ ...span })),
});

const wireSpans = (spans: readonly Span[]): Span[] => spans.map((span) => ({ ...span }));

/** What practitioners say of a weak point beside its life. */
const wireMore = ({
  damages,
  symptoms,
  failure,
  hastens,
  revisions,
  notTold,
  work,
}: WeakPointFact): Pick<
  AnswerPoint,
  'damages' | 'symptoms' | 'failure' | 'hastens' | 'revisions' | 'notTold' | 'work'
> => ({
  notTold: [...(notTold ?? [])],
  damages: damages.map((damage) => ({ ...damage, harms: damage.harms ?? '', within: wireSpans(damage.within) })),
  symptoms: symptoms.map(({ symptom, shows, words, codes, tells, stop }) => ({
    symptom,
    shows,
    words: words ?? symptom,
    codes: [...(codes ?? [])],
    tells: tells ?? null,
    stop: stop ?? null,
  })),
  failure,
  hastens: hastens.map((hasten) => ({ ...hasten })),
  revisions: revisions.map(({ causes, ...revision }) => ({ ...revision, causes: causes.map(wireSpans) })),
  work: work
    ? {
        tools: work.tools.map((tool) => ({ ...tool })),
        cautions: [...work.cautions],
        renewWith: [...work.renewWith],
        oneTime: [...work.oneTime],
        fluids: [...work.fluids],
        afterwards: [...work.afterwards],
      }
    : null,
});

function wirePoint({ weakPoint, authorities }: OutlookRow): AnswerPoint {
  const { look, experience } = weakPoint;
  return {
    weakPointId: weakPoint.id as AnswerPoint['weakPointId'],
    key: weakPoint.key,
    title: weakPoint.title,
    component: weakPoint.component,
    componentKey: weakPoint.componentKey,
    componentClass: weakPoint.componentClass,
    nature: weakPoint.nature,
    group: weakPoint.group,
    fittedTo: weakPoint.fittedTo,
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    effect: weakPoint.effect,
    signs: weakPoint.signs,
    share: weakPoint.share,
    causes: weakPoint.causes.map((cause) => cause.map((span) => ({ ...span }))),
    renewMinutes: weakPoint.renewMinutes,
    operation: weakPoint.operation ?? null,
    look: look && {
      how: look.how,
      minutes: look.minutes,
      detection: look.detection,
      warning: look.warning.map((span) => ({ ...span })),
      cautions: [...(look.cautions ?? [])],
      ...(look.place ? { place: look.place } : {}),
      ...(look.method ? { method: look.method } : {}),
      ...(look.good ? { good: look.good } : {}),
      ...(look.worn ? { worn: look.worn } : {}),
      ...(look.failed ? { failed: look.failed } : {}),
      ...(look.off ? { off: [...look.off] } : {}),
      ...(look.spot ? { spot: look.spot } : {}),
      ...(look.tools && look.tools.length > 0 ? { tools: [...look.tools] } : {}),
      ...(look.measure ? { measure: { ...look.measure, sense: [...look.measure.sense] } } : {}),
      ...(look.grades ? { grades: look.grades.map((grade) => ({ ...grade })) } : {}),
    },
    ...wireMore(weakPoint),
    partPrice: weakPoint.partPrice,
    retiredByRevision: weakPoint.retiredByRevision,
    watch: weakPoint.watch && { task: weakPoint.watch.task, every: weakPoint.watch.every.map((span) => ({ ...span })) },
    experience: experience && { parts: experience.parts, failures: experience.failures },
    statements: authorities.map(({ statement }) => wireStatement(statement)),
  };
}

function wireJudgement(row: OutlookRow, notices: Judgement['notices']): Judgement {
  return {
    weakPointId: row.weakPoint.id as Judgement['weakPointId'],
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
    dutyOn: row.dutyOn,
    standings: row.authorities.map(({ standing, due }) => ({
      due,
      setAside: standing.counts ? null : { because: standing.because, by: standing.by },
    })),
    notices,
    installs: [...row.installs],
    originalChance: row.originalChance,
    ifFirst: row.ifFirst,
    overdue: row.overdue,
    rides: row.rides && { ...row.rides, weakPointId: row.rides.weakPointId as Judgement['weakPointId'] },
    shareLeft: row.shareLeft,
    looks: [...row.looks],
  };
}

const wireDrawing = ({ edges, ribbons, forecast }: Drawing): NonNullable<Answer['drawing']> => ({
  edges: [...edges],
  ribbons: ribbons.map(({ weakPointId, chance, mass }) => ({
    weakPointId: weakPointId as Judgement['weakPointId'],
    chance: chance.map((of) => (of === null ? null : millionth(of))),
    mass: mass.map(millionth),
  })),
  forecast: {
    ...forecast,
    ahead: [...forecast.ahead],
    items: forecast.items.map(({ weakPointId, chance, failed, renewed }) => ({
      weakPointId: weakPointId as Judgement['weakPointId'],
      chance: chance.map(millionth),
      failed: failed.map(millionth),
      renewed: renewed.map(millionth),
    })),
  },
});

function wireUpkeep(row: UpkeepRow, titleOf: ReadonlyMap<string, string>): Answer['upkeep'][number] {
  const { id, kind, title, how, minutes, ownerCan, season, cautions, statements, protects } = row.task;
  return {
    taskId: id as Answer['upkeep'][number]['taskId'],
    kind,
    title,
    how,
    minutes,
    ownerCan,
    season,
    cautions: [...cautions],
    statements: statements.map(wireStatement),
    standing: row.standing,
    due: row.due,
    lastDay: row.lastDay,
    by: row.by,
    neglected: row.neglected.map(([from, to]) => [from, to]),
    protects: protects.flatMap(({ weakPointId, factor }) => {
      const of = titleOf.get(weakPointId);
      return of === undefined ? [] : [{ weakPointId: weakPointId as Judgement['weakPointId'], title: of, factor }];
    }),
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
      },
      weakPoints: knowledge.weakPoints,
      services: subject.services,
      findings: subject.findings,
      tasks: knowledge.tasks,
      upkeep: subject.upkeep,
      policy: policyOf(settings),
    },
  };
}

/**
 * The answer for one subject from what the library knows, the notices in force, and the shop's settings; with what is
 * drawn of it where that is asked for. Pure.
 */
export function answerFor(
  { knowledge: whole, subject, settings, today }: Grounds,
  { notices, drawn }: { readonly notices: readonly NoticeFact[]; readonly drawn: boolean },
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
    judgements: result.rows.map((row) =>
      wireJudgement(row, wireNotices(notices, row.weakPoint.id, subject, { path, today })),
    ),
    points: result.rows.map(wirePoint),
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
