import { USUAL_PLANNING, type AnswerRow, type Settings, type VehiclePlanning, type Visit } from '@crosspeen/contract';
import {
  dayFromIso,
  keyMeans,
  lookKey,
  monthOfPlan,
  PLAN_MONTH_DAYS,
  pointKey,
  proposalGround,
  taskKey,
  usualTerms,
  type PlanEvent,
  type ProposalGround,
  type ProposalTerms,
} from '@crosspeen/core';
import type { VehicleOutlook } from '../../../api/answer.ts';

/** Months that visits are proposed for, and that keeping a vehicle is weighed over. */
export const MONTHS = 36;
export const KEEPING_MONTHS = 60;

/** What is worn on the day of an inspection is due soon after it, at the latest. */
const INSPECTION_REACH_DAYS = 91;

/** What the planner is asked: a vehicle, its terms, and where things stand by what is planned already. */
export interface PlannerAsked {
  readonly ground: ProposalGround;
  readonly terms: ProposalTerms;
  /** Months of what stands on planned visits, by key. */
  readonly standing: ReadonlyMap<string, number>;
}

/** A visit as far as it is planned by. */
type StandingVisit = Pick<Visit, 'state' | 'day'> & {
  readonly id: string;
  readonly jobs: readonly Pick<Visit['jobs'][number], 'weakPointId' | 'action'>[];
  readonly tasks: readonly Pick<Visit['tasks'][number], 'taskId'>[];
};

/** Keys of what stands on planned visits, by visit; a task that stands on several is its first time, its second. */
export function keysOnVisits(visits: readonly StandingVisit[]): Map<string, string[]> {
  const times = new Map<string, number>();
  return new Map(
    [...visits]
      .sort((a, b) => a.day.localeCompare(b.day))
      .map(({ id, jobs, tasks }) => [
        id,
        [
          ...jobs.map(({ weakPointId, action }) => (action === 'look' ? lookKey(weakPointId) : pointKey(weakPointId))),
          ...tasks.map(({ taskId }) => {
            const time = (times.get(taskId) ?? 0) + 1;
            times.set(taskId, time);
            return taskKey(taskId, time);
          }),
        ],
      ]),
  );
}

/** The month of the planner that a day falls into, within its months. */
export const monthWithin = (nowDay: number, iso: string, months = MONTHS): number =>
  Math.min(months - 1, Math.max(0, monthOfPlan(nowDay, dayFromIso(iso)!)));

/** What something is called, and what is done about it. */
export interface Thing {
  readonly kind: 'renew' | 'look' | 'task';
  readonly title: string;
  readonly row: AnswerRow | null;
}
export const THING_WORDS = { renew: 'Renew', look: 'Look', task: 'Upkeep' } as const;

/** Names of what the planner's keys mean on this vehicle. */
export function thingsOf({ answer }: Pick<VehicleOutlook, 'answer'>): (key: string) => Thing {
  const rows = new Map<string, AnswerRow>(answer.rows.map((row) => [row.weakPointId, row]));
  const tasks = new Map<string, string>(answer.upkeep.map(({ taskId, title }) => [taskId, title]));
  return (key) => {
    const { kind, id } = keyMeans(key);
    if (kind === 'task') return { kind, title: tasks.get(id) ?? '', row: null };
    const row = rows.get(id)!;
    return { kind: kind === 'look' ? 'look' : 'renew', title: row.title, row };
  };
}

const minorOf = (settings: Settings) => ({
  failureCost: settings.failureCostMinor,
  labourCostPerHour: settings.labourRateMinor,
});

/** Days before which something has to be done, as its owner says. */
function eventsOf({ inspection, trip }: VehiclePlanning, rateKmPerDay: number): PlanEvent[] {
  const events: PlanEvent[] = [];
  if (trip !== null) {
    const day = dayFromIso(trip.day)!;
    // What the way itself brings nearer counts too.
    const reach = rateKmPerDay > 0 ? trip.km / rateKmPerDay : 0;
    events.push({ day, dueBy: day + Math.round(reach), onlyInspected: false });
  }
  if (inspection !== null) {
    const day = dayFromIso(inspection)!;
    events.push({ day, dueBy: day + INSPECTION_REACH_DAYS, onlyInspected: true });
  }
  return events;
}

/** The terms that a vehicle is planned by; amounts in minor units. */
export function termsOf(
  settings: Settings,
  planning: VehiclePlanning,
  { nowDay, rateKmPerDay, months }: { readonly nowDay: number; readonly rateKmPerDay: number; readonly months: number },
): ProposalTerms {
  const kept = planning.keepUntil === null ? Infinity : (dayFromIso(planning.keepUntil)! - nowDay) / PLAN_MONTH_DAYS;
  return {
    ...usualTerms(months, { labourCostPerHour: settings.labourRateMinor, visitOwnerCost: settings.visitOwnerMinor }),
    keptMonths: kept < months ? kept : null,
    capacity: planning.visitMinutes,
    budget: planning.visitBudgetMinor,
    yearBudget: planning.yearBudgetMinor,
    coolingBeforeSummer: planning.coolingBeforeSummer,
    events: eventsOf(planning, rateKmPerDay),
    notBeforeDay: planning.notBefore === null ? null : dayFromIso(planning.notBefore)!,
  };
}

/** A vehicle as the planner takes it; null where nothing is drawn of what lies ahead. */
export function plannerAsked(
  {
    answer,
    visits,
    vehicle,
  }: Pick<VehicleOutlook, 'answer' | 'vehicle'> & { readonly visits: readonly StandingVisit[] },
  settings: Settings,
  { months = MONTHS, isEveryRenewal = false }: { readonly months?: number; readonly isEveryRenewal?: boolean } = {},
): PlannerAsked | null {
  if (answer.drawing === null) return null;
  const { forecast } = answer.drawing;
  const operations = new Map(answer.operations.map((operation) => [operation.key, operation]));
  const { rateKmPerDay } = answer.usage;
  const planned = visits.filter(({ state }) => state === 'planned');
  const keys = keysOnVisits(planned);
  const standing = new Map<string, number>(
    planned.flatMap(({ id, day }) =>
      keys.get(id)!.map((key) => [key, monthWithin(forecast.nowDay, day, months)] as const),
    ),
  );
  return {
    ground: proposalGround(
      {
        forecast,
        operations,
        points: answer.rows,
        tasks: answer.upkeep,
        rateKmPerDay,
        isBought: false,
        isEveryRenewal,
        standing: new Map(planned.flatMap(({ jobs }) => jobs.map(({ weakPointId, action }) => [weakPointId, action]))),
      },
      { months, policy: minorOf(settings) },
    ),
    terms: termsOf(settings, vehicle.planning ?? USUAL_PLANNING, { nowDay: forecast.nowDay, rateKmPerDay, months }),
    standing,
  };
}
