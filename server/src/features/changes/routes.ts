import { changed, changeId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { mustBeAllowed, userOf } from '../../platform/guard.ts';
import type { ChangeService } from '../../ledger/journal.ts';
import type { LibraryDesk } from '../library/authoring.ts';

interface ChangeNeeds {
  readonly changes: ChangeService;
  readonly desk: LibraryDesk;
}

export const changeRoutes =
  ({ changes, desk }: ChangeNeeds): FastifyPluginCallbackZod =>
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
        const { id } = request.params;
        const ofLibrary = await desk.kindOf(id);
        const user = userOf(request);
        if (ofLibrary === null) {
          if (await changes.touches(id, 'setting')) mustBeAllowed(user, 'editSettings');
          return changes.undo(user, id);
        }
        mustBeAllowed(user, ofLibrary === 'pack' ? 'publishLibrary' : 'writeLibrary');
        return desk.undo(user, id);
      },
    );
    done();
  };
