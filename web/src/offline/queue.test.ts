import fc from 'fast-check';
import type { WalkSync, WalkSynced } from '@crosspeen/contract';
import { drain, type QueueStore, type QueueTransport, type Sent, type Waiting } from './queue.ts';

const inMemory = (waiting: readonly Waiting[]): QueueStore & { readonly kept: Map<string, Waiting> } => {
  const kept = new Map(waiting.map((one) => [one.id, one]));
  return {
    kept,
    all: () => Promise.resolve([...kept.values()]),
    put: (one) => Promise.resolve(void kept.set(one.id, one)),
    remove: (id) => Promise.resolve(void kept.delete(id)),
    replace: (id, one) => Promise.resolve(void (kept.delete(id), kept.set(one.id, one))),
  };
};

const base = (seq: number, vehicleId: string): Omit<Waiting, 'kind' | 'entry'> & { id: string } => ({
  id: `0-${seq}`,
  seq,
  userId: 'tove',
  userName: 'Tove',
  vehicleId,
  walk: { id: `walk of ${vehicleId}`, day: '2026-11-24' },
  refused: null,
});
const entry = (seq: number, vehicleId = 'a', more: Partial<Waiting> = {}): Waiting =>
  ({
    ...base(seq, vehicleId),
    kind: 'entry',
    entry: { id: `0-${seq}`, key: `point:${seq}`, result: 'sound', madeAt: '2026-11-24T09:00:00Z' },
    ...more,
  }) as Waiting;
const photo = (seq: number, vehicleId = 'a'): Waiting => ({
  ...base(seq, vehicleId),
  kind: 'photo',
  key: null,
  entryId: null,
  day: '2026-11-24',
  picture: new Blob(['x']),
});

/** A server that takes a thing once by its id, over a line cut where `cuts` says so: before it heard, or after. */
function server(cuts: readonly ('before' | 'after' | 'no')[], refuse: ReadonlySet<string> = new Set()) {
  const had: string[] = [];
  let asked = 0;
  const over = async <T>(take: () => T): Promise<Sent<T>> => {
    const cut = cuts[asked] ?? 'no';
    asked += 1;
    if (cut === 'before') return { came: 'unreachable' };
    const answer = take();
    return Promise.resolve(cut === 'after' ? { came: 'unreachable' } : { came: 'taken', answer });
  };
  const once = (id: string): void => {
    if (!had.includes(id)) had.push(id);
  };
  const transport: QueueTransport = {
    entries: (_vehicleId, { entries = [] }) =>
      over(() => {
        for (const { id } of entries) if (!refuse.has(id)) once(id);
        return {
          view: null,
          entries: entries.map(({ id }) => ({
            id,
            state: 'stands',
            refused: refuse.has(id) ? 'Not of this engine.' : null,
            changeId: null,
          })),
        } as unknown as WalkSynced;
      }),
    photo: ({ id }) => over(() => once(id)),
    note: ({ id }) => over(() => once(id)),
  };
  return { had, transport, asked: () => asked };
}

test('two hundred entries and twenty photos over a line cut anywhere: none lost, none doubled, in their order', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.constantFrom('before' as const, 'after' as const, 'no' as const), { maxLength: 60 }),
      async (cuts) => {
        const waiting = [
          ...Array.from({ length: 200 }, (_, i) => entry(i, i % 60 < 30 ? 'a' : 'b')),
          ...Array.from({ length: 20 }, (_, i) => photo(1000 + i)),
        ];
        const store = inMemory(waiting);
        const { had, transport } = server(cuts);
        for (let round = 0; round < 100; round += 1)
          if ((await drain({ store, transport }, 'tove')).ended === 'done') break;
        expect(store.kept.size).toBe(0);
        expect([...had].sort()).toEqual(waiting.map(({ id }) => id).sort());
        const ofOne = had.filter((id) => waiting.find((one) => one.id === id)!.vehicleId === 'a');
        const inOrder = waiting.filter(({ vehicleId }) => vehicleId === 'a').map(({ id }) => id);
        expect(ofOne).toEqual(inOrder);
      },
    ),
    { numRuns: 50 },
  );
});

