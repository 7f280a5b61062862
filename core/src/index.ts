export {
  applicability,
  weighVariants,
  type Applicability,
  type ApplicabilityRule,
  type FeatureFact,
  type VariantWeight,
  type VariantWindow,
  type VehicleFacts,
} from './applicability/applicability.ts';
export { MADE_BEFORE_REGISTERED, mayBeMade, productionSpan, type Registered } from './applicability/production.ts';
export { answerLine, CALLS } from './door/door.ts';
export {
  averageSpeedKmh,
  clockDuty,
  DEFAULT_DUTY_FACTORS,
  DUTY_KEYS,
  DUTY_LEVELS,
  DUTY_QUESTIONS,
  type ClockDuty,
  type DutyFactors,
  type DutyKey,
  type DutyLevel,
  type DutyProfile,
} from './duty/duty.ts';
export {
  anyFailedByDay,
  failedAfterRenewal,
  failedByDay,
  type Forecast,
  type ItemForecast,
} from './forecast/forecast.ts';
export { experienceOf, publishedPrior, type ExperienceSummary, type Spread } from './experience/experience.ts';
export { experienceCurve, failuresAlone, lifeApart, type CurvePoint } from './experience/curve.ts';
export { fitLife } from './experience/fit.ts';
export { OBSERVATION_KINDS, type CleanLook, type Observation } from './experience/observation.ts';
export { watchedParts, type WatchedPart, type WatchedVehicle } from './experience/parts.ts';
export { lifePosterior, predictiveRisk, type LifePrior } from './experience/posterior.ts';
export { customaryKm } from './history/custom.ts';
export { UNKNOWN_DEFAULTS, unknownInstall, type InstallNode, type UnknownHistory } from './history/unknown.ts';
export {
  scaleForShare,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  type ComponentClass,
  type ShareWord,
  type WeibullLife,
} from './life/elicit.ts';
export { natureOf, NATURES, susceptibleShare, toldLife, typicalLife, type Nature } from './life/nature.ts';
export {
  cumulativeHazard,
  hazardGrowth,
  hazardIncrement,
  limitedFailure,
  susceptibleGivenAlive,
  type LimitedFailure,
} from './life/hazard.ts';
export {
  asTold,
  conditionalRisk,
  type Inspection,
  type ModeLife,
  type RiskAnswer,
  type RiskQuestion,
} from './life/risk.ts';
export { JOB_ACTIONS, jobMinutes, UNTOLD_LOOK_MINUTES, type JobAction } from './money/job.ts';
export { labourCost } from './money/labour.ts';
export { fastExpm1 } from './numeric/fast.ts';
export { explain, WHY_GROUNDS, type Why, type WhyGround, type WhyStep } from './outlook/explain.ts';
export { clocksOf, daysToService, FLEET_YEARS, judgeVehicle, MODEL_VERSION, outlook } from './outlook/outlook.ts';
export { ANOTHER, OLDER, openQuestions, type OpenQuestion, type QuestionAbout } from './outlook/questions.ts';
export { type JudgedRow } from './outlook/row.ts';
export { BELIEVED, GRADE_DUTY, toldShape } from './outlook/part.ts';
export { RIBBON } from './outlook/grid.ts';
export {
  type LookFact,
  CERTAINTIES,
  CONDITIONS,
  FITTED_TO,
  FOLLOWED_BY,
  GRADES,
  GROUPS,
  SCHOOL_REASONS,
  SOURCES,
  type Certainty,
  type Condition,
  type Drawing,
  type DueFact,
  type ExcludedRow,
  type ExperienceFact,
  type FindingFact,
  type FittedTo,
  type FollowedBecause,
  type Grade,
  type LifeNode,
  type SchoolChoice,
  type Source,
  type Group,
  type InstallFact,
  type Outlook,
  type OutlookInput,
  type OutlookPolicy,
  type OutlookRow,
  type Ribbon,
  type SchoolView,
  type ServiceFact,
  type WeakPointFact,
} from './outlook/types.ts';
export {
  AUTHORITY_KINDS,
  SET_ASIDE,
  STATEMENT_STRENGTHS,
  type StatementStrength,
  type AuthorityKind,
  type AuthorityMark,
  type StatementStanding,
  type StatementFact,
  type WhenFact,
} from './schools/statements.ts';
export { SCHOOLS, type School } from './schools/schools.ts';
export { strictest } from './schools/authorities.ts';
export { parseDay } from './shorthand/date.ts';
export { FIRST_YEAR, MOST_DISTANCE, parseFigure } from './shorthand/figure.ts';
export {
  compactKey,
  LONGEST_LINE,
  understandLine,
  type Chip,
  type ChipKind,
  type LineProblem,
  type UnderstoodLine,
} from './shorthand/lookupLine.ts';
export { formatSpans, parseSpans, type ShorthandResult, type Span } from './shorthand/window.ts';
export { dayFromDate, dayFromInstant, dayFromIso, DAYS_PER_YEAR, isoFromDay, yearOfDay } from './units/day.ts';
export { DISTANCE_UNITS, fromKm, KM_PER_ENGINE_HOUR, KM_PER_MILE, toKm, type DistanceUnit } from './units/distance.ts';
export { ageClock, CLOCK_KINDS, distanceClock, hoursFromDistance, type Clock, type ClockKind } from './usage/clock.ts';
export { coveredUntil, type CoverLimits } from './usage/cover.ts';
export {
  enginePath,
  meterOffset,
  readingsSinceNew,
  type EnginePath,
  type EngineSwap,
  type MeterChange,
} from './usage/meter.ts';
export {
  dayAtDistance,
  distanceAtDay,
  FORECAST_DEFAULTS,
  forecastSpread,
  usagePath,
  type Reading,
  type UsagePath,
} from './usage/path.ts';
export {
  asksForWork,
  CONSEQUENCES,
  DEFAULT_LIMITS,
  judge,
  leavesAlone,
  limitFor,
  SAFETY_LIMIT,
  VERDICT_RULES,
  VERDICTS,
  type Consequence,
  type Judgement,
  type Verdict,
  type VerdictFacts,
  type VerdictRule,
} from './verdict/verdict.ts';
export { chanceWords, CONSEQUENCE_WORDS } from './verdict/words.ts';
