import type { endpoints } from '@crosspeen/contract';
import { sendPage } from '../../platform/streams.ts';
import { asMade, type Handlers } from '../../platform/mount.ts';
import type { Printer } from '../../sheets/printer.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { PhotoShelf } from './photos.ts';
import type { WalkService } from './service.ts';

interface WalkNeeds {
  readonly walks: WalkService;
  readonly photos: PhotoShelf;
  readonly settings: SettingsService;
  readonly printer: Printer;
}

export const walkHandlers = ({ walks, photos, settings, printer }: WalkNeeds): Handlers<typeof endpoints.walk> => ({
  view: asMade(({ params, query }) => walks.view(params.id, { minutes: query.minutes ?? null })),
  sync: ({ user, params, body }) => walks.sync(user, params.id, body),
  end: ({ params }) => walks.end(params.id, params.walkId),
  settleEntry: ({ user, params, body }) => walks.settle(user, params.id, params.entryId, body.take),
  sheet: async ({ params, query, reply }) => {
    const view = await walks.view(params.id, { minutes: query.minutes ?? null });
    const body = await printer.print('walk', view, await settings.now());
    return sendPage(reply, { type: 'application/pdf', name: 'walk.pdf', body });
  },
  looksAt: ({ params }) => photos.looksAt(params.id, params.weakPointId),
  keepPhoto: ({ user, params, query, body }) =>
    photos.keep(
      user,
      {
        id: params.id,
        vehicleId: query.vehicleId,
        key: query.key ?? null,
        entryId: query.entryId ?? null,
        day: query.day,
      },
      body,
    ),
  photo: async ({ params, query, reply }) => {
    const body = await photos.picture(params.id, query.size);
    // A photo never changes under its id.
    return reply
      .header('content-type', 'image/jpeg')
      .header('cache-control', 'private, max-age=31536000, immutable')
      .send(body);
  },
});
