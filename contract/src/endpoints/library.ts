import { z } from 'zod';
import { familyId, paged, paging, taskId, weakPointId } from '../common.ts';
import { engineDraft } from '../engine.ts';
import {
  campaignQuery,
  campaignRow,
  engineChoice,
  libraryAuthority,
  libraryChange,
  libraryChangeQuery,
  libraryComponent,
  libraryFamily,
  libraryFamilyRow,
  libraryPoint,
  libraryPointQuery,
  libraryPointRow,
  pointDraft,
  pointStep,
  pointUpdate,
  touches,
  touchesQuery,
} from '../library.ts';
import { libraryTask, taskDraft, taskUpdate } from '../upkeep.ts';
import { changed } from '../vehicle.ts';
import { get, post, put, under } from '../endpoint.ts';

const point = z.object({ id: weakPointId });

export const library = under('library', {
  engines: get('/api/engines', {
    summary: 'Engines of the library with their variants',
    query: paging,
    answer: paged(engineChoice),
  }),
  addEngine: post('/api/library/engines', {
    summary: 'Add an engine',
    needs: 'publishLibrary',
    body: engineDraft,
    answer: changed,
    errors: ['taken'],
  }),
  points: get('/api/library/points', {
    summary: 'Weak points, found by code, symptom, component or part number',
    query: libraryPointQuery,
    answer: paged(libraryPointRow),
  }),
  families: get('/api/library/families', {
    summary: 'Engines of the library, counted',
    query: paging,
    answer: paged(libraryFamilyRow),
  }),
  family: get('/api/library/families/:id', {
    summary: 'One engine with all that is known of it',
    params: z.object({ id: familyId }),
    answer: libraryFamily,
  }),
  upkeep: get('/api/library/families/:id/upkeep', {
    summary: 'What is done again and again on an engine',
    params: z.object({ id: familyId }),
    query: paging,
    answer: paged(libraryTask),
  }),
  createTask: post('/api/library/upkeep', {
    summary: 'Write a recurring task',
    needs: 'publishLibrary',
    body: taskDraft,
    answer: changed,
    errors: ['taken'],
  }),
  updateTask: put('/api/library/upkeep/:id', {
    summary: 'Change a recurring task',
    needs: 'publishLibrary',
    params: z.object({ id: taskId }),
    body: taskUpdate,
    answer: changed,
    errors: ['taken', 'changed_meanwhile'],
  }),
  point: get('/api/library/points/:id', {
    summary: 'One weak point with all that is known of it',
    params: point,
    answer: libraryPoint,
  }),
  pointVehicles: get('/api/library/points/:id/vehicles', {
    summary: 'Saved vehicles that a weak point touches',
    params: point,
    query: campaignQuery,
    answer: paged(campaignRow),
  }),
  authorities: get('/api/library/authorities', {
    summary: 'Who speaks in the library',
    query: paging,
    answer: paged(libraryAuthority),
  }),
  changes: get('/api/library/changes', {
    summary: 'What changed in the library, latest first',
    query: libraryChangeQuery,
    answer: paged(libraryChange),
  }),
  components: get('/api/library/components', {
    summary: 'Components of the library',
    query: paging.extend({ familyId: familyId.optional() }),
    answer: paged(libraryComponent),
  }),
  touches: get('/api/library/touches', {
    summary: 'How many vehicles a draft would touch, and what it resembles',
    query: touchesQuery,
    answer: touches,
  }),
  createPoint: post('/api/library/points', {
    summary: 'Write a weak point, as a draft',
    needs: 'writeLibrary',
    body: pointDraft,
    answer: changed,
    errors: ['taken'],
  }),
  updatePoint: put('/api/library/points/:id', {
    summary: 'Correct a weak point',
    needs: 'writeLibrary',
    params: point,
    body: pointUpdate,
    answer: changed,
    errors: ['taken', 'changed_meanwhile'],
  }),
  stepPoint: post('/api/library/points/:id/step', {
    summary: 'Take a weak point a step on its way',
    needs: 'writeLibrary',
    params: point,
    body: pointStep,
    answer: changed,
    errors: ['changed_meanwhile'],
  }),
});
