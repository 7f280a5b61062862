import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';
import { exportArchive } from './archive.ts';

/** Everything there is, as a file that the owner keeps. */
export const archiveRoutes = ({ source, clock }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/archive', { schema: { tags: ['archive'] } }, (request, reply) => {
    userOf(request, 'editSettings');
    return reply.header('content-type', 'application/gzip').header('content-disposition', `attachment; filename="crosspeen-${clock.todayIso()}.jsonl.gz"`).send(exportArchive(source, clock.now().toISOString()));
  });
  done();
};
