import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { JudgeBatch, JudgePool } from '../standings/judging.ts';

/** Room for what a batch makes and forgets: with a thread's usual room, clearing it up takes as long as the judging. */
const YOUNG = { maxYoungGenerationSizeMb: 256 } as const;

export interface Hands extends JudgePool {
  readonly close: () => Promise<void>;
}

/** Worker threads that judge the fleet, one a processor and at most four; `file` is the built worker. */
export function judgePool(file: string, url: string): Hands {
  const threads = Math.min(4, availableParallelism());
  const pool = new Piscina({
    filename: file,
    minThreads: 0,
    maxThreads: threads,
    idleTimeout: 30_000,
    workerData: { url },
    resourceLimits: YOUNG,
  });
  return { threads, judge: (task) => pool.run(task) as ReturnType<JudgeBatch>, close: () => pool.destroy() };
}
