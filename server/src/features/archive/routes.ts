import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { sendFile } from '../../platform/streams.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { exportArchive } from '../../ledger/archive.ts';

interface ArchiveNeeds {
  /** Connections for what holds one for long. */
  readonly aside: DataSource;
  readonly clock: ShopClock;
}

/** Everything there is, as a file that the owner keeps. */
export const archiveRoutes =
  ({ aside, clock }: ArchiveNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/archive',
      { config: { needs: 'editSettings' }, schema: { summary: 'Everything as one archive', tags: ['archive'] } },
      async (_request, reply) => {
        return sendFile(reply, {
          type: 'application/gzip',
          name: `crosspeen-${clock.todayIso()}.jsonl.gz`,
          body: await exportArchive(aside, clock.now().toISOString()),
        });
      },
    );
    done();
  };
