import { z } from 'zod';
import { vehicleId } from '../common.ts';
import { symptomCreate, triage as triageView, triageAnswerCreate, triageEndCreate } from '../triage.ts';
import { changed } from '../vehicle.ts';
import { file, get, post, under } from '../endpoint.ts';

const params = z.object({ id: vehicleId });

export const triage = under('triage', {
  view: get('/api/vehicles/:id/triage', {
    summary: 'What is reported of a vehicle, and what explains it',
    params,
    answer: triageView,
  }),
  report: post('/api/vehicles/:id/symptoms', {
    summary: 'Record what a customer reports',
    needs: 'editVehicles',
    params,
    body: symptomCreate,
    answer: changed,
  }),
  answer: post('/api/vehicles/:id/triage/answers', {
    summary: 'Record what a check said',
    needs: 'editVehicles',
    params,
    body: triageAnswerCreate,
    answer: changed,
  }),
  end: post('/api/vehicles/:id/triage/end', {
    summary: 'Say what the cause was',
    needs: 'editVehicles',
    params,
    body: triageEndCreate,
    answer: changed,
  }),
  sheet: get('/api/vehicles/:id/complaint.pdf', {
    summary: 'What is reported and what explains it, as a sheet',
    params,
    answer: file('application/pdf'),
  }),
});
