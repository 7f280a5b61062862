import { changed, changeId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const changeRoutes = ({ changes, desk, source }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.post('/api/changes/:id/undo', { schema: { tags: ['changes'], params: z.object({ id: changeId }), response: { 200: changed } } },
    async (request) => {
      // One way back for every change that was offered one, whichever trail it stands on.
      const [ofLibrary] = await source.query<{ kind: string }[]>('select kind from library_change where id = $1', [request.params.id]);
      if (ofLibrary === undefined) return changes.undo(userOf(request, 'editVehicles'), request.params.id);
      return desk.undo(userOf(request, ofLibrary.kind === 'pack' ? 'publishLibrary' : 'writeLibrary'), request.params.id);
    });
  done();
};
