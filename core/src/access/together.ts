import { closureOf, type Operations } from './access.ts';

/** Work on one visit: the operations it takes, and minutes beside them. */
export interface WorkItem {
  /** Operations that it takes directly; what gives access to them is added. */
  readonly operations: readonly string[];
  /**
   * Minutes beside the operations: a look, a task, or a renewal without operations in the library.
   */
  readonly own: number;
}

/** One operation of a visit, done once however many need it. */
export interface SharedStep {
  readonly key: string;
  readonly minutes: number;
  /** Places of the items that need it. */
  readonly for: readonly number[];
}

/** Minutes and steps of some work that is done in one visit. */
export interface WorkTogether {
  /** All of it, shared access counted once. */
  readonly minutes: number;
  /** Each by itself, with all its access. */
  readonly alone: readonly number[];
  /** Operations in the order they are done, what gives access first. */
  readonly steps: readonly SharedStep[];
  /** Fair minutes of each: every operation split equally among those who need it. */
  readonly shares: readonly number[];
}

/**
 * Minutes of work done in one visit: each operation once, and what each has beside. Operations that are not there are
 * passed over. Throws RangeError on operations that need each other in a ring, naming the way round.
 */
export function workTogether(operations: Operations, work: readonly WorkItem[]): WorkTogether {
  const closures = work.map(({ operations: keys }) =>
    closureOf(
      operations,
      keys.filter((key) => operations.has(key)),
    ),
  );
  const users = new Map<string, number[]>();
  closures.forEach((keys, i) => {
    for (const key of keys) users.set(key, [...(users.get(key) ?? []), i]);
  });
  const order = closureOf(operations, [...new Set(closures.flat())]);
  const steps = order.map((key) => ({ key, minutes: operations.get(key)!.minutes, for: users.get(key)! }));
  const beside = work.reduce((sum, { own }) => sum + own, 0);
  const total = (keys: readonly string[]): number => keys.reduce((sum, key) => sum + operations.get(key)!.minutes, 0);
  return {
    minutes: beside + steps.reduce((sum, { minutes }) => sum + minutes, 0),
    alone: work.map(({ own }, i) => own + total(closures[i]!)),
    steps,
    shares: work.map(
      ({ own }, i) =>
        own + closures[i]!.reduce((sum, key) => sum + operations.get(key)!.minutes / users.get(key)!.length, 0),
    ),
  };
}

/** Work of one job on a visit, from the library: a renewal of its weak point or a look at it. */
export interface JobTold {
  readonly action: 'renew' | 'look';
  /** Key of the operation that renews it; null if the library has none. */
  readonly operation: string | null;
  /** Minutes of the renewal, used if there is no operation. */
  readonly renewMinutes: number;
  readonly look: { readonly minutes: number; readonly off: readonly string[] } | null;
}

/** Minutes assumed for a look without minutes in the library. */
export const UNTOLD_LOOK_MINUTES = 10;

/** A job as work on a visit. */
export const workOfJob = ({ action, operation, renewMinutes, look }: JobTold): WorkItem =>
  action === 'look'
    ? { operations: look?.off ?? [], own: look?.minutes ?? UNTOLD_LOOK_MINUTES }
    : operation === null
      ? { operations: [], own: renewMinutes }
      : { operations: [operation], own: 0 };
