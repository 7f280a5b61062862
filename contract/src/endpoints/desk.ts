import { z } from 'zod';
import { paged } from '../common.ts';
import { deskNote, deskNoteCreate, deskNoteSettle, deskNotesQuery } from '../desk.ts';
import { get, post, under } from '../endpoint.ts';

export const desk = under('desk', {
  list: get('/api/desk-notes', {
    summary: 'Notes from the bay to the desk',
    query: deskNotesQuery,
    answer: paged(deskNote),
  }),
  add: post('/api/desk-notes', {
    summary: 'Hand a note to the desk; sent twice it is kept once',
    needs: 'editVehicles',
    body: deskNoteCreate,
    answer: z.object({ id: z.uuid() }),
    errors: ['not_found', 'taken'],
  }),
  settle: post('/api/desk-notes/:id', {
    summary: 'Settle a note, or open it again',
    needs: 'editVehicles',
    params: z.object({ id: z.uuid() }),
    body: deskNoteSettle,
    answer: deskNote,
  }),
});
