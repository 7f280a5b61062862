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
  weekLoads,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import type { DataSource } from 'typeorm';
import { comingVisits } from '../../lists/visits.ts';
import { weekLoads as loadsOfWeeks } from '../../lists/weeks.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import type { VisitService } from './service.ts';

const ofVehicle = z.object({ id: vehicleId });
const params = z.object({ id: visitId });
const tags = ['visits'];

interface VisitNeeds {
  readonly visits: VisitService;
  readonly source: DataSource;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

export const visitRoutes =
  ({ visits, source, settings, clock }: VisitNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/visits',
      { schema: { summary: 'Coming visits', tags, querystring: paging, response: { 200: paged(comingVisit) } } },
      async (request) => {
        return pageOf(await comingVisits(source.manager, request.query), request.query);
      },
    );
    app.get(
      '/api/visits/weeks',
      { schema: { summary: 'What the coming weeks hold', tags, response: { 200: weekLoads } } },
      async () => {
        const { firstWeekday, weekMinutes } = await settings.now();
        return loadsOfWeeks(source.manager, { today: clock.today(), firstWeekday, weekMinutes });
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
          summary: 'Plan several visits at once, and add to others',
          tags,
          params: ofVehicle,
          body: visitsPlanned,
          response: { 200: changed },
        },
      },
      (request) => visits.planAll(userOf(request), request.params.id, request.body),
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
