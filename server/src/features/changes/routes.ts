import { changed, changeId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const changeRoutes = ({ changes }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.post('/api/changes/:id/undo', { schema: { tags: ['changes'], params: z.object({ id: changeId }), response: { 200: changed } } },
    (request) => changes.undo(userOf(request, 'editVehicles'), request.params.id));
  done();
};
