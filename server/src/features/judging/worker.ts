import { workerData } from 'node:worker_threads';
import { connectDatabase } from '../../platform/database.ts';
import { LibraryService } from '../library/service.ts';
import { readSettings } from '../settings/service.ts';
import { judgeNext } from './batch.ts';
import type { JudgeBatch } from './service.ts';

interface WorkerGround { readonly url: string }

// One connection reads what is known while the other holds the batch's transaction.
const source = connectDatabase((workerData as WorkerGround).url, 2);
const library = new LibraryService();

/** A thread that judges batches: it has its own connections, so that neither reading nor reckoning ever holds up the server's own thread. */
const judge: JudgeBatch = async ({ today, size, after }) => {
  const opened = await source;
  return judgeNext(opened, library, { settings: await readSettings(opened.manager), today }, size, after);
};
export default judge;
