import { settings } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const settingsRoutes = ({ settings: service }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/settings', { schema: { tags: ['settings'], response: { 200: settings } } }, (request) => {
    userOf(request);
    return service.current();
  });
  app.put('/api/settings', { schema: { tags: ['settings'], body: settings, response: { 200: settings } } }, (request) => {
    const { version, ...values } = request.body;
    return service.save(userOf(request, 'editSettings'), values, version);
  });
  done();
};
