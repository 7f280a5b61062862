import { z } from 'zod';
import { paged, paging, vehicleId, visitId } from '../common.ts';
import { changed } from '../vehicle.ts';
import { comingVisit, versionOnly, visitCreate, visitDone, visitUpdate, visitsPlanned, weekLoads } from '../visit.ts';
import { get, post, put, under } from '../endpoint.ts';

const ofVehicle = z.object({ id: vehicleId });
const params = z.object({ id: visitId });

export const visits = under('visits', {
  list: get('/api/visits', { summary: 'Coming visits', query: paging, answer: paged(comingVisit) }),
  weeks: get('/api/visits/weeks', { summary: 'What the coming weeks hold', answer: weekLoads }),
  plan: post('/api/vehicles/:id/visits', {
    summary: 'Plan a visit',
    needs: 'planVisits',
    params: ofVehicle,
    body: visitCreate,
    answer: changed,
  }),
  planAll: post('/api/vehicles/:id/plan', {
    summary: 'Plan several visits at once, and add to others',
    needs: 'planVisits',
    params: ofVehicle,
    body: visitsPlanned,
    answer: changed,
    errors: ['changed_meanwhile', 'visit_closed'],
  }),
  update: put('/api/visits/:id', {
    summary: 'Change a planned visit',
    needs: 'planVisits',
    params,
    body: visitUpdate,
    answer: changed,
    errors: ['changed_meanwhile', 'visit_closed'],
  }),
  done: post('/api/visits/:id/done', {
    summary: 'Record that a visit is done',
    needs: 'planVisits',
    params,
    body: visitDone,
    answer: changed,
    errors: ['doubtful', 'changed_meanwhile', 'visit_closed'],
  }),
  callOff: post('/api/visits/:id/call-off', {
    summary: 'Call a visit off',
    needs: 'planVisits',
    params,
    body: versionOnly,
    answer: changed,
    errors: ['changed_meanwhile', 'visit_closed'],
  }),
});
