import type { ApplicabilityRule, VehicleFacts } from '../applicability/applicability.ts';
import type { Forecast } from '../forecast/forecast.ts';
import type { ComponentClass, Untold } from '../life/elicit.ts';
import type { Nature } from '../life/nature.ts';
import type { NoticeFact, NoticeInForce } from './notice-types.ts';
import type { ClockDuty, DutyFactors, DutyKey, DutyProfile } from '../duty/duty.ts';
import type { School } from '../schools/schools.ts';
import type { CountedFrom } from '../schools/counted.ts';
import type { AuthorityMark, StatementAsks, StatementFact, WhenFact } from '../schools/statements.ts';
import type { Span } from '../shorthand/window.ts';
import type { UpkeepFact, UpkeepRow, UpkeepTaskFact } from '../upkeep/tasks.ts';
import type { ClockKind } from '../usage/clock.ts';
import type { EnginePath } from '../usage/meter.ts';
import type { UsagePath } from '../usage/path.ts';
import type { RideFact } from '../decision/facts.ts';
import type { Consequence, DecisionRule, ProofClass, Verdict } from '../decision/kinds.ts';
import type { EngineSpot } from '../look/engine-map.ts';
import type { GradeWords, MeasureFact } from '../look/measure.ts';
import type { Forbiddable, NeedsFact } from '../look/needs.ts';
import type { Condition, LookMethod, LookPlace } from '../look/words.ts';

import type { Certainty, FindingFact, ReportFact, SchoolChoice, ServiceFact } from './record-types.ts';

export {
  CERTAINTIES,
  GRADES,
  SOURCES,
  type Certainty,
  type FindingFact,
  type Grade,
  type ReportFact,
  type SchoolChoice,
  type ServiceFact,
  type Source,
} from './record-types.ts';

export const GROUPS = ['timing', 'seals', 'cooling', 'other'] as const;
export type Group = (typeof GROUPS)[number];

/** Owner of a component when an engine is swapped: the vehicle or the engine. */
export const FITTED_TO = ['engine', 'vehicle'] as const;
export type FittedTo = (typeof FITTED_TO)[number];

/** One life that the workshop's own experience leaves possible, on the life used (1 at the scale that was told). */
export interface LifeNode {
  readonly weight: number;
  readonly scale: number;
  readonly shape: number;
  readonly share: number;
}

/** Experience of this workshop's own vehicles with one weak point. */
export interface ExperienceFact {
  readonly nodes: readonly LifeNode[];
  readonly parts: number;
  readonly failures: number;
}

/** Look at a weak point before it fails. */
export interface LookFact {
  readonly how: string;
  readonly minutes: number;
  readonly detection: number;
  readonly falseAlarm: number;
  readonly warning: readonly Span[];
  /** Dangers of the look, in words. */
  readonly cautions?: readonly string[];
  /** Place on the vehicle, and the sense or tool. */
  readonly place?: LookPlace;
  readonly method?: LookMethod;
  /** What the vehicle must be or do for it; standing still where nothing is told. */
  readonly needs?: NeedsFact;
  /** Appearance of each result. */
  readonly good?: string;
  readonly worn?: string;
  readonly failed?: string;
  /** Operations, by key, that must be off first. */
  readonly off?: readonly string[];
  /** Minutes of all that must come off; none where nothing is told. */
  readonly offMinutes?: number;
  /** Place on the engine. */
  readonly spot?: EngineSpot;
  /** Tools beside hands and a lamp, in words. */
  readonly tools?: readonly string[];
  readonly measure?: MeasureFact;
  /** Possible findings in words, best first. */
  readonly grades?: readonly GradeWords[];
}

/**
 * Harm of a failure: another weak point by key, or something in words, with its chance and time.
 */
export interface DamageFact {
  readonly weakPoint?: string;
  readonly harms?: string;
  readonly chance: number;
  /** Empty where it comes at once, or nobody says. */
  readonly within: readonly Span[];
}

