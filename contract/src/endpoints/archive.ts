import { file, get, under } from '../endpoint.ts';

export const archive = under('archive', {
  download: get('/api/archive', {
    summary: 'Everything as one archive',
    needs: 'editSettings',
    answer: file('application/gzip'),
  }),
});
