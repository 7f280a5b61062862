import { limitPicture, settings as workshopSettings } from '../settings.ts';
import { get, put, under } from '../endpoint.ts';

export const settings = under('settings', {
  get: get('/api/settings', { summary: 'The settings of the workshop', answer: workshopSettings }),
  save: put('/api/settings', {
    summary: 'Save the settings',
    needs: 'editSettings',
    body: workshopSettings,
    answer: workshopSettings,
    errors: ['changed_meanwhile'],
  }),
  limitPicture: get('/api/settings/limit-picture', {
    summary: 'How many vehicles each limit would call in',
    answer: limitPicture,
  }),
});
