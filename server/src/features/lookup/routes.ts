import {
  lookupAnswer,
  lookupMeaning,
  lookupQuery,
  lookupWalkQuery,
  purchaseQuery,
  purchaseView,
  questions,
  walkView,
  weakPointId,
  why,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { asMade } from '../../platform/http.ts';
import { sendPage } from '../../platform/streams.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { purchaseSheetPdf } from '../../sheets/purchase-sheet.ts';
import { walkSheetPdf } from '../../sheets/walk-sheet.ts';
import type { LookupService } from './service.ts';

export const lookupRoutes =
  ({
    lookup,
    settings,
  }: {
    readonly lookup: LookupService;
    readonly settings: SettingsService;
  }): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/lookup',
      {
        schema: {
          summary: 'Answer a line: what gives way next',
          tags: ['lookup'],
          querystring: lookupQuery,
          response: { 200: lookupAnswer },
        },
        ...asMade,
      },
      (request) => {
        return lookup.answer(request.query);
      },
    );
    app.get(
      '/api/lookup/meaning',
      {
        schema: {
          summary: 'What a line is understood as',
          tags: ['lookup'],
          querystring: lookupQuery,
          response: { 200: lookupMeaning },
        },
      },
      (request) => {
        return lookup.meaning(request.query);
      },
    );
    app.get(
      '/api/lookup/questions',
      {
        schema: {
          summary: 'Questions whose answers would change a verdict',
          tags: ['lookup'],
          querystring: lookupQuery,
          response: { 200: questions },
        },
      },
      async (request) => {
        return { questions: await lookup.questions(request.query) };
      },
    );
    app.get(
      '/api/lookup/walk',
      {
        schema: {
          summary: 'A walk round an engine of which nothing is saved',
          tags: ['lookup'],
          querystring: lookupWalkQuery,
          response: { 200: walkView },
        },
        ...asMade,
      },
      (request) => lookup.walk(request.query, request.query.minutes ?? null),
    );
    app.get(
      '/api/lookup/walk.pdf',
      {
        schema: {
          summary: 'The walk round an engine as a sheet to take along',
          tags: ['lookup'],
          querystring: lookupWalkQuery,
        },
      },
      async (request, reply) => {
        const view = await lookup.walk(request.query, request.query.minutes ?? null);
        return sendPage(reply, {
          type: 'application/pdf',
          name: 'walk.pdf',
          body: walkSheetPdf(view, await settings.now()),
        });
      },
    );
    app.get(
      '/api/lookup/purchase',
      {
        schema: {
          summary: 'Before a purchase: what it will ask for, where to look, what to ask',
          tags: ['lookup'],
          querystring: purchaseQuery,
          response: { 200: purchaseView },
        },
        ...asMade,
      },
      (request) => lookup.purchase(request.query, request.query.price ?? null),
    );
    app.get(
      '/api/lookup/purchase.pdf',
      {
        schema: {
          summary: 'Before a purchase, as a sheet to take along',
          tags: ['lookup'],
          querystring: purchaseQuery,
        },
      },
      async (request, reply) =>
        sendPage(reply, {
          type: 'application/pdf',
          name: 'before-a-purchase.pdf',
          body: purchaseSheetPdf(
            await lookup.purchase(request.query, request.query.price ?? null),
            await settings.now(),
          ),
        }),
    );
    app.get(
      '/api/lookup/why/:weakPointId',
      {
        schema: {
          summary: 'Why a chance is what it is',
          tags: ['lookup'],
          params: z.object({ weakPointId }),
          querystring: lookupQuery,
          response: { 200: why },
        },
      },
      (request) => {
        return lookup.why(request.query, request.params.weakPointId);
      },
    );
    done();
  };
