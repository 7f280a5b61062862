import { z } from 'zod';
import { backupPicture } from '../backup.ts';
import { get, post, under } from '../endpoint.ts';

const answer = z.object({ picture: backupPicture.nullable() });

export const backups = under('settings', {
  get: get('/api/backups', { summary: 'Backups of this workshop', needs: 'editSettings', answer }),
  make: post('/api/backups', { summary: 'Make a backup now', needs: 'editSettings', answer, errors: ['not_found'] }),
});
