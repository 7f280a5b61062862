import { fleetProgress } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const judgingRoutes = ({ judging }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  const schema = { tags: ['judging'], response: { 200: fleetProgress } };
  app.get('/api/fleet', { schema }, (request) => {
    userOf(request);
    return judging.progress();
  });
  app.post('/api/fleet/judge', { schema }, async (request) => {
    userOf(request, 'judgeFleet');
    void judging.run('asked for').catch((error: unknown) => request.log.error({ err: error }, 'judging all vehicles failed; the next sweep goes on'));
    return judging.progress();
  });
  app.post('/api/fleet/stop', { schema }, async (request) => {
    userOf(request, 'judgeFleet');
    await judging.stop();
    return judging.progress();
  });
  done();
};
