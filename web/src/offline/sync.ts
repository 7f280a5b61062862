import { call } from '../api/client.ts';
import { endpoints } from '@crosspeen/contract';
import { ProblemError, rememberCsrfToken } from '../api/client.ts';
import { drain, type Drained, type QueueTransport, type Sent } from './queue.ts';
import { deviceStore } from './store.ts';

/** What a failed request means for what waits: nothing is lost, and only what can never be taken is refused. */
function cameOf<T>(error: unknown): Sent<T> {
  if (!(error instanceof ProblemError)) throw error;
  const { status, code } = error.details;
  if (status === 401) return { came: 'signed_out' };
  // No answer, a server that is restarting, a page of an earlier sign-in: all pass.
  if (status === 0 || status >= 500 || status === 429 || code === 'stale_page') return { came: 'unreachable' };
  return { came: 'refused', why: error.message };
}

const tried = async <T>(work: () => Promise<T>): Promise<Sent<T>> => {
  try {
    return { came: 'taken', answer: await work() };
  } catch (error) {
    return cameOf(error);
  }
};

const transport: QueueTransport = {
  entries: (vehicleId, body) => tried(() => call(endpoints.walk.sync, { params: { id: vehicleId }, body })),
  photo: ({ id, vehicleId, key, entryId, day, picture }) =>
    tried(() =>
      call(endpoints.walk.keepPhoto, { params: { id }, query: { vehicleId, key, entryId, day }, body: picture }),
    ),
};

let running: Promise<Drained> | null = null;

/** A round of sending; while one runs, another follows it. Tabs of one browser take turns. */
export function sendWaiting(userId: string): Promise<Drained> {
  const round = async (): Promise<Drained> => {
    // The token of the page may be that of an earlier sign-in: it is asked for anew, which also says who is there.
    const who = await tried(() => call(endpoints.session.state));
    if (who.came !== 'taken') return { ended: 'unreachable', taken: new Map(), photosOf: new Set() };
    if (who.answer.user?.id !== userId) return { ended: 'signed_out', taken: new Map(), photosOf: new Set() };
    rememberCsrfToken(who.answer.csrfToken);
    return drain(deviceStore, transport, userId);
  };
  const inTurn = (): Promise<Drained> =>
    'locks' in navigator ? navigator.locks.request('crosspeen-sending', round) : round();
  // What came in while a round was under way may not have been in it.
  const next: Promise<Drained> = (running === null ? inTurn() : running.then(inTurn, inTurn)).finally(() => {
    if (running === next) running = null;
  });
  running = next;
  return next;
}
