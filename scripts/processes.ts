import { readdirSync, readFileSync, readlinkSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';

/** What the system tells of a running process; what is another user's is left empty. */
export interface RunningProcess {
  readonly pid: number;
  readonly name: string;
  readonly arguments: readonly string[];
  readonly folder: string;
  readonly environment: Readonly<Record<string, string>>;
}

function read<T>(of: () => T, otherwise: T): T {
  try {
    return of();
  } catch {
    return otherwise; // gone meanwhile, or another user's
  }
}

/** One process, or null when there is none of that number. */
export function processOf(pid: number): RunningProcess | null {
  const at = `/proc/${pid}`;
  const name = read(() => readFileSync(`${at}/comm`, 'utf8').trim(), '');
  // A process that has ended and is not yet fetched by its parent is none.
  if (name === '' || read(() => readFileSync(`${at}/stat`, 'utf8').split(') ')[1]?.[0] === 'Z', true)) return null;
  const parts = (text: string): string[] => text.split('\0').filter(Boolean);
  return {
    pid,
    name,
    arguments: parts(read(() => readFileSync(`${at}/cmdline`, 'utf8'), '')),
    folder: read(() => readlinkSync(`${at}/cwd`), ''),
    environment: Object.fromEntries(
      parts(read(() => readFileSync(`${at}/environ`, 'utf8'), '')).map((pair) => {
        const equals = pair.indexOf('=');
        return [pair.slice(0, equals), pair.slice(equals + 1)];
      }),
    ),
  };
}

/** All processes that `is` holds for. */
export const processesThat = (is: (process: RunningProcess) => boolean): RunningProcess[] =>
  readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map((name) => processOf(Number(name)))
    .filter((process) => process !== null && is(process)) as RunningProcess[];

/** Waits until `done` holds; false when it does not within `seconds`. */
export async function waitFor(done: () => boolean | Promise<boolean>, seconds: number): Promise<boolean> {
  const until = Date.now() + seconds * 1000;
  while (!(await done())) {
    if (Date.now() > until) return false;
    await sleep(50);
  }
  return true;
}

/** Sends a signal; a process that has ended already is as good. */
export function signal(pid: number, name: NodeJS.Signals): void {
  try {
    process.kill(pid, name);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error;
  }
}
