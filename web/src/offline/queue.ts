import type { DeskNoteCreate, WalkEntryCreate, WalkSync, WalkSynced } from '@crosspeen/contract';
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
  /** Plate or name of the vehicle, for the list of what waits. */
  readonly vehicleName?: string;
  /** Title of the item, for a note to the desk. */
  readonly about?: string | undefined;
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

/** A note to the desk that waits on this device. */
export interface WaitingNote extends Waits {
  readonly kind: 'note';
  readonly note: DeskNoteCreate;
}

export type Waiting = WaitingEntry | WaitingPhoto | WaitingNote;

/** Where what waits is kept, so that a tab that is closed or killed loses nothing. */
export interface QueueStore {
  readonly all: () => Promise<Waiting[]>;
  readonly put: (waiting: Waiting) => Promise<void>;
  readonly remove: (id: string) => Promise<void>;
  /** Puts one thing in the place of another, both or neither. */
  readonly replace: (id: string, waiting: Waiting) => Promise<void>;
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
  readonly note: (note: DeskNoteCreate) => Promise<Sent<unknown>>;
}

/** Shows what the server has taken; called before that leaves the device, so that it is never seen as missing. */
export type OnTaken = (vehicleId: string, synced: WalkSynced) => void;

/** Result of a round of sending. */
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

/** The end of a round: nobody answered, or nobody is signed in. */
class Stopped extends Error {
  constructor(readonly came: 'unreachable' | 'signed_out') {
    super(came);
  }
}

/** The answer, or null with the reason in `refused`. Throws Stopped where nothing more can be sent now. */
async function answered<Answer>(sent: Promise<Sent<Answer>>): Promise<{ answer: Answer } | { refused: string }> {
  const came = await sent;
  if (came.came === 'taken') return { answer: came.answer };
  if (came.came === 'refused') return { refused: came.why };
  throw new Stopped(came.came);
}

/** Sends the entries of one walk. A batch that is refused as a whole is sent one by one to find the fault. */
async function sendEntries(
  { store, transport }: Line,
  batch: readonly WaitingEntry[],
  onTaken: OnTaken,
): Promise<void> {
  const { vehicleId, walk } = batch[0]!;
  const came = await answered(transport.entries(vehicleId, { walk, entries: batch.map(({ entry }) => entry) }));
  if ('refused' in came) {
    if (batch.length > 1) for (const one of batch) await sendEntries({ store, transport }, [one], onTaken);
    else await store.put({ ...batch[0]!, refused: came.refused });
    return;
  }
  onTaken(vehicleId, came.answer);
  const refused = new Map(came.answer.entries.map((entry) => [entry.id, entry.refused]));
  for (const waiting of batch) {
    const why = refused.get(waiting.id) ?? null;
    if (why === null) await store.remove(waiting.id);
    else await store.put({ ...waiting, refused: why });
  }
}

/** Sends one thing that stands by itself; answers whether it was taken. */
async function sendAlone(
  { store }: Line,
  waiting: WaitingPhoto | WaitingNote,
  sent: Promise<Sent<unknown>>,
): Promise<boolean> {
  const came = await answered(sent);
  if ('refused' in came) await store.put({ ...waiting, refused: came.refused });
  else await store.remove(waiting.id);
  return 'answer' in came;
}

/** Where what waits is kept, and the way to the server. */
interface Line {
  readonly store: QueueStore;
  readonly transport: QueueTransport;
}

/**
 * Sends what waits of one person: entries, then notes, then photos, each in the order it was made. What was taken
 * leaves the store only after the server has said so. What is cut off on the way is sent again under the same id, and
 * the server takes it once. What the server refuses stays with its reason, for the person to decide.
 */
export async function drain(line: Line, userId: string, onTaken: OnTaken = () => undefined): Promise<Drained> {
  const { store, transport } = line;
  const taken = new Map<string, WalkSynced>();
  const photosOf = new Set<string>();
  const mine = (await store.all())
    .filter((waiting) => waiting.userId === userId && waiting.refused === null)
    .sort((a, b) => a.seq - b.seq);
  try {
    for (const batch of batches(mine.filter((waiting) => waiting.kind === 'entry')))
      await sendEntries(line, batch, (vehicleId, synced) => {
        taken.set(vehicleId, synced);
        onTaken(vehicleId, synced);
      });
    for (const waiting of mine)
      if (waiting.kind === 'note') await sendAlone(line, waiting, transport.note(waiting.note));
    for (const waiting of mine)
      if (waiting.kind === 'photo' && (await sendAlone(line, waiting, transport.photo(waiting))))
        photosOf.add(waiting.vehicleId);
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
    return { ended: error.came, taken, photosOf };
  }
  return { ended: 'done', taken, photosOf };
}
