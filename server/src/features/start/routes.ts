import { beginnings, changed } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { StartService } from './service.ts';

interface StartNeeds {
  readonly start: StartService;
}

/** The next steps of a workshop that begins. */
export const startRoutes =
  ({ start }: StartNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/start',
      { schema: { summary: 'How far the workshop has come', tags: ['start'], response: { 200: beginnings } } },
      () => start.beginnings(),
    );
    app.post(
      '/api/start/example',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Take the example pack in', tags: ['start'], response: { 200: changed } },
      },
      (request) => start.takeExample(userOf(request)),
    );
    done();
  };
