import { closureOf, type Operations } from '../access/access.ts';
import { LOOK_PLACES, type LookPlace } from '../look/words.ts';

/** Something to be looked at or done on the way round: where, how long, what must be off, and what it is worth. */
export interface WalkItem {
  readonly key: string;
  readonly place: LookPlace;
  readonly minutes: number;
  /** Operations that must be off first. */
  readonly off: readonly string[];
  /** Any one money; what is worth more a minute stays longer when time is short. */
  readonly worth: number;
  /** Never left out to save minutes. */
  readonly must: boolean;
}

/** One step of a sheet. */
export interface WalkStep {
  readonly item: WalkItem;
  /** Operations that come off for it and were not off before; those that give access first. */
  readonly takesOff: readonly string[];
  readonly teardownMinutes: number;
}

/** Items in the order of the hands. */
export interface WalkSheet {
  readonly steps: readonly WalkStep[];
  readonly leftOut: readonly WalkItem[];
  /** Minutes of all steps, with teardown counted once. */
  readonly minutes: number;
  /** Number of times the vehicle goes up or down. */
  readonly liftChanges: number;
}

/** Up to so many items of one place the order is the best there is; beyond it, one item after the other is chosen. */
const EXACT_ITEMS = 12;
/** Up to so many different teardowns every choice of them is tried; of more, those that are worth most. */
const EXACT_TEARDOWNS = 10;

const needed = (item: WalkItem, operations: Operations): string[] => closureOf(operations, item.off);

const minutesOff = (keys: Iterable<string>, operations: Operations): number =>
  [...keys].reduce((sum, key) => sum + operations.get(key)!.minutes, 0);

const isUp = (place: LookPlace): boolean => place === 'underneath';

/**
 * Number of times the vehicle goes up or down on the way through these places, from the floor and
 * back to it.
 */
export function liftChanges(places: readonly LookPlace[]): number {
  let up = false;
  let changes = 0;
  for (const place of places) {
    if (isUp(place) !== up) changes += 1;
    up = isUp(place);
  }
  return up ? changes + 1 : changes;
}

const greedyOrder = (items: readonly WalkItem[], off: ReadonlySet<string>, operations: Operations): WalkItem[] => {
  const left = [...items];
  const gone = new Set(off);
  const ordered: WalkItem[] = [];
  while (left.length > 0) {
    const takes = left.map(
      (item) =>
        item.minutes +
        minutesOff(
          needed(item, operations).filter((key) => !gone.has(key)),
          operations,
        ),
    );
    const first = takes.indexOf(Math.min(...takes));
    const [item] = left.splice(first, 1);
    for (const key of needed(item!, operations)) gone.add(key);
    ordered.push(item!);
  }
  return ordered;
};

/**
 * The order of the items of one place in which each is done soonest on average: the least sum of the minutes after
 * which they are done, where what comes off for one is off for those that follow. By dynamic programming over what is
 * done already (Held and Karp 1962), which without teardown is the shortest first.
 */
function quickestFirst(items: readonly WalkItem[], off: ReadonlySet<string>, operations: Operations): WalkItem[] {
  if (items.length > EXACT_ITEMS) return greedyOrder(items, off, operations);
  const extra = items.map((item) => needed(item, operations).filter((key) => !off.has(key)));
  const goneIn = new Map<number, ReadonlySet<string>>([[0, new Set()]]);
  const full = (1 << items.length) - 1;
  const least = new Float64Array(full + 1).fill(Infinity);
  const last = new Int8Array(full + 1).fill(-1);
  least[0] = 0;
  for (let done = 0; done < full; done += 1) {
    const gone = goneIn.get(done)!;
    const left = items.reduce((count, _, i) => count + (done & (1 << i) ? 0 : 1), 0);
    items.forEach((item, i) => {
      if (done & (1 << i)) return;
      const fresh = extra[i]!.filter((key) => !gone.has(key));
      // Everything still to be done waits for these minutes.
      const cost = least[done]! + left * (item.minutes + minutesOff(fresh, operations));
      const next = done | (1 << i);
      if (!goneIn.has(next)) goneIn.set(next, new Set([...gone, ...extra[i]!]));
      if (cost >= least[next]!) return;
      least[next] = cost;
      last[next] = i;
    });
  }
  const ordered: WalkItem[] = [];
  for (let at = full; at > 0; at &= ~(1 << last[at]!)) ordered.unshift(items[last[at]!]!);
  return ordered;
}

/**
 * Items in the order of the hands: places one after the other, each once, so that the vehicle goes up and down least
 * often; within a place the quick ones first, teardown counted where it first comes off.
 */
