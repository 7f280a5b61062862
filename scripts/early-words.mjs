/**
 * Loaded first in every process of the unit tests. The runner of Jest tells a worker its data when it asks, and tells
 * all workers of a pool at once: one that has not asked yet drops it, asks in vain and waits for ever. What came early
 * is kept here, and answers the question.
 */
const TELLS = 'jest-light-runner-worker-data';
const ASKS = 'jest-light-runner-get-worker-data';

if (process.env.TINYPOOL_WORKER_ID !== undefined && process.send) {
  const emit = process.emit.bind(process);
  const send = process.send.bind(process);
  let told = null;
  process.emit = (event, ...of) => {
    if (event === 'message' && of[0]?.type === TELLS) [told] = of;
    return emit(event, ...of);
  };
  process.send = (message, ...rest) => {
    if (message !== ASKS || told === null) return send(message, ...rest);
    queueMicrotask(() => emit('message', told));
    return true;
  };
}
