import {
  bayTabletCreate,
  bayTablets,
  peopleChangeQuery,
  peopleChanges,
  person,
  personCreate,
  personId,
  personUpdate,
  personWithLink,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { TABLET_COOKIE, TABLET_DAYS } from '../../platform/cookies.ts';
import { userOf } from '../../platform/guard.ts';
import type { PeopleService } from './service.ts';
import type { TabletShelf } from './tablets.ts';

interface PeopleNeeds {
  readonly people: PeopleService;
  readonly tablets: TabletShelf;
}

const params = z.object({ id: personId });

/** The owner's: who works here, with which role, by which tablet. */
export const peopleRoutes =
  ({ people, tablets }: PeopleNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const tags = ['people'];
    const config = { needs: 'managePeople' } as const;
    app.get(
      '/api/people',
      { config, schema: { summary: 'Who works here', tags, response: { 200: z.object({ rows: z.array(person) }) } } },
      async () => ({ rows: await people.list() }),
    );
    app.get(
      '/api/people/changes',
      {
        config,
        schema: {
          summary: 'What was changed of people and rights',
          tags,
          querystring: peopleChangeQuery,
          response: { 200: peopleChanges },
        },
      },
      (request) => people.changes(request.query),
    );
    app.post(
      '/api/people',
      { config, schema: { summary: 'Add somebody', tags, body: personCreate, response: { 200: personWithLink } } },
      (request) => people.add(userOf(request).id, request.body),
    );
    app.put(
      '/api/people/:id',
      {
        config,
        schema: {
          summary: 'Change role, name, and whether somebody works here',
          tags,
          params,
          body: personUpdate,
          response: { 200: person },
        },
      },
      (request) => people.update(userOf(request).id, request.params.id, request.body),
    );
    app.post(
      '/api/people/:id/link',
      {
        config,
        schema: { summary: 'A new one-time link for somebody', tags, params, response: { 200: personWithLink } },
      },
      (request) => people.reset(userOf(request).id, request.params.id),
    );
    app.get(
      '/api/tablets',
      { config, schema: { summary: 'The bay tablets', tags, response: { 200: bayTablets } } },
      async (request) => ({ rows: await tablets.list(request.cookies[TABLET_COOKIE]) }),
    );
    app.post(
      '/api/tablets',
      {
        config,
        schema: {
          summary: 'Make this browser a bay tablet',
          tags,
          body: bayTabletCreate,
          response: { 200: bayTablets },
        },
      },
      async (request, reply) => {
        const token = await tablets.add(userOf(request).id, request.body.name);
        reply.setCookie(TABLET_COOKIE, token, {
          httpOnly: true,
          sameSite: 'strict',
          secure: request.protocol === 'https',
          path: '/',
          maxAge: TABLET_DAYS * 86_400,
        });
        return { rows: await tablets.list(token) };
      },
    );
    app.delete(
      '/api/tablets/:id',
      { config, schema: { summary: 'Put a bay tablet away', tags, params, response: { 200: bayTablets } } },
      async (request) => {
        await tablets.end(userOf(request).id, request.params.id);
        return { rows: await tablets.list(request.cookies[TABLET_COOKIE]) };
      },
    );
    done();
  };
