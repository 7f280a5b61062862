import type { WalkEntryCreate, WalkResult } from '@crosspeen/contract';
import type { WalkRef } from '../../offline/queue.ts';
import { deviceStore } from '../../offline/store.ts';

/** Who enters on which walk. */
export interface Entering {
  readonly userId: string;
  readonly userName: string;
  readonly vehicleId: string;
  readonly walk: WalkRef;
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

let counted = 0;
/** Entries of one device in the order they were made, also within one millisecond. */
const nextSeq = (): number => {
  counted += 1;
  return Date.now() * 1000 + (counted % 1000);
};

/** Keeps entries on this device, from where they are sent; resolves when they are safe, whatever happens to the tab. */
export async function enter({ userId, userName, vehicleId, walk }: Entering, said: readonly Said[]): Promise<void> {
  const madeAt = new Date().toISOString();
  for (const { seen, ...rest } of said) {
    const entry: WalkEntryCreate = { id: crypto.randomUUID(), madeAt, seen, ...rest };
    await deviceStore.put({
      kind: 'entry',
      id: entry.id,
      seq: nextSeq(),
      userId,
      userName,
      vehicleId,
      walk,
      refused: null,
      entry,
    });
  }
}

/** Keeps a photo on this device, from where it is sent. */
export async function enterPhoto(
  { userId, userName, vehicleId, walk }: Entering,
  photo: { readonly key: string | null; readonly entryId: string | null; readonly picture: Blob },
): Promise<void> {
  await deviceStore.put({
    kind: 'photo',
    id: crypto.randomUUID(),
    seq: nextSeq(),
    userId,
    userName,
    vehicleId,
    walk,
    refused: null,
    day: walk.day,
    ...photo,
  });
}
