import { z } from 'zod';
import { lookupAnswer, lookupMeaning, lookupQuery, questions, why } from '../answer.ts';
import { weakPointId } from '../common.ts';
import { purchaseQuery, purchaseView } from '../purchase.ts';
import { lookupWalkQuery, walkView } from '../walk.ts';
import { file, get, under } from '../endpoint.ts';

export const lookup = under('lookup', {
  answer: get('/api/lookup', {
    summary: 'Answer a line: what gives way next',
    query: lookupQuery,
    answer: lookupAnswer,
  }),
  meaning: get('/api/lookup/meaning', {
    summary: 'What a line is understood as',
    query: lookupQuery,
    answer: lookupMeaning,
  }),
  questions: get('/api/lookup/questions', {
    summary: 'Questions whose answers would change a verdict',
    query: lookupQuery,
    answer: questions,
  }),
  walk: get('/api/lookup/walk', {
    summary: 'A walk round an engine of which nothing is saved',
    query: lookupWalkQuery,
    answer: walkView,
    errors: ['line_incomplete'],
  }),
  walkSheet: get('/api/lookup/walk.pdf', {
    summary: 'The walk round an engine as a sheet to take along',
    query: lookupWalkQuery,
    answer: file('application/pdf'),
    errors: ['line_incomplete'],
  }),
  purchase: get('/api/lookup/purchase', {
    summary: 'Before a purchase: what it will ask for, where to look, what to ask',
    query: purchaseQuery,
    answer: purchaseView,
    errors: ['line_incomplete'],
  }),
  purchaseSheet: get('/api/lookup/purchase.pdf', {
    summary: 'Before a purchase, as a sheet to take along',
    query: purchaseQuery,
    answer: file('application/pdf'),
    errors: ['line_incomplete'],
  }),
  why: get('/api/lookup/why/:weakPointId', {
    summary: 'Why a chance is what it is',
    params: z.object({ weakPointId }),
    query: lookupQuery,
    answer: why,
    errors: ['line_incomplete'],
  }),
});
