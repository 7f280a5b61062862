import { applicability, type ApplicabilityRule, type VehicleFacts } from '../applicability/applicability.ts';
import { standings } from '../schools/authorities.ts';
import type { StatementFact, StatementStanding } from '../schools/statements.ts';
import { CLOCK_KINDS, type ClocksByKind } from '../usage/clock.ts';
import type { LookPlace } from '../look/words.ts';
import type { EngineSpot } from '../look/engine-map.ts';
import type { Neglect } from './hastened.ts';
import { dayInSeason, type Season } from './season.ts';
import { upkeepState, type Stretch, type UpkeepInterval } from './upkeep.ts';

/** Kinds of a recurring task. */
export const UPKEEP_KINDS = ['look', 'measure', 'adjust', 'clean', 'fluid', 'renew'] as const;
export type UpkeepKind = (typeof UPKEEP_KINDS)[number];

/** How fast what a task protects wears while it is overdue, where nobody says. A view of the trade, not measured. */
export const USUAL_NEGLECT = 1.3;

/** Part of an interval that is let pass before neglect counts. */
export const UPKEEP_GRACE = 0.1;

/** Something that is done again and again on an engine. Minutes of labour. */
export interface UpkeepTaskFact {
  readonly id: string;
  readonly key: string;
  readonly kind: UpkeepKind;
  readonly title: string;
  readonly how: string;
  readonly minutes: number;
  /** The owner of the vehicle can do it. */
  readonly ownerCan: boolean;
  /** Place on the vehicle and on the engine; null if unstated. */
  readonly place: LookPlace | null;
  readonly spot: EngineSpot | null;
  readonly season: Season | null;
  readonly appliesTo: ApplicabilityRule;
  /** Dangers of the task, in words. */
  readonly cautions: readonly string[];
  /** Statements about its interval. */
  readonly statements: readonly StatementFact[];
  /**
   * Weak points that it protects, and how many times as fast each wears while the task is overdue.
   */
  readonly protects: readonly { readonly weakPointId: string; readonly factor: number }[];
}

/** Records of one task on one vehicle. */
export interface UpkeepFact {
  readonly taskId: string;
  /** Done on that day, or known never to have been done until then. */
  readonly certainty: 'done' | 'never';
  readonly day: number;
}

/**
 * Standing of a task: due before the next service, later, overdue since a day in the past, last
 * done at an unknown time, or without an interval for this vehicle.
 */
export const UPKEEP_STANDINGS = ['overdue', 'due', 'unknown', 'later', 'no_interval'] as const;
export type UpkeepStanding = (typeof UPKEEP_STANDINGS)[number];

/** A recurring task on one vehicle. Day numbers, km on the vehicle's meter. */
export interface UpkeepRow {
  readonly task: UpkeepTaskFact;
  readonly standing: UpkeepStanding;
  readonly due: { readonly day: number; readonly km: number } | null;
  /** Day on which it was last done; null where no record says. */
  readonly lastDay: number | null;
  /** Authority whose interval it is due by. */
  readonly by: string | null;
  /** Stretches in which it was neglected: overdue by the most patient interval of those not doubted, and some more. */
  readonly neglected: readonly Stretch[];
  /** Standing of each statement of the task for this vehicle. */
  readonly standings: readonly StatementStanding[];
}

export interface UpkeepQuestion {
  readonly tasks: readonly UpkeepTaskFact[];
  readonly done: readonly UpkeepFact[];
  readonly facts: VehicleFacts;
  readonly clocks: ClocksByKind;
  readonly startDay: number;
  /** Day before which no record is about this engine; null where it was never swapped. */
  readonly fittedDay: number | null;
  readonly today: number;
  readonly serviceDays: number;
  readonly kmAtDay: (day: number) => number;
}

/** Statements that speak for a vehicle and are not doubted, with an interval. */
function speaking(
  { statements }: UpkeepTaskFact,
  standing: readonly StatementStanding[],
  market: string | null,
): StatementFact[] {
  return statements.filter(
    ({ doubted, interval, region }, i) =>
      standing[i]!.counts && doubted !== true && interval.length > 0 && (region === null || region === market),
  );
}

const intervalOf = ({ interval }: StatementFact): UpkeepInterval[] =>
  interval.map(({ clock, from }) => ({ clock, at: from }));

