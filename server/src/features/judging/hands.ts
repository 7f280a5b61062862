import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { JudgeBatch, JudgeHands } from './service.ts';

export interface Hands extends JudgeHands {
  readonly close: () => Promise<void>;
}

/** Worker threads that judge the fleet, one a processor and at most four; `file` is the built worker. */
export function workerHands(file: string, url: string): Hands {
  const threads = Math.min(4, availableParallelism());
  const pool = new Piscina({ filename: file, minThreads: 0, maxThreads: threads, idleTimeout: 30_000, workerData: { url } });
  return { threads, judge: (task) => pool.run(task) as ReturnType<JudgeBatch>, close: () => pool.destroy() };
}
