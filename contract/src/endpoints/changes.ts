import { z } from 'zod';
import { changeId } from '../common.ts';
import { changed } from '../vehicle.ts';
import { post, under } from '../endpoint.ts';

export const changes = under('changes', {
  undo: post('/api/changes/:id/undo', {
    summary: 'Take a change back',
    needs: 'editVehicles',
    params: z.object({ id: changeId }),
    answer: changed,
    errors: ['already_undone', 'changed_since', 'in_use'],
  }),
});