/** Symptom by key, and its frequency if this is the cause. */
export interface SymptomFact {
  readonly symptom: string;
  readonly shows: number;
  /** Words of a workshop, with codes and the check that tells look-alikes apart. */
  readonly words?: string;
  readonly codes?: readonly string[];
  readonly tells?: string | null;
  /** Danger of driving on, and what to do at once; null if it may be driven. */
  readonly stop?: string | null;
  /** How far it may be driven with it; null where nobody says. */
  readonly drive?: string | null;
  readonly forbids?: readonly Forbiddable[];
}

/** Work of the operations that renew it. */
export interface WorkFact {
  readonly tools: readonly { readonly name: string; readonly without: string | null }[];
  readonly cautions: readonly string[];
  /** Components that go in new at the same time, by name. */
  readonly renewWith: readonly string[];
  /** Parts that are never fitted twice. */
  readonly oneTime: readonly string[];
  /** Fluids that are lost and filled anew. */
  readonly fluids: readonly string[];
  /** Tasks after the parts are together again. */
  readonly afterwards: readonly string[];
}

/**
 * Cost of a repair after the failure: parts in the money of the policy's costs, minutes of labour.
 */
export interface FailureFact {
  readonly parts: number;
  readonly minutes: number;
}

/** A use or a feature of the vehicle that makes a clock of the part run faster; all its clocks where none is named. */
export interface HastenFact {
  readonly use?: DutyKey;
  readonly feature?: string;
  readonly clock?: ClockKind;
  readonly factor: number;
}

/** A later part. It ends the weak point, or has its own life, which then counts. */
export interface RevisionFact {
  readonly revision: string;
  readonly ends?: true;
  readonly causes: readonly (readonly Span[])[];
}

/** Task of the driver about a weak point that is never renewed before it fails. */
export interface WatchFact {
  readonly task: string;
  /** Interval of the task, whichever clock comes first. */
  readonly every: readonly Span[];
}

/** A weak point as the computation needs it. Minutes of labour, days, km; shares and chances in [0, 1]. */
export interface WeakPointFact {
  readonly id: string;
  readonly key: string;
  readonly title: string;
  readonly component: string;
  readonly componentKey: string;
  readonly componentClass: ComponentClass;
  /**
   * Wear comes to every part sooner or later; a defect comes only to those that were built with it.
   */
  readonly nature: Nature;
  readonly group: Group;
  readonly consequence: Consequence;
  readonly safety: boolean;
  readonly effect: string;
  readonly signs: string;
  readonly share: number;
  /** Independent causes; the spans of one cause tell one window in several units. */
  readonly causes: readonly (readonly Span[])[];
  /** Unstated parts of the life; a wide default is used. */
  readonly notTold?: readonly Untold[];
  readonly look: LookFact | null;
  readonly renewMinutes: number;
  /** Key of the operation that renews it; missing if the library has none. */
  readonly operation?: string;
  /** Operations of the renewal, with those that give access; empty if the library has none. */
  readonly access: readonly { readonly key: string; readonly minutes: number }[];
  /** Keys of the components that go in new with it; missing if the library has no operations. */
  readonly goesWith?: readonly string[];
  /** Missing if the library has no operations. */
  readonly work?: WorkFact;
  /** Price of the original part, in the money of the policy's costs; null when it is not known. */
  readonly partPrice: number | null;
  /** Median price of the parts of its class: what it is counted at where its own is not known. */
  readonly usualPrice?: number | null;
  readonly appliesTo: ApplicabilityRule;
  /** Revision of the part that ends the weak point, if there is one. */
  readonly retiredByRevision: string | null;
  /**
   * Task of the driver about something that is never renewed before it fails (rings, a whole
   * engine).
   */
  readonly watch: WatchFact | null;
  readonly damages: readonly DamageFact[];
  readonly symptoms: readonly SymptomFact[];
  /** What the suspicion of it forbids; nothing where nothing is told. */
  readonly forbids?: readonly Forbiddable[];
  /**
   * Cost of a failure; null if the library has none: then the shop's own figure for the consequence
   * counts.
   */
  readonly failure: FailureFact | null;
  readonly hastens: readonly HastenFact[];
  readonly revisions: readonly RevisionFact[];
  readonly statements: readonly StatementFact[];
  readonly fittedTo: FittedTo;
  /** Feature that distinguishes the part that ends it from the older ones. */
  readonly revisedHowToTell: string | null;
  /** Null while no vehicle on file says anything. */
  readonly experience: ExperienceFact | null;
  /** Bulletins and coverages about it, latest first; none where they are left out. */
  readonly notices?: readonly NoticeFact[];
}