test('no request carries more than fifty, nor entries of two vehicles', async () => {
  const carried: [string, number][] = [];
  const store = inMemory([...Array.from({ length: 120 }, (_, i) => entry(i)), entry(500, 'b')]);
  const { transport } = server([]);
  const counting: QueueTransport = {
    ...transport,
    entries: (vehicleId: string, body: WalkSync) => {
      carried.push([vehicleId, body.entries!.length]);
      return transport.entries(vehicleId, body);
    },
  };
  await drain({ store, transport: counting }, 'tove');
  expect(carried).toEqual([
    ['a', 50],
    ['a', 50],
    ['a', 20],
    ['b', 1],
  ]);
});

test('what the server refuses stays with its reason and is not sent again; the rest goes', async () => {
  const store = inMemory([entry(1), entry(2), entry(3)]);
  const { had, transport, asked } = server([], new Set(['0-2']));
  expect((await drain({ store, transport }, 'tove')).ended).toBe('done');
  expect(had).toEqual(['0-1', '0-3']);
  expect([...store.kept.values()]).toMatchObject([{ id: '0-2', refused: 'Not of this engine.' }]);
  const before = asked();
  await drain({ store, transport }, 'tove');
  expect(asked()).toBe(before);
});

test('a whole request that is refused stays, each with the reason; a photo too', async () => {
  const refusing: QueueTransport = {
    entries: () => Promise.resolve({ came: 'refused', why: 'This was removed.' }),
    photo: () => Promise.resolve({ came: 'refused', why: 'No photo.' }),
    note: () => Promise.resolve({ came: 'refused', why: 'No note.' }),
  };
  const store = inMemory([entry(1), photo(2)]);
  expect((await drain({ store, transport: refusing }, 'tove')).ended).toBe('done');
  expect([...store.kept.values()].map(({ refused }) => refused)).toEqual(['This was removed.', 'No photo.']);
});

test('somebody else’s wait until they sign in; an ended sign-in stops the round and loses nothing', async () => {
  const store = inMemory([entry(1), entry(2, 'a', { userId: 'anselm' })]);
  const { had, transport } = server([]);
  await drain({ store, transport }, 'tove');
  expect(had).toEqual(['0-1']);
  expect([...store.kept.keys()]).toEqual(['0-2']);
  const out: QueueTransport = { ...transport, entries: () => Promise.resolve({ came: 'signed_out' }) };
  expect((await drain({ store, transport: out }, 'anselm')).ended).toBe('signed_out');
  expect([...store.kept.keys()]).toEqual(['0-2']);
});

test('one entry at fault is found among thirty: it alone is marked, and the others are taken', async () => {
  const store = inMemory(Array.from({ length: 31 }, (_, i) => entry(i)));
  const { had, transport } = server([]);
  // A request with it in is refused as a whole, as a schema refuses it.
  const strict: QueueTransport = {
    ...transport,
    entries: (vehicleId, body) =>
      body.entries!.some(({ id }) => id === '0-17')
        ? Promise.resolve({ came: 'refused', why: 'entries.measured must be at most 1,000,000.' })
        : transport.entries(vehicleId, body),
  };
  expect((await drain({ store, transport: strict }, 'tove')).ended).toBe('done');
  expect(had).toHaveLength(30);
  expect([...store.kept.values()]).toMatchObject([{ id: '0-17', refused: expect.stringContaining('measured') }]);
});

test('what was taken is shown before it leaves the device, also while its photo is still under way', async () => {
  const store = inMemory([entry(1), photo(2)]);
  const { transport } = server([]);
  const seen: string[] = [];
  const slow: QueueTransport = {
    ...transport,
    photo: (one) => {
      seen.push('photo');
      return transport.photo(one);
    },
  };
  await drain({ store, transport: slow }, 'tove', () => seen.push(store.kept.has('0-1') ? 'shown' : 'too late'));
  expect(seen).toEqual(['shown', 'photo']);
});
