import { createHash } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import type { EntityManager } from 'typeorm';

/** Who writes, and by which sending of a form: the same one sent twice writes once. */
export interface Author {
  readonly userId: string;
  readonly sentOnce?: string | null;
}

/** Longest key a form may be sent under. */
const MOST_KEY = 100;
/** Days for which a form that was sent is remembered. */
const REMEMBERED_DAYS = 2;

/**
 * What tells one sending from another: the key its form was given when it was opened (`idempotency-key`), where it was
 * sent, and what it said. A form that is corrected and sent again is another; null without a key.
 */
export function sendingOf(request: Pick<FastifyRequest, 'method' | 'url' | 'headers' | 'body'>): string | null {
  const key = request.headers['idempotency-key'];
  if (typeof key !== 'string' || key === '' || key.length > MOST_KEY) return null;
  return createHash('sha256')
    .update(JSON.stringify([key, request.method, request.url, request.body ?? null]))
    .digest('base64url');
}

/**
 * Does `work` in the caller's transaction, once for each sending: a second one waits for the first and is answered with
 * what that wrote. Where the first fails nothing is remembered of it.
 */
export async function once<T>(
  manager: EntityManager,
  { userId, sentOnce }: Author,
  work: () => Promise<T>,
): Promise<T> {
  if (sentOnce === undefined || sentOnce === null) return work();
  const first = await manager.query<unknown[]>(
    'insert into sent_once (user_id, sending) values ($1, $2) on conflict do nothing returning 1',
    [userId, sentOnce],
  );
  if (first.length === 0) {
    const [known] = await manager.query<{ answer: T }[]>(
      'select answer from sent_once where user_id = $1 and sending = $2',
      [userId, sentOnce],
    );
    return known!.answer;
  }
  const answer = await work();
  await manager.query('update sent_once set answer = $3 where user_id = $1 and sending = $2', [
    userId,
    sentOnce,
    JSON.stringify(answer),
  ]);
  return answer;
}

/** Forgets the forms that were sent long ago. */
export const forgetSent = async (manager: EntityManager): Promise<void> => {
  await manager.query('delete from sent_once where at < now() - make_interval(days => $1)', [REMEMBERED_DAYS]);
};
