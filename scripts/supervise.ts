import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build } from './build.ts';
import { runningCluster, startCluster, stopCluster, type Cluster } from './cluster.ts';
import { ensureWorkshop } from './database.ts';
import {
  choosePort,
  isHealthy,
  runningInstance,
  serverLog,
  startInstance,
  stopInstance,
  type Instance,
  type StartedInstance,
} from './instance.ts';
import { tryLock } from './lock.ts';
import { ensureState, STATE, UserError, writeWhole } from './places.ts';
import { processOf, signal, waitFor } from './processes.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

const KIND = 'demo';
/** How often server and database are looked at, in milliseconds. */
const LOOK_EVERY = 1000;
/**
 * A server that ends so soon after it began is started again only after a wait, in milliseconds, that doubles up to the
 * longest: whatever ends it may pass.
 */
const SOON = 10_000;
const FIRST_WAIT = 500;
const LONGEST_WAIT = 3000;
const PID_FILE = join(STATE, 'demo.pid');

class Stopped extends Error {}

/** Resolves when somebody wants this to end; listens from the moment it is made. */
function stopSignal(): { readonly asked: () => boolean; readonly when: Promise<void> } {
  let asked = false;
  const when = new Promise<void>((resolve) => {
    for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
      process.on(name, () => {
        asked = true;
        resolve();
      });
    }
  });
  return { asked: () => asked, when };
}

/** Stops whatever of it runs, again and again until what was being started has noticed. */
async function stopAll(starting: Promise<unknown>): Promise<void> {
  let settled = false;
  const noticed = starting.then(
    () => {
      settled = true;
    },
    () => {
      settled = true;
    },
  );
  do {
    await stopInstance(KIND);
    await stopCluster(KIND);
    await Promise.race([noticed, sleep(200)]);
  } while (!settled);
  await stopInstance(KIND);
  await stopCluster(KIND);
}

interface Running {
  readonly cluster: Cluster;
  readonly url: string;
  readonly server: StartedInstance;
}

async function start(askedPort: number | undefined, goingOn: () => void): Promise<Running> {
  // A server whose supervisor was ended is started anew with the rest.
  await stopInstance(KIND);
  const port = await choosePort(askedPort);
  const [{ seedDemo }, cluster] = await Promise.all([import('./seed.ts'), startCluster(KIND), build()]);
  goingOn();
  const url = await ensureWorkshop(cluster, (database) => seedDemo(database, process.env['CROSSPEEN_NOW']));
  goingOn();
  const server = await startInstance(KIND, url, port);
  goingOn();
  return { cluster, url, server };
}

/**
 * Keeps server and database running together until somebody stops them: whichever ends is started again where it was,
 * again and again.
 */
async function keepRunning({ cluster, url, server }: Running, stop: ReturnType<typeof stopSignal>): Promise<void> {
  let current = server;
  let ended = false;
  let began = Date.now();
  let wait = 0;
  const follow = (started: StartedInstance): void => {
    current = started;
    ended = false;
    began = Date.now();
    void started.ended.then(() => {
      if (current === started) ended = true;
    });
  };
  follow(server);
  while (!stop.asked()) {
    await Promise.race([stop.when, sleep(LOOK_EVERY, undefined, { ref: true }), current.ended]);
    if (stop.asked()) return;
    if (runningCluster(KIND) === null) {
      say('PostgreSQL has ended by itself; it is started again ...');
      // A full disk, for one, passes: it is tried until it goes.
      await startCluster(KIND, cluster.port).then(
        () => say('PostgreSQL is there again.'),
        (error: unknown) => {
          say((error as Error).message);
        },
      );
      continue;
    }
    await sleep(10);
    if (!ended) continue;
    wait = Date.now() - began > SOON ? 0 : Math.min(LONGEST_WAIT, Math.max(FIRST_WAIT, wait * 2));
    say(`The server has ended by itself; it is started again. Its log is ${serverLog(KIND)}`);
    await Promise.race([stop.when, sleep(wait)]);
    if (stop.asked()) return;
    await startInstance(KIND, url, current.port).then(follow, async (error: unknown) => {
      say((error as Error).message);
      began = Date.now();
      // One that only was too slow would hold the port of the next.
      await stopInstance(KIND);
    });
  }
}

/** The process that keeps the demo running, told by the file it wrote and by what runs under that number. */
function supervisor(): number | null {
  const pid = existsSync(PID_FILE) ? Number(readFileSync(PID_FILE, 'utf8')) : 0;
  const found = Number.isInteger(pid) && pid > 0 ? processOf(pid) : null;
  return found !== null &&
    found.arguments.some((argument) => argument.endsWith('scripts/main.ts')) &&
    found.arguments.includes(KIND)
    ? pid
    : null;
}

/**
 * Starts the demo and keeps it running until it is stopped; where it runs already, says so. `announce` tells people
 * where.
 */
export async function demo(askedPort: number | undefined, announce: (port: number) => Promise<void>): Promise<void> {
  ensureState();
  const lock = await tryLock(KIND);
  if (lock === null) {
    let there: Instance | null = null;
    const up = await waitFor(async () => (there = runningInstance(KIND)) !== null && isHealthy(there), 60);
    if (!up || there === null)
      throw new UserError(
        'It is being started or stopped by another command, and does not answer yet. Wait a moment, or run ./crosspeen stop and this again.',
      );
    const { port } = there as Instance;
    if (askedPort !== undefined && askedPort !== port)
      throw new UserError(
        `It is running already, on port ${port}. ./crosspeen stop ends it; then it can be started on port ${askedPort}.`,
      );
    await announce(port);
    say('(It was running already; ./crosspeen stop ends it.)');
    return;
  }
  // From here on nothing that is started is left behind, whenever somebody ends this.
  const stop = stopSignal();
  writeWhole(PID_FILE, String(process.pid));
  const starting = start(askedPort, () => {
    if (stop.asked()) throw new Stopped();
  });
  try {
    const running = await Promise.race([
      starting,
      stop.when.then(() => {
        throw new Stopped();
      }),
    ]);
    await announce(running.server.port);
    await keepRunning(running, stop);
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
  } finally {
    await stopAll(starting);
    rmSync(PID_FILE, { force: true });
    await lock.release();
  }
  say('Stopped.');
}

/** Stops the demo, whoever started it; false when nothing ran. Throws UserError when something of it does not end. */
export async function stopDemo(): Promise<boolean> {
  const pid = supervisor();
  if (pid !== null) {
    signal(pid, 'SIGTERM');
    if (!(await waitFor(() => processOf(pid) === null, 60)))
      throw new UserError(
        `The command that keeps it running does not end, process ${pid}. End it by hand and run this again.`,
      );
  }
  const [server, cluster] = [await stopInstance(KIND), await stopCluster(KIND)];
  return pid !== null || server || cluster;
}

/** Whether a command keeps the demo running just now. */
export async function isSupervised(): Promise<boolean> {
  const lock = await tryLock(KIND);
  await lock?.release();
  return lock === null;
}
