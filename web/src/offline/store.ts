import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { QueueStore, Waiting } from './queue.ts';

interface Kept extends DBSchema {
  waiting: { key: string; value: Waiting };
}

const DATABASE = 'crosspeen';
const VERSION = 1;

let opened: Promise<IDBPDatabase<Kept>> | null = null;
const database = (): Promise<IDBPDatabase<Kept>> =>
  (opened ??= openDB<Kept>(DATABASE, VERSION, {
    upgrade: (made) => {
      made.createObjectStore('waiting', { keyPath: 'id' });
    },
    terminated: () => {
      opened = null;
    },
  }));

const listeners = new Set<() => void>();
/** Tells whoever listens, in this tab and in others of this browser, that something waits or was sent. */
const channel = 'BroadcastChannel' in globalThis ? new BroadcastChannel('crosspeen-waiting') : null;
const tell = (): void => {
  for (const listener of listeners) listener();
};
channel?.addEventListener('message', tell);
const changed = (): void => {
  tell();
  channel?.postMessage('changed');
};

/** What waits on this device, kept in the browser's own database. */
export const deviceStore: QueueStore = {
  all: async () => (await database()).getAll('waiting'),
  put: async (waiting) => {
    await (await database()).put('waiting', waiting);
    changed();
  },
  remove: async (id) => {
    await (await database()).delete('waiting', id);
    changed();
  },
  replace: async (id, waiting) => {
    const step = (await database()).transaction('waiting', 'readwrite');
    await Promise.all([step.store.put(waiting), waiting.id === id ? undefined : step.store.delete(id), step.done]);
    changed();
  },
};

/** Calls back whenever what waits has changed; answers how to stop. */
export function onWaiting(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
