import { walkEntryCreate, type WalkEntryCreate, type WalkResult } from '@crosspeen/contract';
import type { WaitingEntry, WalkRef } from '../../offline/queue.ts';
import { deviceStore } from '../../offline/store.ts';

/** Who enters on which walk. */
export interface Entering {
  readonly userId: string;
  readonly userName: string;
  readonly vehicleId: string;
  /** Plate or name of the vehicle. */
  readonly vehicleName: string;
  readonly walk: WalkRef;
  /** Titles of the items, by key. */
  readonly titles: ReadonlyMap<string, string>;
}

/** What somebody says of one item. */
export interface Said {
  readonly key: string;
  readonly result: WalkResult;
  readonly grade?: string | null;
  readonly measured?: number | null;
  readonly unit?: string | null;
  readonly note?: string | null;
  /** The entry that stood on the screen when it was said. */
  readonly seen: string | null;
}

let last = 0;
/** Entries of one device in the order they were made, however many in one millisecond. */
const nextSeq = (): number => {
  last = Math.max(last + 1, Date.now() * 1000);
  return last;
};

/** The refused entry of the same item that a new one corrects, if there is one. */
async function correctedBy(entering: Entering, key: string): Promise<WaitingEntry | undefined> {
  const kept = await deviceStore.all();
  return kept
    .filter((waiting) => waiting.kind === 'entry')
    .find(
      ({ userId, vehicleId, entry, refused }) =>
        refused !== null && userId === entering.userId && vehicleId === entering.vehicleId && entry.key === key,
    );
}

/**
 * Keeps entries on this device, from where they are sent; resolves when they are safe, whatever happens to the tab. An
 * entry for an item of which one was refused takes its place. Throws ZodError for an entry that the server's own schema
 * refuses; nothing of it is kept.
 */
export async function enter(entering: Entering, said: readonly Said[]): Promise<void> {
  const { walk, titles, ...who } = entering;
  const madeAt = new Date().toISOString();
  for (const { seen, ...rest } of said) {
    const corrected = await correctedBy(entering, rest.key);
    const entry: WalkEntryCreate = { id: corrected?.id ?? crypto.randomUUID(), madeAt, seen, ...rest };
    walkEntryCreate.parse(entry);
    await deviceStore.put({
      kind: 'entry',
      id: entry.id,
      seq: nextSeq(),
      ...who,
      walk,
      refused: null,
      about: titles.get(rest.key),
      entry,
    });
  }
}

/** Keeps a photo on this device, from where it is sent. */
export async function enterPhoto(
  { walk, titles: _titles, ...who }: Entering,
  {
    day,
    ...photo
  }: { readonly key: string | null; readonly entryId: string | null; readonly picture: Blob; day: string },
): Promise<void> {
  await deviceStore.put({
    kind: 'photo',
    id: crypto.randomUUID(),
    seq: nextSeq(),
    ...who,
    walk,
    refused: null,
    day,
    ...photo,
  });
}
