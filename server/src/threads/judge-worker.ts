import { setPriority } from 'node:os';
import { workerData } from 'node:worker_threads';
import { connectDatabase } from '../store/database.ts';
import { LibraryService } from '../knowledge/library.ts';
import { readSettings } from '../ledger/settings.ts';
import { judgeNext } from '../standings/batch.ts';
import type { JudgeBatch } from '../standings/judging.ts';

interface WorkerGround {
  readonly url: string;
}

// Whoever waits for a page comes first: on Linux this is the priority of the calling thread alone.
setPriority(10);

// One connection reads what is known while the other holds the batch's transaction.
const source = connectDatabase((workerData as WorkerGround).url, 2);
const library = new LibraryService();

/**
 * A thread that judges batches: it has its own connections, so that neither reading nor reckoning ever holds up the
 * server's own thread.
 */
const judge: JudgeBatch = async ({ today, size, after }) => {
  const opened = await source;
  return judgeNext(
    opened,
    { library, ground: { settings: await readSettings(opened.manager), today } },
    { size, after },
  );
};
export default judge;
