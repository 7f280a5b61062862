import type { endpoints } from '@crosspeen/contract';
import type { Handlers } from '../../platform/mount.ts';
import type { BackupService } from './service.ts';

interface BackupNeeds {
  readonly backups: BackupService;
}

/** The owner's: backups that were made, and one to be made now. */
export const backupHandlers = ({ backups }: BackupNeeds): Handlers<typeof endpoints.backups> => ({
  get: async () => ({ picture: await backups.picture() }),
  make: async ({ user }) => {
    await backups.runNow(user.userId);
    return { picture: await backups.picture() };
  },
});
