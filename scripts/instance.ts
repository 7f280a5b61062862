import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from './cluster.ts';
import { ROOT, STATE, UserError } from './places.ts';

const FIRST_PORT = 8460;

export interface Instance { readonly pid: number; readonly port: number }

const instanceFile = (kind: string): string => join(STATE, `server-${kind}.json`);
export const serverLog = (kind: string): string => join(STATE, 'logs', `server-${kind}.log`);

const isServer = (pid: number): boolean => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(join(ROOT, 'dist/server/main.mjs'));
  } catch {
    return false;
  }
};

/** The running server of a kind, or null; a pid that is another program by now does not count. */
export function runningInstance(kind: string): Instance | null {
  if (!existsSync(instanceFile(kind))) return null;
  const instance = JSON.parse(readFileSync(instanceFile(kind), 'utf8')) as Instance;
  return isServer(instance.pid) ? instance : null;
}

function secret(): string {
  const file = join(STATE, 'cookie.secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(48).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/** Starts the built server against a database and waits until it listens. `ended` resolves when it stops. */
export async function startInstance(kind: string, databaseUrl: string, env: Record<string, string> = {}): Promise<Instance & { ended: Promise<number | null> }> {
  const log = serverLog(kind);
  const out = openSync(log, 'a');
  const port = await freePort(Number(process.env['CROSSPEEN_PORT'] ?? FIRST_PORT));
  const child = fork(join(ROOT, 'dist/server/main.mjs'), [], {
    cwd: ROOT, stdio: ['ignore', out, out, 'ipc'], execArgv: [], detached: true,
    env: { ...process.env, ...env, NODE_ENV: 'production', CROSSPEEN_DATABASE_URL: databaseUrl, CROSSPEEN_SECRET: secret(), CROSSPEEN_WEB_ROOT: join(ROOT, 'dist/web'), CROSSPEEN_PORT: String(port) },
  });
  const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
  const listening = new Promise<void>((resolve) => child.once('message', () => resolve()));
  const outcome = await Promise.race([listening.then(() => 'up' as const), ended.then(() => 'down' as const), sleep(60_000, 'late' as const, { ref: false })]);
  if (outcome !== 'up') throw new UserError(`The server did not start. Its last words in ${log}:\n${readFileSync(log, 'utf8').trim().split('\n').slice(-6).join('\n')}`);
  child.disconnect();
  const instance = { pid: child.pid!, port };
  writeFileSync(instanceFile(kind), JSON.stringify(instance));
  return { ...instance, ended };
}

/** Stops the server of a kind and waits for it; does nothing when it does not run. */
export async function stopInstance(kind: string): Promise<boolean> {
  const running = runningInstance(kind);
  if (running) {
    process.kill(running.pid, 'SIGTERM');
    for (let tries = 0; tries < 200 && isServer(running.pid); tries += 1) await sleep(50);
    if (isServer(running.pid)) process.kill(running.pid, 'SIGKILL');
  }
  rmSync(instanceFile(kind), { force: true });
  return running !== null;
}
