import { limitPicture, settings } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { DataSource } from 'typeorm';
import type { SettingsService } from '../../ledger/settings.ts';
import type { JudgingService } from '../../standings/judging.ts';
import { limitPictureOf } from './picture.ts';

interface SettingsNeeds {
  readonly settings: SettingsService;
  readonly judging: JudgingService;
  readonly source: DataSource;
}

export const settingsRoutes =
  ({ settings: service, judging, source }: SettingsNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/settings',
      { schema: { summary: 'The settings of the workshop', tags: ['settings'], response: { 200: settings } } },
      () => {
        return service.current();
      },
    );
    app.put(
      '/api/settings',
      {
        config: { needs: 'editSettings' },
        schema: { summary: 'Save the settings', tags: ['settings'], body: settings, response: { 200: settings } },
      },
      async (request) => {
        const { version, ...values } = request.body;
        const saved = await service.save(userOf(request), values, version);
        void judging
          .run('new settings')
          .catch((error: unknown) =>
            request.log.error(
              { err: error },
              'judging the vehicles by the new settings failed; the next sweep goes on',
            ),
          );
        return saved;
      },
    );
    app.get(
      '/api/settings/limit-picture',
      {
        schema: {
          summary: 'How many vehicles each limit would call in',
          tags: ['settings'],
          response: { 200: limitPicture },
        },
      },
      () => {
        return limitPictureOf(source.manager);
      },
    );
    done();
  };
