import { backupPicture } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { BackupService } from './service.ts';

interface BackupNeeds {
  readonly backups: BackupService;
}

const answer = z.object({ picture: backupPicture.nullable() });

/** The owner's: backups that were made, and one to be made now. */
export const backupRoutes =
  ({ backups }: BackupNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const config = { needs: 'editSettings' } as const;
    app.get(
      '/api/backups',
      { config, schema: { summary: 'Backups of this workshop', tags: ['settings'], response: { 200: answer } } },
      async () => ({ picture: await backups.picture() }),
    );
    app.post(
      '/api/backups',
      { config, schema: { summary: 'Make a backup now', tags: ['settings'], response: { 200: answer } } },
      async () => {
        await backups.runNow();
        return { picture: await backups.picture() };
      },
    );
    done();
  };
