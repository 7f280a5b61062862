import type { Visit, VisitCreate, VisitsPlanned } from '@crosspeen/contract';
import { isoFromDay, keyMeans, type Proposal, type ProposedVisit } from '@crosspeen/core';
import type { VehicleOutlook } from '../../../api/answer.ts';
import { usualPart } from '../../../parts/job/usual-part.ts';
import { monthWithin, type PlannerAsked, type Thing } from './ground.ts';

/** A proposed visit with what is new on it, and the planned visit that it joins; null for one of its own. */
export interface FreshVisit extends ProposedVisit {
  /** Everything on it, what stands there included. */
  readonly all: readonly string[];
  readonly joins: Visit | null;
}

/** What is proposed beside what stands on planned visits. */
export const freshVisits = (
  { ground, standing }: PlannerAsked,
  { visits }: Pick<Proposal, 'visits'>,
  planned: readonly Visit[],
): FreshVisit[] =>
  visits.flatMap((visit) => {
    const keys = visit.keys.filter((key) => !standing.has(key));
    const joins = planned.find(({ day }) => monthWithin(ground.forecast.nowDay, day) === visit.month) ?? null;
    return keys.length === 0 ? [] : [{ ...visit, keys, all: visit.keys, joins }];
  });

/** Proposed visits as they are planned: new ones, and what is added to those that stand. */
export function asPlan(
  visits: readonly FreshVisit[],
  { answer, parts }: Pick<VehicleOutlook, 'answer' | 'parts'>,
  thingOf: (key: string) => Thing,
): VisitsPlanned {
  const work = (keys: readonly string[]): Pick<VisitCreate, 'jobs' | 'tasks'> => ({
    jobs: keys.flatMap((key) => {
      const { row, kind } = thingOf(key);
      return row === null || kind === 'task'
        ? []
        : [{ weakPointId: row.weakPointId, action: kind, ...usualPart(parts[row.componentKey]) }];
    }),
    tasks: keys.flatMap((key) => {
      const { kind, id } = keyMeans(key);
      const task = answer.upkeep.find(({ taskId }) => kind === 'task' && taskId === id);
      return task === undefined ? [] : [task.taskId];
    }),
  });
  return {
    visits: visits
      .filter(({ joins }) => joins === null)
      .map(({ day, keys }) => ({ day: isoFromDay(day), km: null, note: null, ...work(keys) })),
    joins: visits.flatMap(({ joins, keys }) =>
      joins === null ? [] : [{ id: joins.id, version: joins.version, ...work(keys) }],
    ),
  };
}

/** What accepting comes to. */
export function acceptWords(visits: readonly FreshVisit[]): string {
  const own = visits.filter(({ joins }) => joins === null).length;
  const additions = visits.length - own;
  const planned = own === 1 ? 'this visit' : `these ${own} visits`;
  const added = additions === 1 ? 'the planned visit' : `${additions} planned visits`;
  if (own === 0) return `Add to ${added}`;
  return additions === 0 ? `Plan ${planned}` : `Plan ${planned}, add to ${added}`;
}
