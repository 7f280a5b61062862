import { fleetProgress } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { JudgingService } from '../../standings/judging.ts';

export const judgingRoutes =
  ({ judging }: { readonly judging: JudgingService }): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const schema = { tags: ['judging'], response: { 200: fleetProgress } };
    app.get('/api/fleet', { schema: { ...schema, summary: 'How far judging all vehicles again has come' } }, () => {
      return judging.progress();
    });
    app.post(
      '/api/fleet/judge',
      { config: { needs: 'judgeFleet' }, schema: { ...schema, summary: 'Judge all vehicles again' } },
      async (request) => {
        void judging
          .run('asked for')
          .catch((error: unknown) =>
            request.log.error({ err: error }, 'judging all vehicles failed; the next sweep goes on'),
          );
        return judging.progress();
      },
    );
    app.post(
      '/api/fleet/stop',
      { config: { needs: 'judgeFleet' }, schema: { ...schema, summary: 'Stop judging; what is done stays' } },
      async () => {
        await judging.stop();
        return judging.progress();
      },
    );
    done();
  };
