import { useRef } from 'react';
import { ProblemError } from './client.ts';

/** Tells whether the server asks about a value that makes little sense. */
const isDoubtful = (error: unknown): boolean => error instanceof ProblemError && error.details.code === 'doubtful';

interface Doubted<Body> {
  readonly error: Error | null;
  readonly mutate: (body: Body, options: { onSuccess: () => void }) => void;
}

/**
 * Sends a change whose values the server may ask about. The same values sent once more after its question are meant;
 * values that were changed meanwhile are asked about anew.
 */
export function useSure<Body extends { readonly sure?: boolean | null | undefined }>(
  change: Doubted<Body>,
): (body: Omit<Body, 'sure'>, options: { onSuccess: () => void }) => void {
  const asked = useRef<string | null>(null);
  return (body, options) => {
    const words = JSON.stringify(body);
    const sure = isDoubtful(change.error) && asked.current === words;
    asked.current = words;
    change.mutate({ ...body, sure } as Body, options);
  };
}
