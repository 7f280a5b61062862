import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { sendFile } from '../../platform/streams.ts';
import type { Services } from '../../services.ts';
import { exportArchive } from './archive.ts';

/** Everything there is, as a file that the owner keeps. */
export const archiveRoutes =
  ({ aside, clock }: Services): FastifyPluginCallbackZod =>
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
