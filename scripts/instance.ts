import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { closeSync, existsSync, openSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort, isFree } from './cluster.ts';
import { ensureState, ROOT, STATE, UserError, writeWhole } from './places.ts';
import { processesThat, signal, waitFor } from './processes.ts';

const FIRST_PORT = 8460;

export interface Instance {
  readonly pid: number;
  readonly port: number;
}
export interface StartedInstance extends Instance {
  /** Resolves to the exit code when it ends. */
  readonly ended: Promise<number | null>;
}

export const serverLog = (kind: string): string => join(STATE, 'logs', `server-${kind}.log`);
/** What it says before it has a log, and when it ends without one. */
const lastWords = (kind: string): string => join(STATE, 'logs', `server-${kind}.out`);
const mark = (kind: string): string => `${STATE} ${kind}`;

/** The running servers of a kind, told by the mark in their own environment: no file is believed. */
const serversOf = (kind: string): Instance[] =>
  processesThat(
    ({ arguments: [, file], environment }) =>
      file === join(ROOT, 'dist/server/main.mjs') && environment['CROSSPEEN_INSTANCE'] === mark(kind),
  ).map(({ pid, environment }) => ({ pid, port: Number(environment['CROSSPEEN_PORT']) }));

/** The running server of a kind, or null. */
export const runningInstance = (kind: string): Instance | null => serversOf(kind)[0] ?? null;

/** Whether a server answers, its database included. */
export async function isHealthy({ port }: Pick<Instance, 'port'>, withinMs = 5000): Promise<boolean> {
  try {
    return (await fetch(`http://127.0.0.1:${port}/api/health`, { signal: AbortSignal.timeout(withinMs) })).ok;
  } catch {
    return false;
  }
}

function secret(): string {
  const file = join(STATE, 'cookie.secret');
  const known = existsSync(file) ? readFileSync(file, 'utf8').trim() : '';
  if (known.length >= 32) return known;
  const made = randomBytes(48).toString('base64url');
  writeWhole(file, made);
  return made;
}

/** The port that was asked for, or the first one free. Throws UserError when the one asked for is taken. */
export async function choosePort(asked: number | undefined): Promise<number> {
  if (asked === undefined) return freePort(FIRST_PORT);
  if (!(await isFree(asked)))
    throw new UserError(`Port ${asked} on 127.0.0.1 is taken by another program. Close that, or choose another port.`);
  return asked;
}

/** Starts the built server against a database and waits until it listens. */
export async function startInstance(
  kind: string,
  databaseUrl: string,
  port: number,
  env: Record<string, string> = {},
): Promise<StartedInstance> {
  ensureState();
  const out = openSync(lastWords(kind), 'w', 0o600);
  const child = fork(join(ROOT, 'dist/server/main.mjs'), [], {
    cwd: ROOT,
    stdio: ['ignore', out, out, 'ipc'],
    execArgv: [],
    detached: true,
    env: {
      ...process.env,
      ...env,
      NODE_ENV: 'production',
      CROSSPEEN_INSTANCE: mark(kind),
      CROSSPEEN_DATABASE_URL: databaseUrl,
      CROSSPEEN_SECRET: secret(),
      CROSSPEEN_WEB_ROOT: join(ROOT, 'dist/web'),
      CROSSPEEN_LOG_FILE: serverLog(kind),
      CROSSPEEN_PORT: String(port),
    },
  });
  closeSync(out);
  const ended = new Promise<number | null>((resolve) => {
    child.once('exit', (code) => resolve(code));
  });
  const listening = new Promise<void>((resolve) => {
    child.once('message', () => resolve());
  });
  const outcome = await Promise.race([
    listening.then(() => 'up' as const),
    ended.then(() => 'down' as const),
    sleep(60_000, 'late' as const, { ref: false }),
  ]);
  if (outcome !== 'up') {
    const words = readFileSync(lastWords(kind), 'utf8')
      .trim()
      .split('\n')
      .filter((line) => !/^\s+at /.test(line))
      .slice(-6)
      .join('\n');
    throw new UserError(`The server did not start. Its log is ${serverLog(kind)}; its last words:\n${words}`);
  }
  child.disconnect();
  return { pid: child.pid!, port, ended };
}

/** Stops all servers of a kind and waits for them; false when none ran. */
export async function stopInstance(kind: string): Promise<boolean> {
  const running = serversOf(kind);
  for (const { pid } of running) signal(pid, 'SIGTERM');
  if (!(await waitFor(() => serversOf(kind).length === 0, 10))) {
    for (const { pid } of serversOf(kind)) signal(pid, 'SIGKILL');
    await waitFor(() => serversOf(kind).length === 0, 10);
  }
  return running.length > 0;
}
