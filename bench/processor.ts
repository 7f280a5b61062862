import { readFileSync } from 'node:fs';
import { availableParallelism, cpus } from 'node:os';

/** Seconds that all cores together have worked since the machine started: user, nice and system time. */
const worked = (): number => cpus().reduce((sum, { times }) => sum + times.user + times.nice + times.sys, 0) / 1000;

/**
 * Wall and processor time of what is timed; on a machine shared with others the second says what an undisturbed one
 * would need.
 */
export function stopwatch(): () => { readonly seconds: number; readonly words: string } {
  const [began, before] = [performance.now(), worked()];
  return () => {
    const seconds = (performance.now() - began) / 1000;
    const spent = worked() - before;
    return {
      seconds,
      words: `${seconds.toFixed(1)} s (${spent.toFixed(0)} s of processor time, ${(spent / availableParallelism()).toFixed(0)} s on ${availableParallelism()} cores of its own)`,
    };
  };
}

/** Memory that a process holds now, in MB. */
export const residentMemory = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
