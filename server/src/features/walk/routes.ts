import {
  entrySettle,
  looksAt,
  MOST_PHOTO_BYTES,
  photoQuery,
  SAID,
  vehicleId,
  walkQuery,
  walkSync,
  walkSynced,
  walkView,
  weakPointId,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { asMade } from '../../platform/http.ts';
import { Problem } from '../../platform/problem.ts';
import { sendPage } from '../../platform/streams.ts';
import { walkSheetPdf } from '../../sheets/walk-sheet.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { PhotoShelf } from './photos.ts';
import type { WalkService } from './service.ts';

const params = z.object({ id: vehicleId });
const tags = ['walk'];

interface WalkNeeds {
  readonly walks: WalkService;
  readonly photos: PhotoShelf;
  readonly settings: SettingsService;
}

export const walkRoutes =
  ({ walks, photos, settings }: WalkNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/vehicles/:id/walk',
      {
        schema: {
          summary: 'The walk round a vehicle, under way or to come',
          tags,
          params,
          querystring: walkQuery,
          response: { 200: walkView },
        },
        ...asMade,
      },
      (request) => walks.view(request.params.id, { minutes: request.query.minutes ?? null }),
    );
    app.post(
      '/api/vehicles/:id/walk',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Begin or join a walk, and send what was entered; every entry counts once',
          tags,
          params,
          body: walkSync,
          response: { 200: walkSynced },
        },
      },
      (request) => walks.sync(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/walk/:walkId/end',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'End a walk',
          tags,
          params: params.extend({ walkId: z.uuid() }),
          response: { 200: walkView },
        },
      },
      (request) => walks.end(request.params.id, request.params.walkId),
    );
    app.post(
      '/api/vehicles/:id/walk/entries/:entryId',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Decide about an entry that waits',
          tags,
          params: params.extend({ entryId: z.uuid() }),
          body: entrySettle,
          response: { 200: walkView },
        },
      },
      (request) => walks.settle(userOf(request), request.params.id, request.params.entryId, request.body.take),
    );
    app.get(
      '/api/vehicles/:id/walk.pdf',
      { schema: { summary: 'The walk as a sheet to take to the bay', tags, params, querystring: walkQuery } },
      async (request, reply) => {
        const view = await walks.view(request.params.id, { minutes: request.query.minutes ?? null });
        const body = walkSheetPdf(view, await settings.now());
        return sendPage(reply, { type: 'application/pdf', name: 'walk.pdf', body });
      },
    );
    app.get(
      '/api/vehicles/:id/looks/:weakPointId',
      {
        schema: {
          summary: 'All looks at one weak point of a vehicle',
          tags,
          params: params.extend({ weakPointId }),
          response: { 200: looksAt },
        },
      },
      (request) => photos.looksAt(request.params.id, request.params.weakPointId),
    );
    void app.register((files: typeof app, _none: unknown, ready: () => void) => {
      files.removeAllContentTypeParsers();
      files.addContentTypeParser('*', { parseAs: 'buffer', bodyLimit: MOST_PHOTO_BYTES }, (_request, body, parsed) =>
        parsed(null, body),
      );
      files.put(
        '/api/photos/:id',
        {
          bodyLimit: MOST_PHOTO_BYTES,
          config: { needs: 'editVehicles' },
          errorHandler: (error, _request, reply) => {
            const large = 'code' in error && error.code === 'FST_ERR_CTP_BODY_TOO_LARGE';
            throw large ? new Problem(SAID.photoTooLarge(MOST_PHOTO_BYTES / 1_000_000)) : (void reply, error);
          },
          schema: {
            summary: 'Keep a photo under an id of the device’s own',
            tags,
            params: z.object({ id: z.uuid() }),
            querystring: photoQuery,
            response: { 200: z.object({ id: z.uuid() }) },
          },
        },
        (request) =>
          photos.keep(
            userOf(request),
            {
              id: request.params.id,
              vehicleId: request.query.vehicleId,
              key: request.query.key ?? null,
              entryId: request.query.entryId ?? null,
              day: request.query.day,
            },
            Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0),
          ),
      );
      ready();
    });
    app.get(
      '/api/photos/:id',
      {
        schema: {
          summary: 'A photo',
          tags,
          params: z.object({ id: z.uuid() }),
          querystring: z.object({ size: z.enum(['whole', 'small']).default('whole') }),
        },
      },
      async (request, reply) => {
        const body = await photos.picture(request.params.id, request.query.size);
        // A photo never changes under its id.
        return reply
          .header('content-type', 'image/jpeg')
          .header('cache-control', 'private, max-age=31536000, immutable')
          .send(body);
      },
    );
    done();
  };
