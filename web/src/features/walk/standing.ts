import type { WalkEntry, WalkResult, WalkStep, WalkView } from '@crosspeen/contract';
import type { EngineSpot, LookPlace } from '@crosspeen/core';
import { LOOK_PLACES } from '@crosspeen/core';
import type { SpotMark } from '../../parts/engine-map/engine-map.tsx';
import type { Waiting, WaitingEntry, WaitingPhoto } from '../../offline/queue.ts';

export const METHOD_WORDS = {
  look: 'Look',
  feel: 'Feel',
  listen: 'Listen',
  spin: 'Spin',
  squeeze: 'Squeeze',
  measure: 'Measure',
  codes: 'Read codes',
} as const;

export const RESULT_WORDS: Readonly<Record<WalkResult, string>> = {
  sound: 'Good',
  worn: 'Worn',
  failed: 'Failed',
  unseen: 'Not checked',
  done: 'Done',
};

/** What counts for one item just now: what waits on this device before what the server has. */
export interface Told {
  readonly id: string;
  readonly result: WalkResult;
  readonly grade: string | null;
  readonly measured: number | null;
  readonly unit: string | null;
  readonly note: string | null;
  readonly by: string | null;
  readonly changeId: string | null;
  /** Still on this device. */
  readonly waits: boolean;
}

/** How one item of a sheet stands. */
export interface ItemStanding {
  readonly step: WalkStep;
  readonly told: Told | null;
  /** Entries that wait for somebody to decide. */
  readonly held: readonly WalkEntry[];
  /** What the server refused, with the reason: entries and photos. */
  readonly refused: readonly Waiting[];
  /** Photos that are still on this device. */
  readonly photosHere: readonly WaitingPhoto[];
}

const keyOf = (waiting: WaitingEntry | WaitingPhoto): string | null =>
  waiting.kind === 'entry' ? waiting.entry.key : waiting.key;
const isPhoto = (waiting: Waiting): waiting is WaitingPhoto => waiting.kind === 'photo';
const isEntry = (waiting: Waiting): waiting is WaitingEntry => waiting.kind === 'entry';

const toldOf = (entry: WalkEntry): Told => ({ ...entry, waits: false });

/** How every item stands, with what waits on this device laid over what the server has. */
export function itemStandings(
  { steps, entries, vehicle }: Pick<WalkView, 'steps' | 'entries' | 'vehicle'>,
  waiting: readonly Waiting[],
): ItemStanding[] {
  const known = new Set(entries.map(({ id }) => id));
  const here = waiting.filter(isEntry).filter((one) => one.vehicleId === vehicle?.id && !known.has(one.id));
  const photos = waiting.filter(isPhoto).filter((one) => one.vehicleId === vehicle?.id);
  return steps.map((step) => {
    const of = entries.filter(({ key }) => key === step.key);
    const standing = of.filter(({ state }) => state === 'stands').at(-1);
    const local = here.filter(({ entry, refused }) => entry.key === step.key && refused === null).at(-1);
    const fromHere: Told | null =
      local === undefined
        ? null
        : {
            id: local.id,
            result: local.entry.result,
            grade: local.entry.grade ?? null,
            measured: local.entry.measured ?? null,
            unit: local.entry.unit ?? null,
            note: local.entry.note ?? null,
            by: local.userName,
            changeId: null,
            waits: true,
          };
    return {
      step,
      told: fromHere ?? (standing === undefined ? null : toldOf(standing)),
      held: of.filter(({ state }) => state === 'held'),
      refused: [...here, ...photos].filter((one) => keyOf(one) === step.key && one.refused !== null),
      photosHere: photos.filter(({ key, refused }) => key === step.key && refused === null),
    };
  });
}

/** Items by place, in the order of the hands. */
export const byPlace = (items: readonly ItemStanding[]): { place: LookPlace; items: ItemStanding[] }[] =>
  LOOK_PLACES.map((place) => ({ place, items: items.filter(({ step }) => step.place === place) })).filter(
    (group) => group.items.length > 0,
  );

/** The marks of the map: how much there is at each place, and how much of it is done. */
export function spotMarks(items: readonly ItemStanding[]): SpotMark[] {
  const marks = new Map<EngineSpot, { count: number; done: number }>();
  for (const { step, told } of items) {
    if (step.spot === null) continue;
    const mark = marks.get(step.spot) ?? { count: 0, done: 0 };
    mark.count += 1;
    if (told !== null) mark.done += 1;
    marks.set(step.spot, mark);
  }
  return [...marks].map(([spot, mark]) => ({ spot, ...mark }));
}
