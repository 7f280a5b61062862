import { type Changed, type ChangeId, endpoints } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useMemo, useRef, type ReactNode } from 'react';
import { toast } from 'sonner';
import { call, formKey } from './client.ts';
import { readAgain } from './read-again.ts';
import { touchedBy } from './touched.ts';

interface Undoing {
  /** A change has begun: what was done before it is no longer what a quick hand means by undo. */
  readonly begin: () => void;
  /** Shows what was done with a way back. */
  readonly offer: (done: Changed) => void;
  /** Takes back the last change of this page. */
  readonly undoLast: () => void;
}

/** One toast at a time, filled anew in its place: the last change is the one that can be undone. */
const TOAST = 'change';
const show = (words: string, options: Parameters<typeof toast>[1] = {}): void => {
  toast(words, { action: undefined, duration: 8000, ...options, id: TOAST });
};

const UndoContext = createContext<Undoing | null>(null);

/** Remembers the last change of this page, so that one key takes it back. */
export function UndoProvider({ children }: { children: ReactNode }): ReactNode {
  const client = useQueryClient();
  const last = useRef<ChangeId | null>(null);
  const undo = useCallback(
    async (changeId: ChangeId): Promise<void> => {
      try {
        const undone = await call(endpoints.changes.undo, { params: { id: changeId } });
        last.current = null;
        await readAgain(client, { predicate: touchedBy(undone) });
        show(undone.summary);
      } catch (error) {
        toast((error as Error).message);
      }
    },
    [client],
  );
  const value = useMemo<Undoing>(
    () => ({
      begin: () => {
        last.current = null;
        show('Saving …');
      },
      offer: ({ changeId, summary }) => {
        last.current = changeId;
        // Where nothing was changed there is nothing to take back.
        if (changeId === null) show(summary);
        else show(summary, { action: { label: 'Undo (u)', onClick: () => void undo(changeId) } });
      },
      undoLast: () => {
        if (last.current) void undo(last.current);
        else toast('There is nothing to undo on this page.');
      },
    }),
    [undo],
  );
  return <UndoContext.Provider value={value}>{children}</UndoContext.Provider>;
}

export function useUndo(): Undoing {
  const undoing = useContext(UndoContext);
  if (!undoing) throw new Error('useUndo needs an UndoProvider above it');
  return undoing;
}

/**
 * A change of data: what it may have moved is fetched again, and the way back is offered. `request` is given the key
 * it must be sent under: the same until it has gone through, so that a second tap, or trying again after a lost answer,
 * writes nothing twice.
 */
export function useChange<Input>(request: (input: Input, key: string) => Promise<Changed>) {
  const client = useQueryClient();
  const key = useRef(formKey());
  const { begin, offer } = useUndo();
  return useMutation({
    mutationFn: (input: Input) => request(input, key.current),
    onMutate: begin,
    onError: () => {
      toast.dismiss(TOAST);
    },
    onSuccess: async (done) => {
      key.current = formKey();
      await readAgain(client, { predicate: touchedBy(done) });
      offer(done);
    },
  });
}
