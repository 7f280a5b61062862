import { beginnings } from '../start.ts';
import { changed } from '../vehicle.ts';
import { get, post, under } from '../endpoint.ts';

export const start = under('start', {
  beginnings: get('/api/start', { summary: 'How far the workshop has come', answer: beginnings }),
  takeExample: post('/api/start/example', {
    summary: 'Take the example pack in',
    needs: 'publishLibrary',
    answer: changed,
    errors: ['not_found', 'bad_file', 'changed_meanwhile'],
  }),
});
