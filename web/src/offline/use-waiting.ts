import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import type { Drained, Waiting } from './queue.ts';
import { deviceStore, onWaiting } from './store.ts';
import { sendWaiting } from './sync.ts';

/** Seconds between two tries while something waits. */
const TRY_AGAIN_MS = 5000;

export interface WaitingState {
  /** What waits of whoever is signed in, in its order. */
  readonly mine: readonly Waiting[];
  /** How many things of others wait on this device until they sign in. */
  readonly others: readonly { readonly name: string; readonly count: number }[];
  /** What the last try came to; null before the first. */
  readonly last: Drained['ended'] | null;
  readonly sendNow: () => void;
}

const byName = (waiting: readonly Waiting[]): WaitingState['others'] => {
  const counts = new Map<string, number>();
  for (const { userName } of waiting) counts.set(userName, (counts.get(userName) ?? 0) + 1);
  return [...counts].map(([name, count]) => ({ name, count }));
};

/** What waits on this device, and its sending: at once, when the line comes back, and every few seconds until then. */
export function useWaiting(userId: string): WaitingState {
  const client = useQueryClient();
  const [all, setAll] = useState<readonly Waiting[]>([]);
  const [last, setLast] = useState<Drained['ended'] | null>(null);
  const sendNow = useCallback(() => {
    const round = async (): Promise<void> => {
      const { ended, taken, photosOf } = await sendWaiting(userId);
      setLast(ended);
      for (const [vehicleId, { view }] of taken) {
        if (view.walk !== null && view.walk.endedAt === null)
          client.setQueryData(['vehicle', vehicleId, 'walk', null], view);
        await client.invalidateQueries({ queryKey: ['vehicle', vehicleId] });
      }
      for (const vehicleId of photosOf) await client.invalidateQueries({ queryKey: ['vehicle', vehicleId] });
      if (ended === 'signed_out') await client.invalidateQueries({ queryKey: ['session'] });
    };
    round().catch(() => setLast('unreachable'));
  }, [client, userId]);
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
  const toSend = all
    .filter((waiting) => waiting.userId === userId && waiting.refused === null)
    .map(({ id }) => id)
    .join(' ');
  useEffect(() => {
    if (toSend === '') return undefined;
    sendNow();
    const timer = setInterval(sendNow, TRY_AGAIN_MS);
    window.addEventListener('online', sendNow);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', sendNow);
    };
  }, [toSend, sendNow]);
  return {
    mine: all.filter((waiting) => waiting.userId === userId),
    others: byName(all.filter((waiting) => waiting.userId !== userId)),
    last,
    sendNow,
  };
}
