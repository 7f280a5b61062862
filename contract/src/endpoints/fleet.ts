import { fleetProgress } from '../fleet.ts';
import { get, post, under } from '../endpoint.ts';

export const fleet = under('judging', {
  progress: get('/api/fleet', { summary: 'How far judging all vehicles again has come', answer: fleetProgress }),
  judge: post('/api/fleet/judge', { summary: 'Judge all vehicles again', needs: 'judgeFleet', answer: fleetProgress }),
  stop: post('/api/fleet/stop', {
    summary: 'Stop judging; what is done stays',
    needs: 'judgeFleet',
    answer: fleetProgress,
  }),
});
