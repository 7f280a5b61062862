import {
  answerParts,
  changed,
  changeRow,
  engineSwapCreate,
  findingCreate,
  historyEntry,
  meterChangeCreate,
  paged,
  paging,
  planningUpdate,
  questionAnswer,
  readingCreate,
  schoolChoiceCreate,
  serviceCreate,
  vehicle,
  vehicleCreate,
  vehicleId,
  vehicleListQuery,
  vehicleListRow,
  vehicleOutlook,
  vehicleUpdate,
  upkeepCreate,
  weakPointId,
  why,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { asMade } from '../../platform/http.ts';
import { pageOf } from '../../platform/paged.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { VehicleRecordService } from './records.ts';
import type { VehicleRegistry } from './registry.ts';
import type { VehicleView } from './view.ts';
import { visitsOf } from '../../lists/visits.ts';
import { changesOf, historyOf, listVehicles } from '../../lists/vehicles.ts';

const params = z.object({ id: vehicleId });
const tags = ['vehicles'];

interface VehicleNeeds {
  readonly vehicles: VehicleRegistry;
  readonly records: VehicleRecordService;
  readonly view: VehicleView;
  readonly source: DataSource;
  readonly clock: ShopClock;
}

export const vehicleRoutes =
  ({ vehicles, records, view, source, clock }: VehicleNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/vehicles',
      {
        schema: {
          summary: 'Saved vehicles',
          tags,
          querystring: vehicleListQuery,
          response: { 200: paged(vehicleListRow) },
        },
      },
      async (request) => {
        return pageOf(await listVehicles(source.manager, request.query, clock.todayIso()), request.query);
      },
    );
    app.post(
      '/api/vehicles',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Save a vehicle', tags, body: vehicleCreate, response: { 200: changed } },
      },
      (request) => vehicles.create(userOf(request), request.body),
    );
    app.get(
      '/api/vehicles/:id',
      { schema: { summary: 'One vehicle', tags, params, response: { 200: vehicle } } },
      (request) => {
        return view.get(request.params.id);
      },
    );
    app.put(
      '/api/vehicles/:id/planning',
      {
        config: { needs: 'planVisits' },
        schema: {
          summary: 'Say what visits are planned by',
          tags,
          params,
          body: planningUpdate,
          response: { 200: changed },
        },
      },
      (request) => vehicles.planBy(userOf(request), request.params.id, request.body),
    );
    app.put(
      '/api/vehicles/:id',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Correct a vehicle', tags, params, body: vehicleUpdate, response: { 200: changed } },
      },
      (request) => vehicles.update(userOf(request), request.params.id, request.body),
    );
    app.get(
      '/api/vehicles/:id/outlook',
      {
        schema: {
          summary: 'What gives way next on a vehicle',
          tags,
          params,
          querystring: answerParts,
          response: { 200: vehicleOutlook },
        },
        ...asMade,
      },
      async (request) => {
        const [outlook, all] = await Promise.all([
          view.outlook(request.params.id, { drawn: request.query.drawn === 'yes' }),
          visitsOf(source.manager, request.params.id),
        ]);
        return { ...outlook, visits: all };
      },
    );
    app.post(
      '/api/vehicles/:id/readings',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Record a reading', tags, params, body: readingCreate, response: { 200: changed } },
      },
      (request) => records.addReading(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/services',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record whether a part was renewed',
          tags,
          params,
          body: serviceCreate,
          response: { 200: changed },
        },
      },
      (request) => records.addService(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/findings',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Record what was found', tags, params, body: findingCreate, response: { 200: changed } },
      },
      (request) => records.addFinding(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/upkeep',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record that a recurring task was done',
          tags,
          params,
          body: upkeepCreate,
          response: { 200: changed },
        },
      },
      (request) => records.addUpkeep(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/meter-changes',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record a replaced cluster',
          tags,
          params,
          body: meterChangeCreate,
          response: { 200: changed },
        },
      },
      (request) => records.changeMeter(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/engine-swaps',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record a swapped engine',
          tags,
          params,
          body: engineSwapCreate,
          response: { 200: changed },
        },
      },
      (request) => records.swapEngine(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/school',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Choose a school for a vehicle or a row',
          tags,
          params,
          body: schoolChoiceCreate,
          response: { 200: changed },
        },
      },
      (request) => records.chooseSchool(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/answers',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Answer an open question', tags, params, body: questionAnswer, response: { 200: changed } },
      },
      (request) => vehicles.answerQuestion(userOf(request), request.params.id, request.body),
    );
    app.get(
      '/api/vehicles/:id/why/:weakPointId',
      {
        schema: {
          summary: 'Why a chance on this vehicle is what it is',
          tags,
          params: params.extend({ weakPointId }),
          response: { 200: why },
        },
      },
      (request) => {
        return view.why(request.params.id, request.params.weakPointId);
      },
    );
    app.get(
      '/api/vehicles/:id/history',
      {
        schema: {
          summary: 'What happened to a vehicle',
          tags,
          params,
          querystring: paging,
          response: { 200: paged(historyEntry) },
        },
      },
      async (request) => {
        await view.get(request.params.id);
        const { rows, total } = await historyOf(source.manager, request.params.id, request.query);
        return pageOf({ rows: await view.markFitting(request.params.id, rows), total }, request.query);
      },
    );
    app.get(
      '/api/vehicles/:id/changes',
      {
        schema: {
          summary: 'Changes of a vehicle’s record',
          tags,
          params,
          querystring: paging,
          response: { 200: paged(changeRow) },
        },
      },
      async (request) => {
        return pageOf(await changesOf(source.manager, request.params.id, request.query), request.query);
      },
    );
    done();
  };