/** The shop's settings that the answer depends on. */
export interface OutlookPolicy {
  readonly serviceKm: number;
  readonly serviceDays: number;
  /** Days until a vehicle can be brought in: what crosses its limit before that is held. */
  readonly holdDays: number;
  readonly limits: Readonly<Record<Consequence, number>>;
  readonly safetyLimit: number;
  /** Consequences for which proof of a renewal is wanted. */
  readonly proofFor: readonly ProofClass[];
  /** The school the shop follows, by consequence. */
  readonly schools: Readonly<Record<Consequence, School>>;
  /** Cost of a failure beyond the renewal itself, by consequence; any one money. */
  readonly failureCost: Readonly<Record<Consequence, number>>;
  /** Cost of one hour of labour. */
  readonly labourCostPerHour: number;
  readonly dutyFactors: DutyFactors;
}

export interface OutlookInput {
  readonly today: number;
  readonly path: UsagePath;
  /** The engine now fitted, where it is not the one the vehicle was built with. */
  readonly engine: EnginePath | null;
  /** Relative sd of the forecast rate. */
  readonly rateSpread: number;
  /** A mechanic's own factor on the distance clock, beside the duty profile. */
  readonly severity: number;
  readonly duty: DutyProfile;
  /** The vehicle is among the observations that the experience rests on: its own survival is not used twice. */
  readonly counted: boolean;
  readonly choices: readonly SchoolChoice[];
  readonly facts: VehicleFacts;
  readonly weakPoints: readonly WeakPointFact[];
  readonly services: readonly ServiceFact[];
  readonly findings: readonly FindingFact[];
  /** What is reported and not solved yet; nothing where none is given. */
  readonly reports?: readonly ReportFact[];
  /** How likely each weak point is the cause of what is reported, by id; nothing where none is given. */
  readonly suspects?: ReadonlyMap<string, number>;
  /** Recurring tasks of this engine, with their records on this vehicle. */
  readonly tasks: readonly UpkeepTaskFact[];
  readonly upkeep: readonly UpkeepFact[];
  readonly policy: OutlookPolicy;
}

/** Due date on calendar and meter; a day in the past is the day since which it is overdue. */
export interface DueFact extends WhenFact {
  /** Range of the date and of the reading from the spread of the forecast. */
  readonly earliestDay: number;
  readonly latestDay: number;
}

/** One lane over the bins whose edges the drawing gives. */
export interface Ribbon {
  /**
   * Chance of failing within one service interval from the bin's first day, given alive there; null where no part is
   * known to have been in there.
   */
  readonly chance: readonly (number | null)[];
  /** Chance, seen from now, that it fails in the bin; 0 in the past. */
  readonly mass: readonly number[];
}

export interface InstallFact {
  readonly certainty: Certainty | 'assumed';
  readonly day: number;
  readonly weight: number;
}

/** Reasons for the date of a school; the screen makes words of them. */
export const SCHOOL_REASONS = [
  'interval',
  'no_interval',
  'limit',
  'no_limit',
  'not_in_sight',
  'looks',
  'no_look',
  'looks_too_seldom',
  'least_cost',
  'run_to_failure',
  'nobody_renews',
] as const;

