import { useQueryClient } from '@tanstack/react-query';
import { createContext, use, useCallback, useEffect, useMemo, useState, type ReactNode } from 'react';
import type { Drained, OnTaken, Waiting } from './queue.ts';
import { deviceStore, onWaiting } from './store.ts';
// Never fetched later: a device that has lost its network could not fetch what sends.
import { sendWaiting } from './sync.ts';

/** Time between two tries while something waits. */
const TRY_AGAIN_MS = 5000;

export interface WaitingState {
  /** Things of the person signed in that wait on this device, in their order. */
  readonly mine: readonly Waiting[];
  /** Number of things of others, which wait here until they sign in. */
  readonly others: readonly { readonly name: string; readonly count: number }[];
  /** Result of the last try; null before the first. */
  readonly last: Drained['ended'] | null;
  readonly sendNow: () => void;
}

const NOTHING: WaitingState = { mine: [], others: [], last: null, sendNow: () => undefined };
const WaitingContext = createContext<WaitingState>(NOTHING);

/** What waits on this device, on whichever page. */
export const useWaiting = (): WaitingState => use(WaitingContext);

const byName = (waiting: readonly Waiting[]): WaitingState['others'] => {
  const counts = new Map<string, number>();
  for (const { userName } of waiting) counts.set(userName, (counts.get(userName) ?? 0) + 1);
  return [...counts].map(([name, count]) => ({ name, count }));
};

/** Everything that waits on this device, read again whenever it changes in any tab. */
function useStore(): readonly Waiting[] {
  const [all, setAll] = useState<readonly Waiting[]>([]);
  useEffect(() => {
    let live = true;
    const read = (): void => {
      deviceStore
        .all()
        .then((kept) => {
          if (live) setAll([...kept].sort((a, b) => a.seq - b.seq));
        })
        .catch(() => undefined);
    };
    read();
    const stop = onWaiting(read);
    return () => {
      live = false;
      stop();
    };
  }, []);
  return all;
}

/** A round of sending that shows on the pages what was taken. */
function useSending(onEnded: (ended: Drained['ended']) => void): () => void {
  const client = useQueryClient();
  return useCallback(() => {
    const onTaken: OnTaken = (vehicleId, { view }) => {
      if (view.walk !== null && view.walk.endedAt === null)
        client.setQueryData(['vehicle', vehicleId, 'walk', null], view);
    };
    const round = async (): Promise<void> => {
      const { ended, taken, photosOf } = await sendWaiting(onTaken);
      onEnded(ended);
      for (const vehicleId of new Set([...taken.keys(), ...photosOf]))
        await client.invalidateQueries({ queryKey: ['vehicle', vehicleId] });
      if (ended === 'signed_out') await client.invalidateQueries({ queryKey: ['session'] });
    };
    round().catch(() => onEnded('unreachable'));
  }, [client, onEnded]);
}

/** Asks the browser to send later by itself, where it can, should this page be closed. */
function sendWithoutPage(): void {
  navigator.serviceWorker?.ready
    .then((worker) => (worker as unknown as { sync?: { register(tag: string): Promise<void> } }).sync?.register('send'))
    .catch(() => undefined);
}

/**
 * Sends what waits on this device from every page: at once, when the line comes back, and every few seconds until then.
 * Stands around all views of somebody who is signed in.
 */
export function WaitingProvider({ userId, children }: { userId: string; children: ReactNode }): ReactNode {
  const all = useStore();
  const [last, setLast] = useState<Drained['ended'] | null>(null);
  const sendNow = useSending(setLast);
  const toSend = all
    .filter((waiting) => waiting.userId === userId && waiting.refused === null)
    .map(({ id }) => id)
    .join(' ');
  useEffect(() => {
    if (toSend === '') return undefined;
    sendNow();
    sendWithoutPage();
    const timer = setInterval(sendNow, TRY_AGAIN_MS);
    window.addEventListener('online', sendNow);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', sendNow);
    };
  }, [toSend, sendNow]);
  const state = useMemo<WaitingState>(
    () => ({
      mine: all.filter((waiting) => waiting.userId === userId),
      others: byName(all.filter((waiting) => waiting.userId !== userId)),
      last,
      sendNow,
    }),
    [all, userId, last, sendNow],
  );
  return <WaitingContext value={state}>{children}</WaitingContext>;
}
