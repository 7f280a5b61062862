import {
  failedByDay,
  keyMeans,
  latestDay,
  PLAN_MONTH_DAYS,
  workTogether,
  type Forecast,
  type Proposal,
} from '@crosspeen/core';
import type { PlannerAsked } from './ground.ts';

/** A visit of the board: proposed, or standing on a day that is agreed. */
export interface BoardPost {
  readonly month: number;
  readonly day: number;
  readonly keys: readonly string[];
  readonly minutes: number;
  readonly isStanding: boolean;
}

/** Something to do on the board, and where it stands. */
export interface BoardBead {
  readonly key: string;
  /** Null where it is left for later. */
  readonly month: number | null;
  /** The month by which it has to be done, in parts of a month; null where nothing asks for it. */
  readonly deadline: number | null;
}

/** One lane of the board: a weak point or a recurring task, with all that is done about it. */
export interface BoardLane {
  readonly id: string;
  readonly beads: readonly BoardBead[];
  /** Chance over a service interval from each month on; empty for what does not fail. */
  readonly chances: readonly number[];
}

/** The chance of an item over a service interval, at the middle of each month of the board. */
function chancesOf({ ahead, items }: Forecast, weakPointId: string, months: number): number[] {
  const item = items.find((one) => one.weakPointId === weakPointId);
  if (item === undefined) return [];
  return Array.from({ length: months }, (_, month) => {
    const day = (month + 0.5) * PLAN_MONTH_DAYS;
    const next = ahead.findIndex((at) => at >= day);
    return item.chance[Math.max(0, next - 1)] ?? 0;
  });
}

/** What is done on visits has a lane, what comes first at the top; what is left for later has none. */
export function boardLanes(
  { ground, terms }: PlannerAsked,
  months: ReadonlyMap<string, number>,
  isShown: (key: string) => boolean,
): BoardLane[] {
  const { forecast } = ground;
  const lanes = new Map<string, { beads: BoardBead[]; chances: readonly number[]; first: number }>();
  for (const item of ground.items) {
    if (!isShown(item.key)) continue;
    const { id } = keyMeans(item.key);
    const month = months.get(item.key) ?? terms.months;
    const last = latestDay(item, terms, forecast.nowDay);
    const of = item.money.kind === 'task' ? null : item.money.forecast;
    const lane = lanes.get(id) ?? {
      beads: [],
      chances: of === null ? [] : chancesOf(forecast, of.weakPointId, terms.months),
      first: Infinity,
    };
    lane.beads.push({
      key: item.key,
      month: month < terms.months ? month : null,
      deadline: last === null ? null : Math.max(0, (last - forecast.nowDay) / PLAN_MONTH_DAYS),
    });
    lane.first = Math.min(lane.first, month);
    lanes.set(id, lane);
  }
  return [...lanes]
    .sort(([, a], [, b]) => a.first - b.first)
    .map(([id, { beads, chances }]) => ({ id, beads, chances }));
}

/** Everything by its key, with the month it has in a proposal. */
export const monthsByKey = ({ ground }: PlannerAsked, { months }: Pick<Proposal, 'months'>): Map<string, number> => {
  // A proposal tells months in the order it was prepared: what is planned first, looks that are added after it.
  const order = [
    ...ground.items.filter(({ before }) => before === null),
    ...ground.items.filter(({ before }) => before !== null),
  ];
  return new Map(order.map(({ key }, i) => [key, months[i]!]));
};

/** Minutes of all proposed visits together, shared access once on each. */
export const minutesOfVisits = ({ ground }: PlannerAsked, visits: Proposal['visits']): number =>
  visits.reduce((sum, { keys }) => sum + minutesOf({ ground }, keys), 0);

/** Minutes of some things done together. */
export function minutesOf(
  { ground: { items, operations } }: Pick<PlannerAsked, 'ground'>,
  keys: readonly string[],
): number {
  const here = items.filter(({ key }) => keys.includes(key));
  return workTogether(
    operations,
    here.map(({ operations: of, ownMinutes }) => ({ operations: of, own: ownMinutes })),
  ).minutes;
}

/** Chance that something fails before the middle of a month; null for what does not fail. */
export function failsBefore({ ground }: PlannerAsked, key: string, month: number): number | null {
  const item = ground.items.find((one) => one.key === key);
  if (item === undefined || item.money.kind === 'task' || item.money.forecast === null) return null;
  return failedByDay(ground.forecast, item.money.forecast, ground.forecast.nowDay + (month + 0.5) * PLAN_MONTH_DAYS);
}
