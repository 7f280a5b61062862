import { lookupAnswer, lookupMeaning, lookupQuery } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { userOf } from '../../platform/guard.ts';
import type { Services } from '../../services.ts';

export const lookupRoutes = ({ lookup }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/lookup', { schema: { tags: ['lookup'], querystring: lookupQuery, response: { 200: lookupAnswer } } }, (request) => {
    userOf(request);
    return lookup.answer(request.query);
  });
  app.get('/api/lookup/meaning', { schema: { tags: ['lookup'], querystring: lookupQuery, response: { 200: lookupMeaning } } }, (request) => {
    userOf(request);
    return lookup.meaning(request.query);
  });
  done();
};
