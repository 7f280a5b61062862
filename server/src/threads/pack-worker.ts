import { workerData } from 'node:worker_threads';
import { connectDatabase } from '../store/database.ts';
import { databaseProblem } from '../platform/database-problem.ts';
import { Problem } from '../platform/problem.ts';
import type { PackOutcome, PackTask } from './pack-pool.ts';
import { PackDesk } from '../features/packs/service.ts';

// One connection holds a change while another tries out what it would write.
const source = connectDatabase((workerData as { url: string }).url, 2);

/** A thread that reads and writes packs: however long a file takes to understand, nobody else waits for it. */
export default async function work(task: PackTask): Promise<PackOutcome> {
  const desk = new PackDesk({ source: await source, announce: () => undefined });
  try {
    const done =
      task.call === 'preview'
        ? await desk.preview(task.author, task.name, task.text)
        : await desk.take(task.author, task.uploadId, task.choices);
    return { done };
  } catch (error) {
    const problem = error instanceof Problem ? error : databaseProblem(error);
    if (problem === null) throw error;
    // Errors lose their class on the way between threads.
    return { problem: { said: problem.said, extra: problem.extra } };
  }
}
