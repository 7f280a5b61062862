import type { endpoints } from '@crosspeen/contract';
import type { Handlers } from '../../platform/mount.ts';
import type { DataSource } from 'typeorm';
import type { SettingsService } from '../../ledger/settings.ts';
import type { JudgingService } from '../../standings/judging.ts';
import { limitPictureOf } from './picture.ts';

interface SettingsNeeds {
  readonly settings: SettingsService;
  readonly judging: JudgingService;
  readonly source: DataSource;
}

export const settingsHandlers = ({
  settings: service,
  judging,
  source,
}: SettingsNeeds): Handlers<typeof endpoints.settings> => ({
  get: () => service.current(),
  save: async ({ user, body, request }) => {
    const { version, ...values } = body;
    const saved = await service.save(user, values, version);
    void judging
      .run('new settings')
      .catch((error: unknown) =>
        request.log.error({ err: error }, 'judging the vehicles by the new settings failed; the next sweep goes on'),
      );
    return saved;
  },
  limitPicture: () => limitPictureOf(source.manager),
});
