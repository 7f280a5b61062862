import { changed, changeId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { mustBeAllowed, userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const changeRoutes =
  ({ changes, desk, source }: Services): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.post(
      '/api/changes/:id/undo',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Take a change back',
          tags: ['changes'],
          params: z.object({ id: changeId }),
          response: { 200: changed },
        },
      },
      async (request) => {
        // One way back for every change that was offered one, whichever trail it stands on.
        const [ofLibrary] = await source.query<{ kind: string }[]>('select kind from library_change where id = $1', [
          request.params.id,
        ]);
        const user = userOf(request);
        if (ofLibrary === undefined) {
          const [ofSettings] = await source.query<unknown[]>(
            "select 1 from change_item where change_id = $1 and entity = 'setting' limit 1",
            [request.params.id],
          );
          if (ofSettings !== undefined) mustBeAllowed(user, 'editSettings');
          return changes.undo(user, request.params.id);
        }
        mustBeAllowed(user, ofLibrary.kind === 'pack' ? 'publishLibrary' : 'writeLibrary');
        return desk.undo(user, request.params.id);
      },
    );
    done();
  };
