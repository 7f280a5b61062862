import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build } from './build.ts';
import { databaseUrl, runningCluster, startCluster, stopCluster, type Cluster } from './cluster.ts';
import { baseAt, baseIn, ensureWorkshop, mustReach } from './database.ts';
import type { Hosting } from './hosting.ts';
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
import { ensureState, ROOT, STATE, UserError, writeWhole } from './places.ts';
import { processOf, signal, waitFor } from './processes.ts';
import type { Kind } from './which.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

/** How often server and database are looked at, in milliseconds. */
const LOOK_EVERY = 1000;
/**
 * A server that ends so soon after it began is started again only after a wait, in milliseconds, that doubles up to the
 * longest: whatever ends it may pass.
 */
const SOON = 10_000;
const FIRST_WAIT = 500;
const LONGEST_WAIT = 3000;
const pidFile = (kind: Kind): string => join(STATE, `${kind}.pid`);

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
async function stopAll(kind: Kind, starting: Promise<unknown>): Promise<void> {
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
    await stopInstance(kind);
    await stopCluster(kind);
    await Promise.race([noticed, sleep(200)]);
  } while (!settled);
  await stopInstance(kind);
  await stopCluster(kind);
}

interface Running {
  /** The private PostgreSQL; null where the data lies on one that others look after. */
  readonly cluster: Cluster | null;
  readonly url: string;
  readonly server: StartedInstance;
}

/** What is started, how it is reached, and what its database is filled with. */
export interface Plan {
  readonly kind: Kind;
  readonly hosting: Hosting;
  /** Address of a PostgreSQL that is there already; null starts the private one. */
  readonly external: string | null;
  /** Brings a database up to date, whatever stands in it. */
  readonly fill: (url: string) => Promise<void>;
  /** Tells people where it is. */
  readonly announce: (address: string, url: string) => Promise<void>;
}

/** The database that a plan's data lies on, up to date. */
async function groundOf({ kind, external, fill }: Plan): Promise<Pick<Running, 'cluster' | 'url'>> {
  if (external === null) {
    const cluster = await startCluster(kind);
    return { cluster, url: await ensureWorkshop(baseIn(cluster), fill) };
  }
  const base = baseAt(external);
  await mustReach(base);
  await fill(external);
  return { cluster: null, url: external };
}

const serverEnvironment = (kind: Kind): Record<string, string> => ({
  CROSSPEEN_EXAMPLE: kind === 'shop' ? join(ROOT, 'demo/packs/harbour.json') : '',
  CROSSPEEN_BACKUPS: process.env['CROSSPEEN_BACKUPS'] ?? join(STATE, `backups-${kind}`),
});

async function start(plan: Plan, goingOn: () => void): Promise<Running> {
  const { kind, hosting } = plan;
  // A server whose supervisor was ended is started anew with the rest.
  await stopInstance(kind);
  const port = await choosePort(hosting.port, hosting.host);
  const [ground] = await Promise.all([groundOf(plan), build()]);
  goingOn();
  const server = await startInstance(kind, ground.url, port, { env: serverEnvironment(kind), hosting });
  goingOn();
  return { ...ground, server };
}

/**
 * Keeps server and database running together until somebody stops them: whichever ends is started again where it was,
 * again and again.
 */
async function keepRunning(
  { kind, hosting }: Plan,
  { cluster, url, server }: Running,
  stop: ReturnType<typeof stopSignal>,
): Promise<void> {
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
    if (cluster !== null && runningCluster(kind) === null) {
      say('PostgreSQL has ended by itself; it is started again ...');
      // A full disk, for one, passes: it is tried until it goes.
      await startCluster(kind, cluster.port).then(
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
    say(`The server has ended by itself; it is started again. Its log is ${serverLog(kind)}`);
    await Promise.race([stop.when, sleep(wait)]);
    if (stop.asked()) return;
    await startInstance(kind, url, current.port, { env: serverEnvironment(kind), hosting }).then(
      follow,
      async (error: unknown) => {
        say((error as Error).message);
        began = Date.now();
        // One that only was too slow would hold the port of the next.
        await stopInstance(kind);
      },
    );
  }
}

/** The command that keeps each running. */
export const COMMAND_OF: Readonly<Record<Kind, string>> = { demo: 'demo', shop: 'start' };

/** The process that keeps one running, told by the file it wrote and by what runs under that number. */
function supervisor(kind: Kind): number | null {
  const pid = existsSync(pidFile(kind)) ? Number(readFileSync(pidFile(kind), 'utf8')) : 0;
  const found = Number.isInteger(pid) && pid > 0 ? processOf(pid) : null;
  return found !== null &&
    found.arguments.some((argument) => argument.endsWith('scripts/main.ts')) &&
    found.arguments.includes(COMMAND_OF[kind])
    ? pid
    : null;
}

/**
 * Starts what is planned and keeps it running until it is stopped; where it runs already, says so.
 */
export async function keep(plan: Plan): Promise<void> {
  const { kind, hosting, announce } = plan;
  ensureState();
  const lock = await tryLock(kind);
  if (lock === null) {
    let there: Instance | null = null;
    const up = await waitFor(async () => (there = runningInstance(kind)) !== null && isHealthy(there), 60);
    if (!up || there === null)
      throw new UserError(
        `It is being started or stopped by another command, and does not answer yet. Wait a moment, or run ./crosspeen stop --${kind} and this again.`,
      );
    const { port, address } = there as Instance;
    if (hosting.port !== undefined && hosting.port !== port)
      throw new UserError(
        `It is running already, on port ${port}. ./crosspeen stop --${kind} ends it; then it can be started on port ${hosting.port}.`,
      );
    await announce(address, plan.external ?? databaseUrl(runningCluster(kind)!, baseIn(runningCluster(kind)!).name));
    say(`(It was running already; ./crosspeen stop --${kind} ends it.)`);
    return;
  }
  // From here on nothing that is started is left behind, whenever somebody ends this.
  const stop = stopSignal();
  writeWhole(pidFile(kind), String(process.pid));
  const starting = start(plan, () => {
    if (stop.asked()) throw new Stopped();
  });
  try {
    const running = await Promise.race([
      starting,
      stop.when.then(() => {
        throw new Stopped();
      }),
    ]);
    await announce(running.server.address, running.url);
    await keepRunning(plan, running, stop);
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
  } finally {
    await stopAll(kind, starting);
    rmSync(pidFile(kind), { force: true });
    await lock.release();
  }
  say('Stopped.');
}

/** Stops one, whoever started it; false when nothing ran. Throws UserError when something of it does not end. */
export async function stopWhole(kind: Kind): Promise<boolean> {
  const pid = supervisor(kind);
  if (pid !== null) {
    signal(pid, 'SIGTERM');
    if (!(await waitFor(() => processOf(pid) === null, 60)))
      throw new UserError(
        `The command that keeps it running does not end, process ${pid}. End it by hand and run this again.`,
      );
  }
  const [server, cluster] = [await stopInstance(kind), await stopCluster(kind)];
  return pid !== null || server || cluster;
}

/** Whether a command keeps one running just now. */
export async function isSupervised(kind: Kind): Promise<boolean> {
  const lock = await tryLock(kind);
  await lock?.release();
  return lock === null;
}
