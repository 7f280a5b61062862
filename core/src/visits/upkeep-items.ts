import type { Forecast } from '../forecast/forecast.ts';
import type { Span } from '../shorthand/window.ts';
import type { UpkeepKind, UpkeepStanding } from '../upkeep/tasks.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { taskKey } from './keys.ts';
import type { DraftItem } from './proposal.ts';

/** A recurring task as an answer tells it. */
export interface ToldTask {
  readonly taskId: string;
  readonly kind: UpkeepKind;
  readonly minutes: number;
  readonly ownerCan: boolean;
  /** Season in which it is done; null where any will do. */
  readonly season: unknown;
  readonly standing: UpkeepStanding;
  readonly due: { readonly day: number } | null;
  readonly lastDay: number | null;
  /** Authority whose interval it is due by. */
  readonly by: string | null;
  readonly statements: readonly { readonly authority: string; readonly interval: readonly Span[] }[];
  readonly protects: readonly { readonly weakPointId: string; readonly factor: number }[];
}

/** What upkeep is planned on. */
export interface UpkeepGround {
  readonly forecast: Forecast;
  readonly rateKmPerDay: number;
  /** Upkeep of which nobody knows when it was last done is done soon, not at the next service. */
  readonly isBought: boolean;
  readonly months: number;
  /** Cost of a failure of a weak point beyond its renewal; null for one that is not told. */
  readonly failureOf: (weakPointId: string) => number | null;
}

/** Part of an interval before which nobody does a task again; what is given away of the rest is counted. */
const TOO_EARLY = 0.5;
/** Days within which what nobody knows of is done after a purchase. */
const SOON_DAYS = 30;
/** Each task is planned at most so many times over, the first counted. */
const MOST_TIMES = 6;
/** What falls due within this part of its interval of an oil change is done with it. */
const MOVED_WITHIN = 0.15;

/**
 * Days of the shortest of some spans at a use of so many km a day; null if they are in hours only.
 */
export function daysOf(spans: readonly Span[], rateKmPerDay: number): number | null {
  const days = spans.flatMap(({ clock, from }) =>
    clock === 'age' ? [from] : clock === 'distance' && rateKmPerDay > 0 ? [from / rateKmPerDay] : [],
  );
  return days.length === 0 ? null : Math.min(...days);
}

/** Days between two times of a task; null where nobody tells them, or more often than a plan goes into. */
function everyDays({ due, lastDay, by, statements }: ToldTask, rateKmPerDay: number): number | null {
  const interval = statements.find(({ authority }) => authority === by)?.interval ?? [];
  const days = lastDay === null || due === null ? daysOf(interval, rateKmPerDay) : due.day - lastDay;
  return days === null || days < PLAN_MONTH_DAYS ? null : days;
}

/** The times that one task falls due within the months of a plan, each with the days between two of them. */
function timesOf(
  task: ToldTask,
  { forecast, rateKmPerDay, isBought, months, failureOf }: UpkeepGround,
): { readonly every: number | null; readonly items: DraftItem[] } {
  const { standing, ownerCan } = task;
  const { nowDay } = forecast;
  // What the owner does himself is not waited for.
  const unknown =
    standing === 'unknown' && !ownerCan ? { day: nowDay + (isBought ? SOON_DAYS : forecast.serviceDays) } : null;
  const due = task.due ?? unknown;
  const every = everyDays(task, rateKmPerDay);
  if (due === null || (ownerCan && standing === 'later')) return { every, items: [] };
  const first = Math.max(due.day, nowDay);
  const until = nowDay + months * PLAN_MONTH_DAYS;
  const times = every === null || ownerCan ? 1 : Math.ceil((until - first) / every);
  const protects = task.protects.flatMap(({ weakPointId, factor }) => {
    const item = forecast.items.find((one) => one.weakPointId === weakPointId);
    const failure = failureOf(weakPointId);
    return item && failure !== null ? [{ forecast: item, factor, failure }] : [];
  });
  const items = Array.from({ length: Math.min(MOST_TIMES, times) }, (_, time): DraftItem => {
    const dueDay = time === 0 ? due.day : first + time * every!;
    // What nobody knows of may be overdue already: its neglect counts from now, wherever it is put.
    const neglectedFrom = time === 0 && task.due === null ? nowDay : dueDay;
    return {
      key: taskKey(task.taskId, time + 1),
      operations: [],
      ownMinutes: task.minutes,
      isCooling: false,
      isInspected: false,
      dueDay,
      notBeforeDay: every === null || neglectedFrom === nowDay ? null : dueDay - every * (1 - TOO_EARLY),
      money: {
        kind: 'task',
        dueMonth: (neglectedFrom - nowDay) / PLAN_MONTH_DAYS,
        everyMonths: every === null ? null : every / PLAN_MONTH_DAYS,
        protects,
      },
      before: null,
      goesWith: null,
      isOnlyByHand: false,
    };
  }).filter(({ dueDay }) => dueDay! < until);
  return { every, items };
}

/** The oil change: of what the workshop drains and fills again, what falls due the most often. */
function oilChanges(
  tasks: readonly { readonly task: ToldTask; readonly every: number | null; readonly items: DraftItem[] }[],
): readonly DraftItem[] {
  const [first] = tasks
    .filter(({ task, every, items }) => task.kind === 'fluid' && !task.ownerCan && every !== null && items.length > 0)
    .sort((a, b) => a.every! - b.every!);
  return first?.items ?? [];
}

/** A task as it is moved to the oil change that it falls due next to; as it was where none is near. */
function besideOil(item: DraftItem, every: number | null, oil: readonly DraftItem[]): DraftItem {
  if (every === null || item.dueDay === null) return item;
  const away = (change: DraftItem): number => Math.abs(change.dueDay! - item.dueDay!);
  const near = oil.reduce<DraftItem | null>(
    (best, change) => (best === null || away(change) < away(best) ? change : best),
    null,
  );
  if (near === null || away(near) > MOVED_WITHIN * every) return item;
  const notBeforeDay = item.notBeforeDay === null ? null : Math.min(item.notBeforeDay, near.dueDay!);
  return { ...item, dueDay: near.dueDay, notBeforeDay, goesWith: near.key };
}

/**
 * Upkeep as often as it falls due over the months of a plan. Where nobody knows when it was last done it is done by the
 * next service, or soon after a purchase. What falls due within 15 % of its interval of an oil change is done with it,
 * but for what has a season of its own.
 */
export function upkeepItems(tasks: readonly ToldTask[], ground: UpkeepGround): DraftItem[] {
  const timed = tasks.map((task) => ({ task, ...timesOf(task, ground) }));
  const oil = oilChanges(timed);
  const isOil = new Set(oil.map(({ key }) => key));
  return timed.flatMap(({ task, every, items }) =>
    items.map((item) => (isOil.has(item.key) || task.season !== null ? item : besideOil(item, every, oil))),
  );
}