export function walkOrder(items: readonly WalkItem[], operations: Operations): WalkStep[] {
  const off = new Set<string>();
  return LOOK_PLACES.flatMap((place) => {
    const here = quickestFirst(
      items.filter((item) => item.place === place),
      off,
      operations,
    );
    return here.map((item) => {
      const takesOff = needed(item, operations).filter((key) => !off.has(key));
      for (const key of takesOff) off.add(key);
      return { item, takesOff, teardownMinutes: minutesOff(takesOff, operations) };
    });
  });
}

/** The items that are worth most together within so many whole minutes, where what must be off is off. */
function fullest(items: readonly WalkItem[], minutes: number): { readonly worth: number; readonly kept: WalkItem[] } {
  const budget = Math.floor(minutes);
  const best = new Float64Array(budget + 1);
  const takes = items.map((item) => {
    const least = Math.ceil(item.minutes);
    const taken = new Uint8Array(budget + 1);
    for (let left = budget; left >= least; left -= 1) {
      const worth = best[left - least]! + item.worth;
      if (worth <= best[left]!) continue;
      best[left] = worth;
      taken[left] = 1;
    }
    return taken;
  });
  const kept: WalkItem[] = [];
  let left = budget;
  for (let i = items.length - 1; i >= 0; i -= 1) {
    if (!takes[i]![left]) continue;
    kept.unshift(items[i]!);
    left -= Math.ceil(items[i]!.minutes);
  }
  return { worth: best[budget]!, kept };
}

/** Sets of operations that are taken off together, those whose items are worth most first. */
function teardowns(items: readonly WalkItem[], operations: Operations): string[][] {
  const bySet = new Map<string, { readonly keys: string[]; worth: number }>();
  for (const item of items) {
    const keys = needed(item, operations).sort();
    if (keys.length === 0) continue;
    const name = keys.join('\n');
    const standing = bySet.get(name) ?? { keys, worth: 0 };
    standing.worth += item.worth;
    bySet.set(name, standing);
  }
  return [...bySet.values()].sort((a, b) => b.worth - a.worth).map(({ keys }) => keys);
}

/**
 * The items that are worth most within a time budget, teardown counted once: what must not be left out is kept even
 * where that takes longer; of the rest, every choice of teardowns is tried, and for each the fullest use of the
 * minutes left is found by dynamic programming (0/1 knapsack). Exact for whole minutes and up to ten teardowns.
 */
export function chooseWithin(items: readonly WalkItem[], operations: Operations, budget: number): WalkItem[] {
  const musts = items.filter(({ must }) => must);
  const rest = items.filter(({ must }) => !must);
  const offAnyway = new Set(musts.flatMap((item) => needed(item, operations)));
  const spent = musts.reduce((sum, { minutes }) => sum + minutes, minutesOff(offAnyway, operations));
  const choices = teardowns(rest, operations).slice(0, EXACT_TEARDOWNS);
  let best: { readonly worth: number; readonly kept: WalkItem[] } = { worth: -1, kept: [] };
  for (let chosen = 0; chosen < 1 << choices.length; chosen += 1) {
    const off = new Set(offAnyway);
    choices.forEach((keys, i) => {
      if (chosen & (1 << i)) for (const key of keys) off.add(key);
    });
    const left = budget - spent - (minutesOff(off, operations) - minutesOff(offAnyway, operations));
    if (left < 0) continue;
    const within = rest.filter((item) => needed(item, operations).every((key) => off.has(key)));
    const tried = fullest(within, left);
    if (tried.worth > best.worth) best = tried;
  }
  const kept = new Set([...musts, ...best.kept]);
  return items.filter((item) => kept.has(item));
}

/**
 * A walk sheet: what is worth its time in the order of the hands, and what was left out, worth most first. Without a
 * budget everything is on it. Throws RangeError where an operation is not there or needs itself.
 */
export function walkSheet(
  items: readonly WalkItem[],
  operations: Operations,
  budgetMinutes: number | null = null,
): WalkSheet {
  const chosen = budgetMinutes === null ? items : chooseWithin(items, operations, budgetMinutes);
  const steps = walkOrder(chosen, operations);
  const kept = new Set(chosen);
  return {
    steps,
    leftOut: items.filter((item) => !kept.has(item)).sort((a, b) => b.worth - a.worth),
    minutes: steps.reduce((sum, { item, teardownMinutes }) => sum + item.minutes + teardownMinutes, 0),
    liftChanges: liftChanges(steps.map(({ item }) => item.place)),
  };
}
