import { spawn, type SpawnOptions } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import { orInterrupted } from './interrupt.ts';
import { UserError } from './places.ts';

/** What is told to end has so long before it is ended. */
const GRACE_MS = 10_000;

function begun(command: string, args: readonly string[], options: SpawnOptions) {
  const child = spawn(command, args, { stdio: 'inherit', ...options });
  const ended = new Promise<number>((resolve, reject) => {
    child.once('error', reject);
    child.once('exit', (code, signal) => resolve(code ?? (signal ? 1 : 0)));
  });
  return { child, ended };
}

/** Runs a command with this terminal's input and output; resolves to its exit code. */
export const runVisible = (command: string, args: readonly string[], options: SpawnOptions = {}): Promise<number> =>
  begun(command, args, options).ended;

/** The same; where this command is told to stop meanwhile, the other is ended first. Throws Interrupted then. */
export async function runToTheEnd(
  command: string,
  args: readonly string[],
  options: SpawnOptions = {},
): Promise<number> {
  const { child, ended } = begun(command, args, options);
  try {
    return await orInterrupted(ended);
  } finally {
    if (child.exitCode === null && child.signalCode === null) {
      child.kill('SIGTERM');
      await Promise.race([ended.catch(() => undefined), sleep(GRACE_MS, undefined, { ref: false })]);
      child.kill('SIGKILL');
    }
  }
}

/** Runs a command quietly; resolves to what it printed. Throws UserError with its last lines when it fails. */
export function runQuiet(command: string, args: readonly string[], options: SpawnOptions = {}): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { ...options, stdio: ['ignore', 'pipe', 'pipe'] });
    let out = '';
    let all = '';
    child.stdout.on('data', (data: Buffer) => {
      out += data.toString();
      all += data.toString();
    });
    child.stderr.on('data', (data: Buffer) => {
      all += data.toString();
    });
    child.once('error', reject);
    child.once('close', (code) => {
      if (code === 0) resolve(out);
      else
        reject(
          new UserError(
            `${command} ${args.slice(0, 3).join(' ')} failed:\n${all.trim().split('\n').slice(-15).join('\n')}`,
          ),
        );
    });
  });
}
