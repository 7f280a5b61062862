import type { endpoints } from '@crosspeen/contract';
import { sendFile } from '../../platform/streams.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { Handlers } from '../../platform/mount.ts';
import { exportArchive } from '../../ledger/archive.ts';

interface ArchiveNeeds {
  /** Connections for what holds one for long. */
  readonly aside: DataSource;
  readonly clock: ShopClock;
}

/** Everything there is, as a file that the owner keeps. */
export const archiveHandlers = ({ aside, clock }: ArchiveNeeds): Handlers<typeof endpoints.archive> => ({
  download: async ({ reply }) =>
    sendFile(reply, {
      type: 'application/gzip',
      name: `crosspeen-${clock.todayIso()}.jsonl.gz`,
      body: await exportArchive(aside, clock.now().toISOString()),
    }),
});
