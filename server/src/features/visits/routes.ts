import {
  changed,
  comingVisit,
  paged,
  paging,
  vehicleId,
  versionOnly,
  visitCreate,
  visitDone,
  visitId,
  visitsPlanned,
  visitUpdate,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import type { DataSource } from 'typeorm';
import { comingVisits } from '../../lists/visits.ts';
import type { VisitService } from './service.ts';

const ofVehicle = z.object({ id: vehicleId });
const params = z.object({ id: visitId });
const tags = ['visits'];

export const visitRoutes =
  ({ visits, source }: { readonly visits: VisitService; readonly source: DataSource }): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/visits',
      { schema: { summary: 'Coming visits', tags, querystring: paging, response: { 200: paged(comingVisit) } } },
      async (request) => {
        return pageOf(await comingVisits(source.manager, request.query), request.query);
      },
    );
    app.post(
      '/api/vehicles/:id/visits',
      {
        config: { needs: 'planVisits' },
        schema: { summary: 'Plan a visit', tags, params: ofVehicle, body: visitCreate, response: { 200: changed } },
      },
      (request) => visits.plan(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/plan',
      {
        config: { needs: 'planVisits' },
        schema: {
          summary: 'Plan several visits at once',
          tags,
          params: ofVehicle,
          body: visitsPlanned,
          response: { 200: changed },
        },
      },
      (request) => visits.planAll(userOf(request), request.params.id, request.body.visits),
    );
    app.put(
      '/api/visits/:id',
      {
        config: { needs: 'planVisits' },
        schema: { summary: 'Change a planned visit', tags, params, body: visitUpdate, response: { 200: changed } },
      },
      (request) => visits.change(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/visits/:id/done',
      {
        config: { needs: 'planVisits' },
        schema: { summary: 'Record that a visit is done', tags, params, body: visitDone, response: { 200: changed } },
      },
      (request) => visits.done(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/visits/:id/call-off',
      {
        config: { needs: 'planVisits' },
        schema: { summary: 'Call a visit off', tags, params, body: versionOnly, response: { 200: changed } },
      },
      (request) => visits.callOff(userOf(request), request.params.id, request.body.version),
    );
    done();
  };
