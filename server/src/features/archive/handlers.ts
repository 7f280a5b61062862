import type { endpoints } from '@crosspeen/contract';
import { spooled } from '../../platform/spool.ts';
import { sendFile } from '../../platform/streams.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { Turns } from '../../platform/turns.ts';
import type { Handlers } from '../../platform/mount.ts';
import { exportArchive } from '../../ledger/archive.ts';

interface ArchiveNeeds {
  /** Connections for what holds one for long. */
  readonly aside: DataSource;
  readonly clock: ShopClock;
}

/** Archives that are made at once, and that may wait for their turn. */
const MADE_AT_ONCE = 2;
const MOST_WAITING = 20;
const turns = new Turns(MADE_AT_ONCE, MOST_WAITING);

/** Everything there is, as a file that the owner keeps. */
export const archiveHandlers = ({ aside, clock }: ArchiveNeeds): Handlers<typeof endpoints.archive> => ({
  download: async ({ reply }) =>
    sendFile(reply, {
      type: 'application/gzip',
      name: `crosspeen-${clock.todayIso()}.jsonl.gz`,
      // Made to its end first: a download that nobody reads holds no connection.
      body: await turns.run(async () => spooled(await exportArchive(aside, clock.now().toISOString()))),
    }),
});
