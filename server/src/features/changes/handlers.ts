import type { endpoints } from '@crosspeen/contract';
import { mustBeAllowed } from '../../platform/guard.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { ChangeService } from '../../ledger/journal.ts';
import type { LibraryDesk } from '../../knowledge/desk.ts';

interface ChangeNeeds {
  readonly changes: ChangeService;
  readonly desk: LibraryDesk;
}

export const changeHandlers = ({ changes, desk }: ChangeNeeds): Handlers<typeof endpoints.changes> => ({
  undo: async ({ user, params }) => {
    // One way back for every change that was offered one, whichever trail it stands on.
    const { id } = params;
    const ofLibrary = await desk.kindOf(id);
    if (ofLibrary === null) {
      if (await changes.touches(id, 'setting')) mustBeAllowed(user, 'editSettings');
      return changes.undo(user, id);
    }
    mustBeAllowed(user, ofLibrary === 'pack' ? 'publishLibrary' : 'writeLibrary');
    return desk.undo(user, id);
  },
});
