export {
  applicability,
  weighVariants,
  type ApplicabilityRule,
  type FeatureFact,
  type VariantWeight,
  type VehicleFacts,
} from './applicability/applicability.ts';
export { MADE_BEFORE_REGISTERED, mayBeMade, productionSpan } from './applicability/production.ts';
export {
  averageSpeedKmh,
  DEFAULT_DUTY_FACTORS,
  DUTY_KEYS,
  DUTY_LEVELS,
  DUTY_QUESTIONS,
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
export { experienceOf, publishedPrior, type ExperienceSummary } from './experience/experience.ts';
export { experienceCurve, failuresAlone, lifeApart } from './experience/curve.ts';
export { OBSERVATION_KINDS, type Observation } from './experience/observation.ts';
export { watchedParts, type WatchedPart } from './experience/parts.ts';
export { REPAIR_LAG_YEARS, UNKNOWN_DEFAULTS } from './history/unknown.ts';
export { lifePosterior, predictiveRisk, type LifePrior } from './experience/posterior.ts';
export {
  UNTOLD_LOOK_MINUTES,
  workOfJob,
  workTogether,
  type JobTold,
  type SharedStep,
  type WorkItem,
  type WorkTogether,
} from './access/together.ts';
export { accessMinutes, closureOf, type Operation, type Operations } from './access/access.ts';
export { customOf, type CustomarySpan } from './history/custom.ts';
export {
  scaleForShare,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  UNSAID_SHARE,
  UNSAID_WINDOW,
  UNTOLD,
  type Untold,
  type ComponentClass,
  type ShareWord,
  type WeibullLife,
} from './life/elicit.ts';
export { NATURES, susceptibleShare, toldLife, typicalLife, type Nature } from './life/nature.ts';
export { cumulativeHazard, hazardGrowth, limitedFailure, susceptibleGivenAlive } from './life/hazard.ts';
export { JOB_ACTIONS } from './money/job.ts';
export { countedPrice, failureCost, KEPT_DAYS, renewalCost } from './money/failure.ts';
export { labourCost } from './money/labour.ts';
export { fastExpm1 } from './numeric/fast.ts';
export { explain, WHY_GROUNDS, type Why } from './outlook/explain.ts';
export { FLEET_YEARS } from './outlook/grid.ts';
export { COUNTED_FROM, countedFrom, type CountedFrom } from './schools/counted.ts';
export { appliesHere } from './outlook/applies.ts';
export { type NoticeFact, type NoticeInForce } from './outlook/notice-types.ts';
export { clocksOf, judgeVehicle, MODEL_VERSION, outlook } from './outlook/outlook.ts';
export { ANOTHER, OLDER, openQuestions, type OpenQuestion } from './outlook/questions.ts';
export { type JudgedRow } from './outlook/row.ts';
export {
  type LookFact,
  CERTAINTIES,
  FITTED_TO,
  FOLLOWED_BY,
  GRADES,
  type DamageFact,
  type FailureFact,
  type HastenFact,
  type RevisionFact,
  type SymptomFact,
  type WorkFact,
  GROUPS,
  SCHOOL_REASONS,
  SOURCES,
  type Certainty,
  type Drawing,
  type FindingFact,
  type FittedTo,
  type Grade,
  type SchoolChoice,
  type Source,
  type Group,
  type Outlook,
  type OutlookInput,
  type OutlookPolicy,
  type OutlookRow,
  type ReportFact,
  type ServiceFact,
  type WatchFact,
  type WeakPointFact,
} from './outlook/types.ts';
export {
  AUTHORITY_KINDS,
  SET_ASIDE,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
  type StatementFact,
  type StatementAsks,
  type StatementStrength,
  type AuthorityKind,
} from './schools/statements.ts';
export { SCHOOLS, type School } from './schools/schools.ts';
export { strictest } from './schools/authorities.ts';
export { parseDay } from './shorthand/date.ts';
export { parseFigure } from './shorthand/figure.ts';
export { readWords, WORD_KINDS, type LineWord, type Vocabulary, type WordKind } from './shorthand/lineWords.ts';
export { compactKey, understandLine, type Chip, type UnderstoodLine } from './shorthand/lookupLine.ts';
export { formatSpans, parseSpans, type Span } from './shorthand/window.ts';
export {
  dayFromDate,
  dayFromInstant,
  dayFromIso,
  DAYS_PER_YEAR,
  firstDayOfWeek,
  isoFromDay,
  yearOfDay,
} from './units/day.ts';
export { DISTANCE_UNITS, fromKm, toKm, type DistanceUnit } from './units/distance.ts';
export {
  UPKEEP_KINDS,
  UPKEEP_STANDINGS,
  USUAL_NEGLECT,
  type UpkeepFact,
  type UpkeepKind,
  type UpkeepRow,
  type UpkeepStanding,
  type UpkeepTaskFact,
} from './upkeep/tasks.ts';
export { SEASONS, type Season } from './upkeep/season.ts';
export { CLOCK_KINDS, type Clock } from './usage/clock.ts';
export { coveredUntil } from './usage/cover.ts';
export { enginePath, meterOffset, readingsSinceNew, type EngineSwap, type MeterChange } from './usage/meter.ts';
export {
  dayAtDistance,
  distanceAtDay,
  forecastSpread,
  lifetimePrior,
  usagePath,
  type Reading,
  type UsagePath,
} from './usage/path.ts';
export { READING_DOUBTS, readingDoubt, type ReadingDoubt, type ReadingTyped } from './usage/doubt.ts';
export {
  asksForWork,
  CONSEQUENCES,
  DECISION_RULES,
  DEFAULT_LIMITS,
  limitFor,
  leavesAlone,
  SAFETY_LIMIT,
  VERDICTS,
  type Consequence,
  type Verdict,
  DEFAULT_PROOF,
  PROOF_CLASSES,
  type ProofClass,
} from './decision/kinds.ts';
export { RIDE_REASONS } from './decision/facts.ts';
export {
  BAY_SIDES,
  ENGINE_SHAPES,
  ENGINE_SPOTS,
  engineMap,
  type BaySide,
  type EngineLayout,
  type EngineMap,
  type EngineShape,
  type EngineSpot,
  type MapBox,
  type MapPoint,
} from './look/engine-map.ts';
export { GLANCE_MINUTES, isGlance } from './look/glance.ts';
export {
  ENGINE_STATES,
  FORBIDDABLE,
  forbidsWhile,
  isAllowed,
  forbiddenWith,
  leftOutWords,
  needsWords,
  STANDING_STILL,
  type EngineState,
  type Forbiddable,
  type NeedsFact,
} from './look/needs.ts';
export {
  CONDITIONS,
  LOOK_METHODS,
  LOOK_PLACES,
  type Condition,
  type LookMethod,
  type LookPlace,
} from './look/words.ts';
export { makesSense, measuredAs, usedUp, type GradeWords, type MeasureFact } from './look/measure.ts';
export { walkSheet, type WalkItem, type WalkSheet, type WalkStep } from './walk/sheet.ts';
export { lookWorth } from './walk/worth.ts';
export { foundAnswers, lookAbout, withFound, type FoundAnswer } from './triage/found.ts';
export { searchOn, type NextCheck, type SearchStanding, type TriageSearch, type Weighed } from './triage/search.ts';
export {
  KNOWN_ENOUGH,
  showsHere,
  triageNext,
  triageOutcomes,
  triageStanding,
  unlistedOddsBeside,
  type TriageQuestion,
  type TriageStanding,
  type TriageState,
} from './triage/triage.ts';
export { deferralCosts, type DeferralCosts, type DeferralQuestion } from './visits/deferral.ts';
export { planVisits, type KnownPlan } from './visits/plan.ts';
export { costSpread, quantilesOf, yearsAhead, type YearCost } from './visits/ahead.ts';
export { besideWork, type Beside } from './visits/beside.ts';
export { proposalGround, type ToldPoint, type ToldVehicle, usualTerms, VISIT_MINUTES } from './visits/ground.ts';
export { keyMeans, lookKey, pointKey, taskKey } from './visits/keys.ts';
export { type ToldTask } from './visits/upkeep-items.ts';
export { PLAN_MONTH_DAYS } from './visits/item-costs.ts';
export { keepOrLetGo, type Keeping, type KeptYear } from './visits/keeping.ts';
export {
  ifFoundWorn,
  preparePlan,
  type Pins,
  proposeVisits,
  type PlanMoney,
  type PreparedPlan,
  type Proposal,
  type ProposalGround,
  type ProposalItem,
  type ProposedVisit,
} from './visits/proposal.ts';
export { latestDay, monthOfPlan, type PlanEvent, type ProposalTerms } from './visits/terms.ts';
export { planStanding, type Plan, type PlanItem, type PlanQuestion } from './visits/question.ts';
export { searchPlan } from './visits/search.ts';
export { bandOf, CHANCE_BANDS } from './decision/bands.ts';
export { chanceShown, chanceWords, CONSEQUENCE_LABELS, CONSEQUENCE_WORDS } from './decision/words.ts';
export { minutesText } from './units/minutes.ts';
export { fitLife } from './experience/fit.ts';
export { logLikelihood, type CleanLook } from './experience/observation.ts';
export { type Moments } from './experience/posterior.ts';
export { onceRenewed } from './history/once.ts';
export { unknownInstall } from './history/unknown.ts';
export { lifeFromMedian, lifeFromWindow, type ElicitedLife, wearFromMedian, wearFromWindow } from './life/elicit.ts';
export { hazardIncrement } from './life/hazard.ts';
export { asTold, conditionalRisk, type ClockLife } from './life/risk.ts';
export { bestAge, costRate, timeLived } from './schools/ageReplacement.ts';
export { caughtByPeriod, caughtByPeriodExponential, caughtBySchedule, longestPeriod } from './schools/cadence.ts';
export { neglectedRun } from './upkeep/hastened.ts';
export { type UpkeepInterval, upkeepState } from './upkeep/upkeep.ts';
export { ageClock, distanceClock, hoursFromDistance } from './usage/clock.ts';
export { planBound } from './visits/bound.ts';
