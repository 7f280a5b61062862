import { limitPicture, settings } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';
import { limitPictureOf } from './picture.ts';

export const settingsRoutes = ({ settings: service, judging, source }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/settings', { schema: { tags: ['settings'], response: { 200: settings } } }, (request) => {
    userOf(request);
    return service.current();
  });
  app.put('/api/settings', { schema: { tags: ['settings'], body: settings, response: { 200: settings } } }, async (request) => {
    const { version, ...values } = request.body;
    const saved = await service.save(userOf(request, 'editSettings'), values, version);
    void judging.run('new settings').catch((error: unknown) => request.log.error({ err: error }, 'judging the vehicles by the new settings failed; the next sweep goes on'));
    return saved;
  });
  app.get('/api/settings/limit-picture', { schema: { tags: ['settings'], response: { 200: limitPicture } } }, (request) => {
    userOf(request);
    return limitPictureOf(source.manager);
  });
  done();
};
