import { useCallback } from 'react';
import { useSearchParams } from 'react-router';

/**
 * Changes parameters of the address; null or nothing takes one out. In place of the present entry of the browser's
 * history, unless `push`.
 */
export type ChangeParams = (changes: Readonly<Record<string, string | null>>, push?: 'push') => void;

/**
 * What a list shows, as it stands in the address: its page, and a way to change any of it that leaves nothing empty
 * behind.
 */
export function useListParams(): {
  readonly params: URLSearchParams;
  readonly page: number;
  readonly go: ChangeParams;
} {
  const [params, setParams] = useSearchParams();
  const go = useCallback<ChangeParams>(
    (changes, push) => {
      // From the address itself, not from what was drawn last: two changes in quick succession must both stand.
      const next = new URLSearchParams(window.location.search);
      for (const [name, value] of Object.entries(changes))
        if (value === null || value === '') next.delete(name);
        else next.set(name, value);
      setParams(next, { replace: push === undefined });
    },
    [setParams],
  );
  return { params, go, page: pageOf(params, 'page') };
}

/** The page that a parameter of the address asks for, from 1. */
export const pageOf = (params: URLSearchParams, name: string): number =>
  Math.max(1, Math.trunc(Number(params.get(name) ?? 1)) || 1);

/** The value that a parameter of the address chooses among known ones; null where it names none of them. */
export const chosenOf = <T extends string>(params: URLSearchParams, name: string, known: readonly T[]): T | null =>
  known.find((value) => value === params.get(name)) ?? null;

/** A page as a parameter: the first is not named. */
export const pageParam = (page: number): string | null => (page === 1 ? null : String(page));
