import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { closeSync, existsSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort, isFree } from './cluster.ts';
import { addressOf, ON_LOOPBACK, type Hosting } from './hosting.ts';
import { ensureState, ROOT, STATE, UserError } from './places.ts';
import { processesThat, signal, waitFor } from './processes.ts';

const FIRST_PORT = 8460;

export interface Instance {
  readonly pid: number;
  readonly port: number;
  readonly host: string;
  readonly secure: boolean;
  /** Where people reach it. */
  readonly address: string;
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
  ).map(({ pid, environment }) => ({
    pid,
    port: Number(environment['CROSSPEEN_PORT']),
    host: environment['CROSSPEEN_HOST'] ?? '127.0.0.1',
    secure: (environment['CROSSPEEN_TLS_CERT'] ?? '') !== '',
    address: environment['CROSSPEEN_ADDRESS'] ?? `http://127.0.0.1:${environment['CROSSPEEN_PORT']}`,
  }));

/** The running server of a kind, or null. */
export const runningInstance = (kind: string): Instance | null => serversOf(kind)[0] ?? null;

/** Whether a server answers, its database included. */
export const isHealthy = (
  { port, host, secure }: Omit<Instance, 'pid' | 'address'>,
  withinMs = 5000,
): Promise<boolean> =>
  new Promise((resolve) => {
    const own = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
    // Its certificate is for the name people type, not for this machine's own of itself.
    const question = (secure ? https : http).get(
      {
        host: own,
        port,
        path: '/api/health',
        headers: { host: 'localhost' },
        timeout: withinMs,
        ...(secure ? { rejectUnauthorized: false } : {}),
      },
      (answer) => {
        answer.resume();
        resolve(answer.statusCode === 200);
      },
    );
    question.once('timeout', () => question.destroy());
    question.once('error', () => resolve(false));
  });

/** The port that was asked for, or the first one free. Throws UserError when the one asked for is taken. */
export async function choosePort(asked: number | undefined, host = '127.0.0.1'): Promise<number> {
  if (asked === undefined) return freePort(FIRST_PORT, host);
  if (!(await isFree(asked, host)))
    throw new UserError(
      `Port ${asked} on ${host} is taken by another program, or is not this machine’s. Close that, or choose another.`,
    );
  return asked;
}

/** The token of an instance's figures, made once and kept where only its user reads it. */
function metricsToken(kind: string): string {
  const path = join(STATE, `${kind}-metrics-token`);
  if (!existsSync(path)) writeFileSync(path, randomBytes(24).toString('base64url'), { mode: 0o600 });
  return readFileSync(path, 'utf8').trim();
}

/** Starts the built server against a database and waits until it listens. */
export async function startInstance(
  kind: string,
  databaseUrl: string,
  port: number,
  {
    env = {},
    hosting = ON_LOOPBACK,
  }: { readonly env?: Readonly<Record<string, string>>; readonly hosting?: Hosting } = {},
): Promise<StartedInstance> {
  const address = addressOf(hosting, port);
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
      CROSSPEEN_WEB_ROOT: join(ROOT, 'dist/web'),
      CROSSPEEN_LOG_FILE: serverLog(kind),
      CROSSPEEN_PORT: String(port),
      CROSSPEEN_HOST: hosting.host,
      CROSSPEEN_ADDRESS: address,
      CROSSPEEN_HOSTS: hosting.names.join(','),
      CROSSPEEN_TLS_CERT: hosting.tls?.cert ?? '',
      CROSSPEEN_TLS_KEY: hosting.tls?.key ?? '',
      CROSSPEEN_PROXY: hosting.proxy ?? '',
      CROSSPEEN_METRICS_TOKEN: metricsToken(kind),
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
  return { pid: child.pid!, port, host: hosting.host, secure: hosting.tls !== null, address, ended };
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