/**
 * The longest interval on every clock: an owner who keeps to any one of them has neglected nothing.
 */
const mostPatient = (statements: readonly StatementFact[]): UpkeepInterval[] =>
  CLOCK_KINDS.flatMap((clock) => {
    const spans = statements.flatMap(({ interval }) => interval.filter((span) => span.clock === clock));
    return spans.length === 0 ? [] : [{ clock, at: Math.max(...spans.map(({ from }) => from)) }];
  });

/** Half an interval after it was last done, a season that has come early is worth its while. */
const SEASON_EARLY = 0.5;

function rowOf(task: UpkeepTaskFact, question: UpkeepQuestion): UpkeepRow {
  const { clocks, startDay, fittedDay, today, serviceDays, kmAtDay, facts } = question;
  const standing = standings(task.statements, facts.market);
  const statement = speaking(task, standing, facts.market);
  const records = question.done.filter(
    ({ taskId, day }) => taskId === task.id && day <= today && (fittedDay === null || day >= fittedDay),
  );
  const done = records.filter(({ certainty }) => certainty === 'done').map(({ day }) => day);
  const fromNew = records.some(({ certainty }) => certainty === 'never');
  const lastDay = done.length === 0 ? null : Math.max(...done);
  const anchored = fromNew || lastDay !== null;
  const history = { done, nowDay: today, grace: UPKEEP_GRACE };
  const dueBy = statement
    .map((statement) => ({
      by: statement.authority,
      // With nothing recorded the first interval still runs from new; once it has passed, nobody knows.
      day: upkeepState(
        { ...history, interval: intervalOf(statement), knownFrom: fromNew || !anchored ? startDay : null },
        clocks,
      ).dueDay!,
    }))
    .reduce<{ by: string; day: number } | null>(
      (first, one) => (first === null || one.day < first.day ? one : first),
      null,
    );
  const { overdue } = upkeepState(
    { ...history, interval: mostPatient(statement), knownFrom: fromNew ? startDay : null },
    clocks,
  );
  const row = { task, lastDay, neglected: overdue, standings: standing };
  if (dueBy === null || dueBy.day === Infinity)
    return { ...row, standing: dueBy === null ? 'no_interval' : 'later', due: null, by: dueBy?.by ?? null };
  const from = lastDay ?? startDay;
  const day =
    task.season === null ? dueBy.day : dayInSeason(dueBy.day, task.season, from + SEASON_EARLY * (dueBy.day - from));
  if (!anchored && day < today) return { ...row, standing: 'unknown', due: null, by: dueBy.by };
  return {
    ...row,
    standing: day < today ? 'overdue' : day <= today + serviceDays ? 'due' : 'later',
    due: { day, km: kmAtDay(day) },
    by: dueBy.by,
  };
}

/** Rank: the owner's own tasks between visits have no record, so an unknown one comes last. */
const place = ({ standing, task: { ownerCan } }: UpkeepRow): number =>
  standing === 'unknown' && ownerCan ? UPKEEP_STANDINGS.length : UPKEEP_STANDINGS.indexOf(standing);

/**
 * Every recurring task that applies to a vehicle, what is overdue first. It falls due by the strictest interval that
 * speaks for the vehicle and is not doubted, counted from the last record, and with none from new until that has
 * passed; it is neglected only beyond the most patient of them. What may apply is asked for as if it did.
 */
export function upkeepRows(question: UpkeepQuestion): UpkeepRow[] {
  return question.tasks
    .filter(({ appliesTo }) => applicability(appliesTo, question.facts).applies !== 'no')
    .map((task) => rowOf(task, question))
    .sort(
      (a, b) =>
        place(a) - place(b) ||
        (a.due?.day ?? Infinity) - (b.due?.day ?? Infinity) ||
        a.task.title.localeCompare(b.task.title),
    );
}

/** Acceleration of each weak point by the neglect of the tasks that protect it, by its id. */
export function neglectsOf(rows: readonly UpkeepRow[]): ReadonlyMap<string, readonly Neglect[]> {
  const byPoint = new Map<string, Neglect[]>();
  for (const { task, neglected } of rows) {
    if (neglected.length === 0) continue;
    for (const { weakPointId, factor } of task.protects)
      byPoint.set(weakPointId, [...(byPoint.get(weakPointId) ?? []), { overdue: neglected, factor }]);
  }
  return byPoint;
}
