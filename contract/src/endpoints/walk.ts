import { z } from 'zod';
import { vehicleId, weakPointId } from '../common.ts';
import { photoTooLarge } from '../said.ts';
import {
  MOST_PHOTO_BYTES,
  entrySettle,
  looksAt,
  photoQuery,
  walkQuery,
  walkSync,
  walkSynced,
  walkView,
} from '../walk.ts';
import { file, get, post, put, under, upload } from '../endpoint.ts';

const params = z.object({ id: vehicleId });

export const walk = under('walk', {
  view: get('/api/vehicles/:id/walk', {
    summary: 'The walk round a vehicle, under way or to come',
    params,
    query: walkQuery,
    answer: walkView,
  }),
  sync: post('/api/vehicles/:id/walk', {
    summary: 'Begin or join a walk, and send what was entered; every entry counts once',
    needs: 'editVehicles',
    params,
    body: walkSync,
    answer: walkSynced,
  }),
  end: post('/api/vehicles/:id/walks/:walkId/end', {
    summary: 'End a walk',
    needs: 'editVehicles',
    params: params.extend({ walkId: z.uuid() }),
    answer: walkView,
  }),
  settleEntry: post('/api/vehicles/:id/walk/entries/:entryId', {
    summary: 'Decide about an entry that waits',
    needs: 'editVehicles',
    params: params.extend({ entryId: z.uuid() }),
    body: entrySettle,
    answer: walkView,
  }),
  sheet: get('/api/vehicles/:id/walk.pdf', {
    summary: 'The walk as a sheet to take to the bay',
    params,
    query: walkQuery,
    answer: file('application/pdf'),
  }),
  looksAt: get('/api/vehicles/:id/looks/:weakPointId', {
    summary: 'All looks at one weak point of a vehicle',
    params: params.extend({ weakPointId }),
    answer: looksAt,
  }),
  keepPhoto: put('/api/photos/:id', {
    summary: 'Keep a photo under an id of the device’s own',
    needs: 'editVehicles',
    params: z.object({ id: z.uuid() }),
    query: photoQuery,
    body: upload(MOST_PHOTO_BYTES, 'bytes', photoTooLarge(MOST_PHOTO_BYTES / 1_000_000)),
    answer: z.object({ id: z.uuid() }),
    errors: ['bad_file', 'taken'],
  }),
  photo: get('/api/photos/:id', {
    summary: 'A photo',
    params: z.object({ id: z.uuid() }),
    query: z.object({ size: z.enum(['whole', 'small']).default('whole') }),
    answer: file('image/jpeg'),
  }),
});
