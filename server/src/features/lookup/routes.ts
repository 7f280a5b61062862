import { lookupAnswer, lookupMeaning, lookupQuery, questions, weakPointId, why } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { asMade } from '../../platform/http.ts';
import type { LookupService } from './service.ts';

export const lookupRoutes =
  ({ lookup }: { readonly lookup: LookupService }): FastifyPluginCallbackZod =>
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
