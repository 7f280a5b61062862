import type { Changed } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useMemo, useRef, type ReactNode } from 'react';
import { toast } from 'sonner';
import { change } from './queries.ts';

interface Undoing {
  /** Shows what was done with a way back. */
  readonly offer: (done: Changed) => void;
  /** Takes back the last change of this page. */
  readonly undoLast: () => void;
}

/** One toast at a time: the last change is the one that can be undone. */
const TOAST = 'change';

const UndoContext = createContext<Undoing | null>(null);

/** Remembers the last change of this page, so that one key takes it back. */
export function UndoProvider({ children }: { children: ReactNode }): ReactNode {
  const client = useQueryClient();
  const last = useRef<Changed | null>(null);
  const undo = useCallback(async (done: Changed): Promise<void> => {
    try {
      const undone = await change('POST', `/api/changes/${done.changeId}/undo`, {});
      last.current = null;
      await client.invalidateQueries();
      toast(undone.summary, { id: TOAST });
    } catch (error) {
      toast((error as Error).message);
    }
  }, [client]);
  const value = useMemo<Undoing>(() => ({
    offer: (done) => {
      last.current = done;
      toast(done.summary, { id: TOAST, duration: 8000, action: { label: 'Undo (u)', onClick: () => void undo(done) } });
    },
    undoLast: () => { if (last.current) void undo(last.current); else toast('There is nothing to undo on this page.'); },
  }), [undo]);
  return <UndoContext.Provider value={value}>{children}</UndoContext.Provider>;
}

export function useUndo(): Undoing {
  const undoing = useContext(UndoContext);
  if (!undoing) throw new Error('useUndo needs an UndoProvider above it');
  return undoing;
}

/** A change of data: everything that is shown is fetched again, and the way back is offered. */
export function useChange<Input>(request: (input: Input) => Promise<Changed>) {
  const client = useQueryClient();
  const { offer } = useUndo();
  return useMutation({
    mutationFn: request,
    onSuccess: async (done) => {
      await client.invalidateQueries();
      offer(done);
    },
  });
}
