import { readFileSync } from 'node:fs';
import { pino } from 'pino';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildApp, buildServices, openDatabase, serverSecret, shopClock } from './app.ts';
import { judgePool } from './threads/judge-pool.ts';
import { packPool } from './threads/pack-pool.ts';
import { sheetPool } from './threads/sheet-pool.ts';
import { connectDatabase, FOR_SAVING, FOR_PEOPLE } from './store/database.ts';
import { trialGround } from './store/trial.ts';
import { logFile } from './platform/log-file.ts';
import { forgetSent } from './platform/once.ts';
import { outlive } from './platform/outlive.ts';

const required = (name: string): string => {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; start the server with ./crosspeen demo or ./crosspeen start`);
  return value;
};

/** Milliseconds between sweeps over standings of an earlier day. */
const SWEEP_EVERY = 60_000;
/** Milliseconds of quiet after a change before other vehicles follow: several changes in a row are one round. */
const FOLLOW_AFTER = 4000;
/** Connections for saving everything: two archives that are made at once, a backup, and the lock that it holds. */
const ASIDE = 4;

/** Certificate and key, where the server speaks TLS itself. */
function tlsFiles(): { cert: string; key: string } | null {
  const [cert, key] = [process.env['CROSSPEEN_TLS_CERT'], process.env['CROSSPEEN_TLS_KEY']];
  return cert && key ? { cert: readFileSync(cert, 'utf8'), key: readFileSync(key, 'utf8') } : null;
}

const log = logFile(required('CROSSPEEN_LOG_FILE'));
const logger = pino({ level: process.env['CROSSPEEN_LOG'] ?? 'info' }, log);
const stopOutliving = outlive(logger);

const here = dirname(fileURLToPath(import.meta.url));
const clock = shopClock(process.env['CROSSPEEN_NOW']);
const url = required('CROSSPEEN_DATABASE_URL');
// The schema is brought up to date first, on connections that may take their time.
await (await openDatabase(url, 2)).destroy();
const source = await connectDatabase(url, 10, FOR_PEOPLE);
const aside = await connectDatabase(url, ASIDE, FOR_SAVING);
const hands = judgePool(join(here, 'judge-worker.mjs'), url);
const packThread = packPool(join(here, 'pack-worker.mjs'), url);
const printer = sheetPool(join(here, 'sheet-worker.mjs'));
const backupFolder = process.env['CROSSPEEN_BACKUPS'] ?? '';
const services = buildServices(source, clock, {
  hands,
  aside,
  packThread,
  printer,
  example: process.env['CROSSPEEN_EXAMPLE'] || null,
  reportRun: (error, fileId) => logger.error({ err: error, fileId }, 'a spreadsheet could not be taken in'),
  backups: backupFolder === '' ? null : { folder: backupFolder, trial: () => trialGround(url) },
});
const app = await buildApp({
  services,
  cookieSecret: await serverSecret(source),
  webRoot: resolve(required('CROSSPEEN_WEB_ROOT')),
  logger,
  hostNames: (process.env['CROSSPEEN_HOSTS'] ?? '').split(','),
  tls: tlsFiles(),
  proxy: process.env['CROSSPEEN_PROXY'] || null,
  metricsToken: process.env['CROSSPEEN_METRICS_TOKEN'] || null,
  checkAnswers: process.env['CROSSPEEN_CHECK_ANSWERS'] === 'yes',
});

let stopping = false;
async function sweep(): Promise<void> {
  try {
    await services.sessions.purge();
    await forgetSent(source.manager);
    await services.intake.resume();
    await services.judging.sweep();
    await services.backups.runIfDue();
  } catch (error) {
    logger.error({ err: error }, 'bringing judgements up to date failed; tried again at the next turn');
  }
}
// A change that moves what is known of an engine leaves other vehicles behind: they follow at once, in the background.
let following: NodeJS.Timeout | undefined;
const follow = (): void => {
  clearTimeout(following);
  following = setTimeout(
    () =>
      void services.judging
        .run('a new finding or record')
        .catch((error: unknown) =>
          logger.error({ err: error }, 'judging after a change failed; the next sweep goes on'),
        ),
    FOLLOW_AFTER,
  );
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
  try {
    await app.close();
    await services.intake.close();
    await services.judging.close();
    await services.backups.idle();
    await Promise.all([hands.close(), packThread.close(), printer.close()]);
    await Promise.all([source.destroy(), aside.destroy()]);
  } catch (error) {
    logger.error({ err: error }, 'not everything could be closed in order');
  }
  stopOutliving();
  log.close();
  process.exit(0);
}
process.once('SIGTERM', () => void stop());
process.once('SIGINT', () => void stop());

await app.listen({
  host: process.env['CROSSPEEN_HOST'] ?? '127.0.0.1',
  port: Number(process.env['CROSSPEEN_PORT'] ?? 0),
});
const address = app.server.address();
if (address !== null && typeof address === 'object') process.send?.({ port: address.port });
