import { endpoints } from '@crosspeen/contract';
import { call, rememberCsrfToken } from '../api/client.ts';
import { cameOf } from './came-of.ts';
import { drain, type Drained, type OnTaken, type QueueTransport, type Sent } from './queue.ts';
import { deviceStore } from './store.ts';

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
  note: (body) => tried(() => call(endpoints.desk.add, { body })),
};

const nothing = (ended: Drained['ended']): Drained => ({ ended, taken: new Map(), photosOf: new Set() });

/** Sends what waits of the person who is signed in. */
async function round(onTaken: OnTaken): Promise<Drained> {
  // The token of the page may be that of an earlier sign-in: it is asked for anew, which also says who is there.
  const who = await tried(() => call(endpoints.session.state));
  if (who.came !== 'taken') return nothing('unreachable');
  if (who.answer.user === null) return nothing('signed_out');
  rememberCsrfToken(who.answer.csrfToken);
  return drain({ store: deviceStore, transport }, who.answer.user.id, onTaken);
}

/** A round while no other tab of this browser has one under way; the other tab sends what waits here too. */
const inTurn = (onTaken: OnTaken): Promise<Drained> =>
  'locks' in navigator
    ? navigator.locks.request('crosspeen-sending', { ifAvailable: true }, (lock) =>
        lock === null ? nothing('done') : round(onTaken),
      )
    : round(onTaken);

let running: Promise<Drained> | null = null;
let pending: Promise<Drained> | null = null;

/**
 * Runs a round of sending. While one runs, one more may wait, since what came in meanwhile may not be in the first;
 * whoever asks then gets that one.
 */
export function sendWaiting(onTaken: OnTaken): Promise<Drained> {
  const begin = (): Promise<Drained> => {
    const now = inTurn(onTaken).finally(() => {
      if (running === now) running = null;
    });
    running = now;
    return now;
  };
  if (running === null) return begin();
  pending ??= running
    .catch(() => undefined)
    .then(() => {
      pending = null;
      return begin();
    });
  return pending;
}
