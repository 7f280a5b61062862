import type { ApplicabilityRule, VehicleFacts } from '../applicability/applicability.ts';
import type { ComponentClass } from '../life/elicit.ts';
import type { School } from '../schools/schools.ts';
import type { Span } from '../shorthand/window.ts';
import type { UsagePath } from '../usage/path.ts';
import type { Consequence, Verdict } from '../verdict/verdict.ts';

export const GROUPS = ['timing', 'seals', 'cooling', 'other'] as const;
export type Group = (typeof GROUPS)[number];

export const AUTHORITY_KINDS = ['book', 'regional_book', 'bulletin', 'parts_maker', 'specialist', 'bench'] as const;
export type AuthorityKind = (typeof AUTHORITY_KINDS)[number];

/** What one authority says about one weak point. */
export interface StatementFact {
  readonly authority: string;
  readonly kind: AuthorityKind;
  readonly edition: string | null;
  readonly region: string | null;
  readonly words: string;
  /** Published interval; empty when it gives none. */
  readonly interval: readonly Span[];
}

/** A weak point as the computation needs it. Minutes of labour, days, km; shares and chances in [0, 1]. */
export interface WeakPointFact {
  readonly id: string;
  readonly key: string;
  readonly title: string;
  readonly component: string;
  readonly componentKey: string;
  readonly componentClass: ComponentClass;
  readonly group: Group;
  readonly consequence: Consequence;
  readonly safety: boolean;
  readonly effect: string;
  readonly signs: string;
  readonly share: number;
  /** Independent causes; the spans of one cause tell one window in several units. */
  readonly causes: readonly (readonly Span[])[];
  readonly look: { readonly how: string; readonly minutes: number; readonly detection: number; readonly falseAlarm: number; readonly warning: readonly Span[] } | null;
  readonly renewMinutes: number;
  /** Price of the original part, in the money of the policy's costs; null when it is not known. */
  readonly partPrice: number | null;
  readonly appliesTo: ApplicabilityRule;
  /** Revision of the part that ends the weak point, if there is one. */
  readonly retiredByRevision: string | null;
  readonly customKm: number | null;
  readonly statements: readonly StatementFact[];
}

export const CERTAINTIES = ['done', 'believed', 'unknown', 'not_done'] as const;
export type Certainty = (typeof CERTAINTIES)[number];

export const GRADES = ['original', 'equivalent', 'cheap'] as const;
export type Grade = (typeof GRADES)[number];

/** One service record of a component, newest information last. */
export interface ServiceFact {
  readonly componentKey: string;
  readonly certainty: Certainty;
  /** Day of the work; null when the record only says that nobody knows. */
  readonly day: number | null;
  readonly grade: Grade;
  readonly revision: string | null;
}

export interface FindingFact {
  readonly weakPointId: string;
  readonly day: number;
  readonly worn: boolean;
}

/** The shop's settings that the answer depends on. */
export interface OutlookPolicy {
  readonly serviceKm: number;
  readonly serviceDays: number;
  readonly limits: Readonly<Record<Consequence, number>>;
  readonly safetyLimit: number;
  /** The school the shop follows, by consequence. */
  readonly schools: Readonly<Record<Consequence, School>>;
  /** What a failure costs beyond the renewal itself, by consequence; any one money. */
  readonly failureCost: Readonly<Record<Consequence, number>>;
  readonly labourCostPerMinute: number;
}

export interface OutlookInput {
  readonly today: number;
  readonly path: UsagePath;
  /** Relative sd of the forecast rate. */
  readonly rateSpread: number;
  /** Multiplies the distance clock. */
  readonly severity: number;
  readonly facts: VehicleFacts;
  readonly weakPoints: readonly WeakPointFact[];
  readonly services: readonly ServiceFact[];
  readonly findings: readonly FindingFact[];
  readonly policy: OutlookPolicy;
}

/** A point in time on this vehicle, by date and by distance. */
export interface WhenFact {
  readonly day: number;
  readonly km: number;
}

export interface DueFact extends WhenFact {
  /** Range of the date and of the reading from the spread of the forecast. */
  readonly earliestDay: number;
  readonly latestDay: number;
}

export interface AuthorityMark {
  readonly statement: StatementFact;
  /** When this authority would act next, counted from the last renewal; null when it gives no interval. */
  readonly due: WhenFact | null;
}

/** One lane over the bins whose edges the outlook gives. */
export interface Ribbon {
  /** Chance of failing within one service interval from the bin's first day, given alive there; null where no part is known to have been in there. */
  readonly chance: readonly (number | null)[];
  /** Chance, seen from now, that it fails in the bin; 0 in the past. */
  readonly mass: readonly number[];
}

export interface InstallFact {
  readonly certainty: Certainty | 'assumed';
  readonly day: number;
  readonly weight: number;
}

/** When one school would act on this vehicle. */
export interface SchoolView {
  readonly school: School;
  /** Null when it would not act within its horizon, or has nothing to go by. */
  readonly due: WhenFact | null;
  /** Why, by name; words are made of it on screen. */
  readonly because: 'interval' | 'no_interval' | 'limit' | 'no_limit' | 'not_in_sight' | 'looks' | 'no_look' | 'looks_too_seldom' | 'least_cost' | 'run_to_failure';
  /** Days between two looks, for Condition. */
  readonly everyDays: number | null;
}

export interface OutlookRow {
  readonly weakPoint: WeakPointFact;
  readonly verdict: Verdict;
  readonly rule: string;
  readonly reason: string;
  readonly wouldChange: string;
  readonly chance: number;
  readonly limit: number;
  /** Chance that the weak point applies to this vehicle at all, where that is open; 1 when it does. */
  readonly appliesWeight: number;
  readonly settle: string | null;
  readonly due: DueFact | null;
  readonly schools: readonly SchoolView[];
  /** The school that decided; another than the shop's own where that had nothing to say, or safety forbids it. */
  readonly followed: School;
  readonly authorities: readonly AuthorityMark[];
  readonly installs: readonly InstallFact[];
  /** Probability that the part now in there is the one it was built with. */
  readonly originalChance: number;
  readonly looks: readonly { readonly day: number; readonly worn: boolean }[];
  readonly ribbon: Ribbon;
  /** P(susceptible | alive) over the susceptible share: how much of the fear survival has left. */
  readonly shareLeft: number;
  /** For ordering: lower is more pressing. */
  readonly rank: number;
}

export interface ExcludedRow {
  readonly weakPoint: Pick<WeakPointFact, 'id' | 'key' | 'title' | 'component' | 'group'>;
  readonly because: string;
}

export interface Outlook {
  readonly rows: readonly OutlookRow[];
  readonly excluded: readonly ExcludedRow[];
  readonly nextService: WhenFact;
  /** Edges of the ribbons' bins, day numbers; one more than there are bins. */
  readonly ribbonEdges: readonly number[];
  readonly now: WhenFact;
}
