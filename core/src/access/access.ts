/** A labour operation: minutes for itself once all it needs is off, and the operations that give access to it. */
export interface Operation {
  readonly minutes: number;
  readonly needs: readonly string[];
}

export type Operations = ReadonlyMap<string, Operation>;

/**
 * All operations that some of them take, each once: themselves and what must be off before, what gives access first.
 * Throws RangeError on an operation that is not there, and on one that needs itself, naming the way round.
 */
export function closureOf(operations: Operations, wanted: readonly string[]): string[] {
  const done: string[] = [];
  const finished = new Set<string>();
  const open: string[] = [];
  const visit = (key: string): void => {
    if (finished.has(key)) return;
    const at = open.indexOf(key);
    if (at >= 0) throw new RangeError(`an operation needs itself: ${[...open.slice(at), key].join(' > ')}`);
    const operation = operations.get(key);
    if (operation === undefined) throw new RangeError(`there is no operation ${key}`);
    open.push(key);
    operation.needs.forEach(visit);
    open.pop();
    finished.add(key);
    done.push(key);
  };
  wanted.forEach(visit);
  return done;
}

/** Minutes of some jobs, each told by the operations it takes directly. */
export interface AccessMinutes {
  /** Minutes of each job alone, with all its access. */
  readonly alone: readonly number[];
  /** Minutes of all jobs in one visit, with shared access counted once. */
  readonly together: number;
  /** Minutes that the last job adds to the others. */
  readonly marginalLast: number;
  /** Each operation split equally among the jobs that need it; they sum to `together`. */
  readonly shares: readonly number[];
}

/**
 * Minutes of labour of jobs done in one visit: those of the union of all they take. Source: the fair share of an
 * operation is that of the airport game (Shapley value), equal among those who need it. Throws as closureOf does.
 */
export function accessMinutes(operations: Operations, jobs: readonly (readonly string[])[]): AccessMinutes {
  const closures = jobs.map((job) => closureOf(operations, job));
  const minutesOf = (key: string): number => operations.get(key)!.minutes;
  const total = (keys: Iterable<string>): number => [...keys].reduce((sum, key) => sum + minutesOf(key), 0);
  const users = new Map<string, number>();
  for (const key of closures.flat()) users.set(key, (users.get(key) ?? 0) + 1);
  const together = total(users.keys());
  return {
    alone: closures.map(total),
    together,
    marginalLast: together - total(new Set(closures.slice(0, -1).flat())),
    shares: closures.map((keys) => keys.reduce((sum, key) => sum + minutesOf(key) / users.get(key)!, 0)),
  };
}
