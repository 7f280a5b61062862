import type { Proposal, ProposalGround, ProposalTerms } from '@crosspeen/core';
import { useEffect, useRef, useState } from 'react';

/** What the worker has found so far. */
export interface ProposalState {
  /** Null where something fits on no visit. */
  readonly proposal: Proposal | null;
  /** Nothing better is sought any more. */
  readonly isLast: boolean;
}

/** Visits as a worker proposes them, the first at once and a proved one after it; null until there is one. */
export function useProposal(ground: ProposalGround | null, terms: ProposalTerms | null): ProposalState | null {
  const [state, setState] = useState<ProposalState | null>(null);
  const worker = useRef<Worker | null>(null);
  const asking = useRef(0);
  useEffect(() => {
    if (ground === null || terms === null) return undefined;
    // What was asked before is not worth its time any more: its thread is ended, and another begun.
    const made = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' });
    worker.current = made;
    asking.current += 1;
    const id = asking.current;
    made.addEventListener('message', ({ data }: MessageEvent<ProposalState & { id: number }>) => {
      if (data.id === asking.current) setState({ proposal: data.proposal, isLast: data.isLast });
    });
    made.postMessage({ id, ground, terms });
    return () => made.terminate();
  }, [ground, terms]);
  return state;
}
