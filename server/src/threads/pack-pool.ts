import { SAID, type Changed, type PackChoice, type PackPreview } from '@crosspeen/contract';
import { Piscina } from 'piscina';
import type { Author } from '../platform/once.ts';
import { Problem } from '../platform/problem.ts';
import type { PackWork } from '../features/packs/service.ts';

export type PackTask =
  | { readonly call: 'preview'; readonly author: Author; readonly name: string; readonly text: string }
  | {
      readonly call: 'take';
      readonly author: Author;
      readonly uploadId: string;
      readonly choices: Readonly<Record<string, PackChoice>>;
    };

export type PackOutcome =
  { readonly done: PackPreview | Changed } | { readonly problem: Pick<Problem, 'said' | 'extra'> };

export interface PackPool {
  readonly work: (announce: () => void) => PackWork;
  readonly close: () => Promise<void>;
}

/** Memory of the thread: a file that needs more is refused, and only the thread begins anew. */
const LIMITS = { maxOldGenerationSizeMb: 1024, stackSizeMb: 4 } as const;
const OUT_OF_MEMORY = 'ERR_WORKER_OUT_OF_MEMORY';

/** A thread for packs; `file` is the built worker. */
export function packPool(file: string, url: string): PackPool {
  const pool = new Piscina({
    filename: file,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 60_000,
    workerData: { url },
    resourceLimits: LIMITS,
    maxQueue: 8,
  });
  const run = async <T>(task: PackTask): Promise<T> => {
    let outcome: PackOutcome;
    try {
      outcome = (await pool.run(task)) as PackOutcome;
    } catch (error) {
      if ((error as { code?: string }).code !== OUT_OF_MEMORY) throw error;
      throw new Problem(SAID.packTooBig);
    }
    if ('problem' in outcome) throw new Problem(outcome.problem.said, outcome.problem.extra);
    return outcome.done as T;
  };
  return {
    work: (announce) => ({
      preview: (author, name, text) => run<PackPreview>({ call: 'preview', author, name, text }),
      take: async (author, uploadId, choices) => {
        const done = await run<Changed>({ call: 'take', author, uploadId, choices });
        announce();
        return done;
      },
    }),
    close: () => pool.destroy(),
  };
}
