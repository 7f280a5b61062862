import { z } from 'zod';
import { answerParts, why } from '../answer.ts';
import { paged, paging, vehicleId, weakPointId } from '../common.ts';
import { planningUpdate } from '../planning.ts';
import { upkeepCreate } from '../upkeep.ts';
import {
  changeRow,
  changed,
  engineSwapCreate,
  findingCreate,
  historyEntry,
  meterChangeCreate,
  questionAnswer,
  readingCreate,
  schoolChoiceCreate,
  serviceCreate,
  vehicle,
  vehicleCreate,
  vehicleListQuery,
  vehicleListRow,
  vehicleOutlook,
  vehicleUpdate,
} from '../vehicle.ts';
import { get, post, put, under } from '../endpoint.ts';

const params = z.object({ id: vehicleId });

export const vehicles = under('vehicles', {
  list: get('/api/vehicles', { summary: 'Saved vehicles', query: vehicleListQuery, answer: paged(vehicleListRow) }),
  create: post('/api/vehicles', {
    summary: 'Save a vehicle',
    needs: 'editVehicles',
    body: vehicleCreate,
    answer: changed,
    errors: ['plate_taken'],
  }),
  get: get('/api/vehicles/:id', { summary: 'One vehicle', params, answer: vehicle }),
  planBy: put('/api/vehicles/:id/planning', {
    summary: 'Say what visits are planned by',
    needs: 'planVisits',
    params,
    body: planningUpdate,
    answer: changed,
    errors: ['changed_meanwhile'],
  }),
  update: put('/api/vehicles/:id', {
    summary: 'Correct a vehicle',
    needs: 'editVehicles',
    params,
    body: vehicleUpdate,
    answer: changed,
    errors: ['plate_taken', 'changed_meanwhile'],
  }),
  outlook: get('/api/vehicles/:id/outlook', {
    summary: 'What gives way next on a vehicle',
    params,
    query: answerParts,
    answer: vehicleOutlook,
  }),
  addReading: post('/api/vehicles/:id/readings', {
    summary: 'Record a reading',
    needs: 'editVehicles',
    params,
    body: readingCreate,
    answer: changed,
    errors: ['doubtful'],
  }),
  addService: post('/api/vehicles/:id/services', {
    summary: 'Record whether a part was renewed',
    needs: 'editVehicles',
    params,
    body: serviceCreate,
    answer: changed,
  }),
  addFinding: post('/api/vehicles/:id/findings', {
    summary: 'Record what was found',
    needs: 'editVehicles',
    params,
    body: findingCreate,
    answer: changed,
  }),
  addUpkeep: post('/api/vehicles/:id/upkeep', {
    summary: 'Record that a recurring task was done',
    needs: 'editVehicles',
    params,
    body: upkeepCreate,
    answer: changed,
  }),
  changeMeter: post('/api/vehicles/:id/meter-changes', {
    summary: 'Record a replaced cluster',
    needs: 'editVehicles',
    params,
    body: meterChangeCreate,
    answer: changed,
    errors: ['doubtful'],
  }),
  swapEngine: post('/api/vehicles/:id/engine-swaps', {
    summary: 'Record a swapped engine',
    needs: 'editVehicles',
    params,
    body: engineSwapCreate,
    answer: changed,
  }),
  chooseSchool: post('/api/vehicles/:id/school', {
    summary: 'Choose a school for a vehicle or a row',
    needs: 'editVehicles',
    params,
    body: schoolChoiceCreate,
    answer: changed,
  }),
  answerQuestion: post('/api/vehicles/:id/answers', {
    summary: 'Answer an open question',
    needs: 'editVehicles',
    params,
    body: questionAnswer,
    answer: changed,
    errors: ['changed_meanwhile'],
  }),
  why: get('/api/vehicles/:id/why/:weakPointId', {
    summary: 'Why a chance on this vehicle is what it is',
    params: params.extend({ weakPointId }),
    answer: why,
  }),
  history: get('/api/vehicles/:id/history', {
    summary: 'What happened to a vehicle',
    params,
    query: paging,
    answer: paged(historyEntry),
  }),
  changes: get('/api/vehicles/:id/changes', {
    summary: 'Changes of a vehicle’s record',
    params,
    query: paging,
    answer: paged(changeRow),
  }),
});
