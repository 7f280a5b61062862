import type { WalkEntryCreate, WalkSync, WalkSynced } from '@crosspeen/contract';
import { MOST_ENTRIES } from '@crosspeen/contract';

/** The walk that something was entered on. */
export type WalkRef = WalkSync['walk'];

interface Waits {
  /** Of the device's own making: by it the server takes a thing once. */
  readonly id: string;
  /** In the order of entering. */
  readonly seq: number;
  /** Whose it is: sent only while that person is signed in. */
  readonly userId: string;
  readonly userName: string;
  readonly vehicleId: string;
  readonly walk: WalkRef;
  /** Why the server did not take it; null while it waits to be sent. */
  readonly refused: string | null;
}

/** An entry that waits on this device. */
export interface WaitingEntry extends Waits {
  readonly kind: 'entry';
  readonly entry: WalkEntryCreate;
}

/** A photo that waits on this device. */
export interface WaitingPhoto extends Waits {
  readonly kind: 'photo';
  readonly key: string | null;
  readonly entryId: string | null;
  readonly day: string;
  readonly picture: Blob;
}

export type Waiting = WaitingEntry | WaitingPhoto;

/** Where what waits is kept, so that a tab that is closed or killed loses nothing. */
export interface QueueStore {
  readonly all: () => Promise<Waiting[]>;
  readonly put: (waiting: Waiting) => Promise<void>;
  readonly remove: (id: string) => Promise<void>;
}

/** What came of sending: taken, no answer, the sign-in is over, or refused for good with the reason. */
export type Sent<Answer> =
  | { readonly came: 'taken'; readonly answer: Answer }
  | { readonly came: 'unreachable' }
  | { readonly came: 'signed_out' }
  | { readonly came: 'refused'; readonly why: string };

export interface QueueTransport {
  readonly entries: (vehicleId: string, body: WalkSync) => Promise<Sent<WalkSynced>>;
  readonly photo: (photo: WaitingPhoto) => Promise<Sent<unknown>>;
}

/** How far a round of sending came. */
export interface Drained {
  /** Nothing more waits that could be sent; else what stopped it. */
  readonly ended: 'done' | 'unreachable' | 'signed_out';
  /** Vehicles of which something was taken, with how their walk stands now. */
  readonly taken: ReadonlyMap<string, WalkSynced>;
  readonly photosOf: ReadonlySet<string>;
}

/** Entries of one walk that are sent together: as many as one request may carry, in their order. */
function batches(waiting: readonly WaitingEntry[]): WaitingEntry[][] {
  const found: WaitingEntry[][] = [];
  for (const one of waiting) {
    const last = found.at(-1);
    const fits =
      last !== undefined &&
      last.length < MOST_ENTRIES &&
      last[0]!.vehicleId === one.vehicleId &&
      last[0]!.walk.id === one.walk.id;
    if (fits) last.push(one);
    else found.push([one]);
  }
  return found;
}

/**
 * Sends what waits of one person, entries before photos, each in the order it was made. What was taken leaves the
 * store only after the server has said so; what is cut off on the way is sent again under the same id, and the server
 * takes it once. What the server refuses stays, with its reason, for the person to decide.
 */
export async function drain(store: QueueStore, transport: QueueTransport, userId: string): Promise<Drained> {
  const taken = new Map<string, WalkSynced>();
  const photosOf = new Set<string>();
  const mine = (await store.all())
    .filter((waiting) => waiting.userId === userId && waiting.refused === null)
    .sort((a, b) => a.seq - b.seq);
  const stopped = (came: 'unreachable' | 'signed_out'): Drained => ({ ended: came, taken, photosOf });
  for (const batch of batches(mine.filter((waiting) => waiting.kind === 'entry'))) {
    const { vehicleId, walk } = batch[0]!;
    const sent = await transport.entries(vehicleId, { walk, entries: batch.map(({ entry }) => entry) });
    if (sent.came === 'unreachable' || sent.came === 'signed_out') return stopped(sent.came);
    if (sent.came === 'refused') {
      for (const waiting of batch) await store.put({ ...waiting, refused: sent.why });
      continue;
    }
    taken.set(vehicleId, sent.answer);
    const refused = new Map(sent.answer.entries.map((entry) => [entry.id, entry.refused]));
    for (const waiting of batch) {
      const why = refused.get(waiting.id) ?? null;
      if (why === null) await store.remove(waiting.id);
      else await store.put({ ...waiting, refused: why });
    }
  }
  for (const photo of mine.filter((waiting) => waiting.kind === 'photo')) {
    const sent = await transport.photo(photo);
    if (sent.came === 'unreachable' || sent.came === 'signed_out') return stopped(sent.came);
    if (sent.came === 'refused') {
      await store.put({ ...photo, refused: sent.why });
      continue;
    }
    await store.remove(photo.id);
    photosOf.add(photo.vehicleId);
  }
  return { ended: 'done', taken, photosOf };
}
