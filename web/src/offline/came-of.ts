import { ProblemError } from '../api/client.ts';
import type { Sent } from './queue.ts';

/** Statuses of our own server that pass: it is busy, or the sign-in is another one. */
const PASSING = new Set([408, 425, 429]);

/**
 * Meaning of a failed request for what waits. Only a refusal in our server's own words is one; anything else on the way
 * (no answer, a proxy, the page of an access point) passes, and the thing waits.
 */
export function cameOf<T>(error: unknown): Sent<T> {
  if (!(error instanceof ProblemError) || !error.isOurs) return { came: 'unreachable' };
  const { status, code } = error.details;
  if (status === 401) return { came: 'signed_out' };
  if (status >= 500 || PASSING.has(status) || code === 'stale_page') return { came: 'unreachable' };
  return { came: 'refused', why: error.message };
}
