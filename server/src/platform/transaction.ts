import { setTimeout as sleep } from 'node:timers/promises';
import type { DataSource, EntityManager } from 'typeorm';
import { hadToGiveWay } from './database-problem.ts';

/** Milliseconds before a transaction that gave way begins anew; a little more each time, and never the same for two. */
const PAUSE_MS = 40;
const TRIES = 5;

/**
 * Runs `work` in a transaction, and again from its beginning where PostgreSQL ended it so that another could go on: two
 * that want the same rows in another order are nobody's mistake. `work` must leave nothing outside of the transaction.
 */
export async function inTransaction<T>(source: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await source.transaction(work);
    } catch (error) {
      if (tries >= TRIES || !hadToGiveWay(error)) throw error;
      await sleep(PAUSE_MS * tries * (1 + Math.random()));
    }
  }
}
