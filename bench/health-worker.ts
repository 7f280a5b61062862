import { setTimeout as sleep } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';

/**
 * Asks whether the server is well, ten times a second, until it is told to end; answers the slowest in milliseconds.
 * One that is never answered is endless.
 */
let going = true;
let slowest = 0;
const ask = async (): Promise<void> => {
  const began = performance.now();
  const well = await fetch(workerData as string, { signal: AbortSignal.timeout(30_000) }).then(
    async (answer) => (await answer.text(), answer.ok),
    () => false,
  );
  slowest = Math.max(slowest, well ? performance.now() - began : Infinity);
};
parentPort!.once('message', () => {
  going = false;
});
// The first one opens the connection and warms the client.
await ask();
slowest = 0;
parentPort!.postMessage('begun');
while (going) {
  await ask();
  await sleep(100);
}
parentPort!.postMessage(slowest);
