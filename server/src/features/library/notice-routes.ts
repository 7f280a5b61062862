import {
  callDraft,
  campaignQuery,
  changed,
  notice,
  noticeCampaignRow,
  noticeDraft,
  noticeId,
  noticeQuery,
  noticeRow,
  noticeStep,
  noticeUpdate,
  paged,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import type { Campaigns } from './campaigns.ts';
import type { Notices } from './notices.ts';

interface NoticeNeeds {
  readonly campaigns: Campaigns;
  readonly notices: Notices;
}

/** Bulletins and coverages, whom they touch, and the calls that were made. */
export const noticeRoutes =
  ({ campaigns, notices }: NoticeNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const tags = ['library'];
    const noticeParams = z.object({ id: noticeId });
    app.get(
      '/api/library/notices',
      {
        schema: {
          summary: 'Bulletins and coverages',
          tags,
          querystring: noticeQuery,
          response: { 200: paged(noticeRow) },
        },
      },
      async (request) => {
        return pageOf(await notices.list(request.query), request.query);
      },
    );
    app.get(
      '/api/library/notices/:id',
      { schema: { summary: 'One bulletin or coverage', tags, params: noticeParams, response: { 200: notice } } },
      (request) => {
        return notices.get(request.params.id);
      },
    );
    app.get(
      '/api/library/notices/:id/vehicles',
      {
        schema: {
          summary: 'Saved vehicles that a notice touches',
          tags,
          params: noticeParams,
          querystring: campaignQuery,
          response: { 200: paged(noticeCampaignRow) },
        },
      },
      async (request) => {
        return pageOf(await campaigns.ofNotice(request.params.id, request.query), request.query);
      },
    );
    app.post(
      '/api/library/notices',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Add a bulletin or a coverage', tags, body: noticeDraft, response: { 200: changed } },
      },
      (request) => notices.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/notices/:id',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Correct a bulletin or a coverage',
          tags,
          params: noticeParams,
          body: noticeUpdate,
          response: { 200: changed },
        },
      },
      (request) => notices.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    app.post(
      '/api/library/notices/:id/step',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Take a notice out of use, or back into it',
          tags,
          params: noticeParams,
          body: noticeStep,
          response: { 200: changed },
        },
      },
      (request) => notices.step(userOf(request), request.params.id, request.body.state, request.body.version),
    );
    app.post(
      '/api/library/calls',
      {
        config: { needs: 'planVisits' },
        schema: {
          summary: 'Record a call to the keeper of a vehicle',
          tags,
          body: callDraft,
          response: { 200: changed },
        },
      },
      (request) => campaigns.call(userOf(request), request.body),
    );
    done();
  };
