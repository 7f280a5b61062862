import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildApp, buildServices, openDatabase, shopClock } from './app.ts';
import { workerHands } from './features/judging/hands.ts';

const required = (name: string): string => {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; start the server with ./crosspeen demo`);
  return value;
};

/** Milliseconds between sweeps over standings of an earlier day. */
const SWEEP_EVERY = 60_000;

/** Milliseconds of quiet after a change before other vehicles follow: several changes in a row are one round. */
const FOLLOW_AFTER = 4000;

const clock = shopClock(process.env['CROSSPEEN_NOW']);
const url = required('CROSSPEEN_DATABASE_URL');
const source = await openDatabase(url);
const hands = workerHands(fileURLToPath(new URL('judge-worker.mjs', import.meta.url)), url);
const services = buildServices(source, clock, hands);
const app = await buildApp({
  services,
  cookieSecret: required('CROSSPEEN_SECRET'),
  webRoot: resolve(required('CROSSPEEN_WEB_ROOT')),
  logger: { level: process.env['CROSSPEEN_LOG'] ?? 'info' },
});

let stopping = false;
async function sweep(): Promise<void> {
  try {
    await services.intake.resume();
    await services.judging.sweep();
  } catch (error) {
    app.log.error({ err: error }, 'bringing judgements up to date failed; tried again at the next turn');
  }
}
// A change that moves what is known of an engine leaves other vehicles behind: they follow at once, in the background.
let following: NodeJS.Timeout | undefined;
const follow = (): void => {
  clearTimeout(following);
  following = setTimeout(() => void services.judging.run('a new finding or record').catch((error: unknown) => app.log.error({ err: error }, 'judging after a change failed; the next sweep goes on')), FOLLOW_AFTER);
};
services.changes.onCommitted(follow);
services.desk.onWritten(follow);
services.intake.onWritten(follow);
services.judging.giveWayTo(() => services.intake.busy());
const timer = setInterval(() => void sweep(), SWEEP_EVERY);
void sweep();

async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  clearInterval(timer);
  clearTimeout(following);
  await app.close();
  await services.intake.close();
  await services.judging.close();
  await hands.close();
  await source.destroy();
  process.exit(0);
}
process.once('SIGTERM', () => void stop());
process.once('SIGINT', () => void stop());

await app.listen({ host: '127.0.0.1', port: Number(process.env['CROSSPEEN_PORT'] ?? 0) });
const address = app.server.address();
if (address !== null && typeof address === 'object') process.send?.({ port: address.port });
