import type { WireTriage } from '@crosspeen/contract';
import type { SearchStanding } from '@crosspeen/core';
import { useEffect, useRef, useState } from 'react';

/** A search as a worker reckons it, apart from the thread that the page is drawn on; null until the first is there. */
export function useReckoned(asked: WireTriage | undefined): SearchStanding | null {
  const [reckoned, setReckoned] = useState<SearchStanding | null>(null);
  const worker = useRef<Worker | null>(null);
  const asking = useRef(0);
  useEffect(() => {
    const made = new Worker(new URL('./reckon.worker.ts', import.meta.url), { type: 'module' });
    made.addEventListener('message', ({ data }: MessageEvent<{ id: number; reckoned: SearchStanding }>) => {
      // What was asked before the last answer was given is old by now.
      if (data.id === asking.current) setReckoned(data.reckoned);
    });
    worker.current = made;
    return () => {
      made.terminate();
      worker.current = null;
    };
  }, []);
  useEffect(() => {
    if (asked === undefined) return;
    asking.current += 1;
    worker.current?.postMessage({ id: asking.current, asked });
  }, [asked]);
  return reckoned;
}
