import {
  changed, changeRow, engineSwapCreate, findingCreate, historyEntry, meterChangeCreate, paged, paging, questionAnswer, readingCreate, schoolChoiceCreate, serviceCreate, vehicle, vehicleCreate, vehicleId, vehicleListQuery, vehicleListRow,
  vehicleOutlook, vehicleUpdate, weakPointId, why,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { asMade } from '../../platform/http.ts';
import type { Services } from '../../services.ts';
import { changesOf, historyOf, listVehicles } from './repository.ts';

const params = z.object({ id: vehicleId });
const tags = ['vehicles'];

export const vehicleRoutes = ({ vehicles, visits, source, clock }: Services): FastifyPluginCallbackZod => (app, _options, done) => {
  app.get('/api/vehicles', { schema: { tags, querystring: vehicleListQuery, response: { 200: paged(vehicleListRow) } } }, async (request) => {
    userOf(request);
    const { page, pageSize } = request.query;
    return { ...await listVehicles(source.manager, request.query, clock.todayIso()), page, pageSize };
  });
  app.post('/api/vehicles', { schema: { tags, body: vehicleCreate, response: { 200: changed } } }, (request) => vehicles.create(userOf(request, 'editVehicles'), request.body));
  app.get('/api/vehicles/:id', { schema: { tags, params, response: { 200: vehicle } } }, (request) => {
    userOf(request);
    return vehicles.get(request.params.id);
  });
  app.put('/api/vehicles/:id', { schema: { tags, params, body: vehicleUpdate, response: { 200: changed } } },
    (request) => vehicles.update(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.get('/api/vehicles/:id/outlook', { schema: { tags, params, response: { 200: vehicleOutlook } }, serializerCompiler: asMade }, async (request) => {
    userOf(request);
    const [outlook, all] = await Promise.all([vehicles.outlook(request.params.id), visits.ofVehicle(request.params.id)]);
    return { ...outlook, visits: all };
  });
  app.post('/api/vehicles/:id/readings', { schema: { tags, params, body: readingCreate, response: { 200: changed } } },
    (request) => vehicles.addReading(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/services', { schema: { tags, params, body: serviceCreate, response: { 200: changed } } },
    (request) => vehicles.addService(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/findings', { schema: { tags, params, body: findingCreate, response: { 200: changed } } },
    (request) => vehicles.addFinding(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/meter-changes', { schema: { tags, params, body: meterChangeCreate, response: { 200: changed } } },
    (request) => vehicles.changeMeter(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/engine-swaps', { schema: { tags, params, body: engineSwapCreate, response: { 200: changed } } },
    (request) => vehicles.swapEngine(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/school', { schema: { tags, params, body: schoolChoiceCreate, response: { 200: changed } } },
    (request) => vehicles.chooseSchool(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.post('/api/vehicles/:id/answers', { schema: { tags, params, body: questionAnswer, response: { 200: changed } } },
    (request) => vehicles.answerQuestion(userOf(request, 'editVehicles'), request.params.id, request.body));
  app.get('/api/vehicles/:id/why/:weakPointId', { schema: { tags, params: params.extend({ weakPointId }), response: { 200: why } } }, (request) => {
    userOf(request);
    return vehicles.why(request.params.id, request.params.weakPointId);
  });
  app.get('/api/vehicles/:id/history', { schema: { tags, params, querystring: paging, response: { 200: paged(historyEntry) } } }, async (request) => {
    userOf(request);
    const { page, pageSize } = request.query;
    await vehicles.get(request.params.id);
    const { rows, total } = await historyOf(source.manager, request.params.id, page, pageSize);
    return { rows: await vehicles.markFitting(request.params.id, rows), total, page, pageSize };
  });
  app.get('/api/vehicles/:id/changes', { schema: { tags, params, querystring: paging, response: { 200: paged(changeRow) } } }, async (request) => {
    userOf(request);
    const { page, pageSize } = request.query;
    return { ...await changesOf(source.manager, request.params.id, page, pageSize), page, pageSize };
  });
  done();
};
