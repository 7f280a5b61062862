import { lookupAnswer, lookupMeaning, lookupQuery, questions, weakPointId, why } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { asMade } from '../../platform/http.ts';
import type { Services } from '../../services.ts';

export const lookupRoutes = ({ lookup }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/lookup', { schema: { tags: ['lookup'], querystring: lookupQuery, response: { 200: lookupAnswer } }, serializerCompiler: asMade }, (request) => {
    userOf(request);
    return lookup.answer(request.query);
  });
  app.get('/api/lookup/meaning', { schema: { tags: ['lookup'], querystring: lookupQuery, response: { 200: lookupMeaning } } }, (request) => {
    userOf(request);
    return lookup.meaning(request.query);
  });
  app.get('/api/lookup/questions', { schema: { tags: ['lookup'], querystring: lookupQuery, response: { 200: questions } } }, async (request) => {
    userOf(request);
    return { questions: await lookup.questions(request.query) };
  });
  app.get('/api/lookup/why/:weakPointId', { schema: { tags: ['lookup'], params: z.object({ weakPointId }), querystring: lookupQuery, response: { 200: why } } }, (request) => {
    userOf(request);
    return lookup.why(request.query, request.params.weakPointId);
  });
  done();
};