/** Next date of one school for this vehicle. */
export interface SchoolView {
  readonly school: School;
  /** Null when it would not act within its horizon, or has nothing to go by. */
  readonly due: WhenFact | null;
  readonly because: (typeof SCHOOL_REASONS)[number];
  /** Action of the school on that date. */
  readonly asks: StatementAsks;
  /** Days between two looks, for Condition. */
  readonly everyDays: number | null;
}

/** Origin of the school that a row follows: a choice, or the rule that overruled it. */
export const FOLLOWED_BY = ['shop', 'vehicle', 'row', 'safety', 'nothing_to_go_by'] as const;

export interface FollowedBecause {
  readonly by: (typeof FOLLOWED_BY)[number];
  /** The school that was wanted. */
  readonly wanted: School;
  /** Reason given with the choice for this vehicle or row. */
  readonly reason: string | null;
}

/** A published interval that has passed. */
export interface OverdueFact {
  readonly authority: string;
  readonly asks: StatementAsks;
  readonly since: WhenFact;
  /** Length of it in days and km. */
  readonly days: number;
  readonly km: number;
  readonly countedFrom: CountedFrom;
}

export interface OutlookRow {
  readonly weakPoint: WeakPointFact;
  readonly verdict: Verdict;
  readonly rule: DecisionRule;
  readonly reason: string;
  readonly wouldChange: string;
  readonly chance: number;
  readonly limit: number;
  /** Chance that the weak point applies to this vehicle at all, where that is open; 1 when it does. */
  readonly appliesWeight: number;
  readonly settle: string | null;
  readonly due: DueFact | null;
  readonly schools: readonly SchoolView[];
  /** The school that decided, and why that one. */
  readonly followed: School;
  readonly followedBecause: FollowedBecause;
  readonly authorities: readonly AuthorityMark[];
  readonly installs: readonly InstallFact[];
  /** Probability that the part now in there is the one it was built with. */
  readonly originalChance: number;
  /** Part of the chance that has failed already and is still in there; 0 where a record says what is in there. */
  readonly already: number;
  /** Chance before the next service if it is the first one; null where a record says which it is. */
  readonly ifFirst: number | null;
  /** The same where the decision rests on it, because nobody can show a renewal. */
  readonly unproved: number | null;
  /** A published interval that has passed, whichever school is followed. */
  readonly overdue: OverdueFact | null;
  /** Bulletins and coverages that are in force for this vehicle. */
  readonly notices: readonly NoticeInForce[];
  /** The job that it goes along with. */
  readonly rides: RideFact | null;
  readonly looks: readonly { readonly day: number; readonly result: Condition }[];
  /** Factors of use on the clocks of this part. */
  readonly dutyOn: ClockDuty;
  /** P(susceptible | alive) over the susceptible share: how much of the fear survival has left. */
  readonly shareLeft: number;
  /** Rank for ordering: lower is more pressing. */
  readonly rank: number;
}

export interface ExcludedRow {
  readonly weakPoint: Pick<WeakPointFact, 'id' | 'key' | 'title' | 'component' | 'group'>;
  readonly because: string;
}

/** Data for the drawing of a vehicle and for its plan. */
export interface Drawing {
  /** Edges of the ribbons' bins, day numbers; one more than there are bins. */
  readonly edges: readonly number[];
  /** One for each row, in their order. */
  readonly ribbons: readonly (Ribbon & { readonly weakPointId: string })[];
  readonly forecast: Forecast;
}

export interface Outlook {
  readonly rows: readonly OutlookRow[];
  readonly excluded: readonly ExcludedRow[];
  /** Complaints that hold the vehicle until they are solved or withdrawn. */
  readonly holds: readonly ReportFact[];
  /** Recurring tasks, overdue ones first. */
  readonly upkeep: readonly UpkeepRow[];
  readonly nextService: WhenFact;
  readonly now: WhenFact;
  /** Null unless it was asked for. */
  readonly drawing: Drawing | null;
}
