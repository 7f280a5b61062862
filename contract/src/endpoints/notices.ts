import { z } from 'zod';
import { noticeId, paged } from '../common.ts';
import { campaignQuery } from '../library.ts';
import {
  callDraft,
  notice,
  noticeCampaignRow,
  noticeDraft,
  noticeQuery,
  noticeRow,
  noticeStep,
  noticeUpdate,
} from '../notice.ts';
import { changed } from '../vehicle.ts';
import { get, post, put, under } from '../endpoint.ts';

const noticeParams = z.object({ id: noticeId });

export const notices = under('library', {
  list: get('/api/library/notices', {
    summary: 'Bulletins and coverages',
    query: noticeQuery,
    answer: paged(noticeRow),
  }),
  get: get('/api/library/notices/:id', { summary: 'One bulletin or coverage', params: noticeParams, answer: notice }),
  vehicles: get('/api/library/notices/:id/vehicles', {
    summary: 'Saved vehicles that a notice touches',
    params: noticeParams,
    query: campaignQuery,
    answer: paged(noticeCampaignRow),
  }),
  create: post('/api/library/notices', {
    summary: 'Add a bulletin or a coverage',
    needs: 'writeLibrary',
    body: noticeDraft,
    answer: changed,
    errors: ['taken'],
  }),
  update: put('/api/library/notices/:id', {
    summary: 'Correct a bulletin or a coverage',
    needs: 'writeLibrary',
    params: noticeParams,
    body: noticeUpdate,
    answer: changed,
    errors: ['taken', 'changed_meanwhile'],
  }),
  step: post('/api/library/notices/:id/step', {
    summary: 'Take a notice out of use, or back into it',
    needs: 'writeLibrary',
    params: noticeParams,
    body: noticeStep,
    answer: changed,
    errors: ['changed_meanwhile'],
  }),
  recordCall: post('/api/library/calls', {
    summary: 'Record a call to the keeper of a vehicle',
    needs: 'planVisits',
    body: callDraft,
    answer: changed,
  }),
});
