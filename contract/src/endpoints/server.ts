import { z } from 'zod';
import { file, get, under } from '../endpoint.ts';

/** Endpoints about the server itself, without a sign-in. */
export const server = under('server', {
  health: get('/api/health', {
    summary: 'Whether the server and its database answer',
    needs: 'nothing',
    answer: z.object({ ok: z.literal(true) }),
  }),
  description: get('/api/openapi.json', {
    summary: 'This description',
    needs: 'nothing',
    answer: file('application/json'),
  }),
  metrics: get('/metrics', {
    summary: 'Figures for a collector that carries the token of this server',
    needs: 'nothing',
    answer: file('text/plain'),
  }),
});
