import { z } from 'zod';
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
} from '../people.ts';
import { get, post, put, remove, under } from '../endpoint.ts';

const params = z.object({ id: personId });

export const people = under('people', {
  list: get('/api/people', {
    summary: 'Who works here',
    needs: 'managePeople',
    answer: z.object({ rows: z.array(person) }),
  }),
  changes: get('/api/people/changes', {
    summary: 'What was changed of people and rights',
    needs: 'managePeople',
    query: peopleChangeQuery,
    answer: peopleChanges,
  }),
  add: post('/api/people', {
    summary: 'Add somebody',
    needs: 'managePeople',
    body: personCreate,
    answer: personWithLink,
    errors: ['taken'],
  }),
  update: put('/api/people/:id', {
    summary: 'Change role, name, and whether somebody works here',
    needs: 'managePeople',
    params,
    body: personUpdate,
    answer: person,
    errors: ['changed_meanwhile', 'last_owner'],
  }),
  newLink: post('/api/people/:id/link', {
    summary: 'A new one-time link for somebody',
    needs: 'managePeople',
    params,
    answer: personWithLink,
    errors: ['last_owner'],
  }),
  tablets: get('/api/tablets', { summary: 'The bay tablets', needs: 'managePeople', answer: bayTablets }),
  addTablet: post('/api/tablets', {
    summary: 'Make this browser a bay tablet',
    needs: 'managePeople',
    body: bayTabletCreate,
    answer: bayTablets,
  }),
  endTablet: remove('/api/tablets/:id', {
    summary: 'Put a bay tablet away',
    needs: 'managePeople',
    params,
    answer: bayTablets,
  }),
});
