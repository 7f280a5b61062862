import fp from 'fastify-plugin';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { onLoopback } from './platform/hosts.ts';
import { Problem } from './platform/problem.ts';
import type { Services } from './services.ts';

const LOOPBACK = /^(127\.|::1$|::ffff:127\.)/;

/**
 * Figures of this server process in the open text format, for whoever asks from this machine itself: requests by route,
 * the process, what is behind, the age of the last good backup.
 */
export const metrics = fp<{ readonly services: Services }>(
  (app, { services }, done) => {
    const registry = new Registry();
    collectDefaultMetrics({ register: registry });
    const requests = new Histogram({
      name: 'crosspeen_request_seconds',
      help: 'Time to answer, by route and status',
      labelNames: ['method', 'route', 'status'],
      buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
      registers: [registry],
    });
    new Gauge({
      name: 'crosspeen_vehicles_behind',
      help: 'Vehicles whose stored judgement is behind',
      registers: [registry],
      async collect() {
        this.set((await services.judging.progress()).stale);
      },
    });
    new Gauge({
      name: 'crosspeen_backup_age_seconds',
      help: 'Time since the last good backup began; absent where there is none',
      registers: [registry],
      async collect() {
        const last = (await services.backups.picture())?.lastGood ?? null;
        this.reset();
        if (last !== null) this.set((services.clock.now().getTime() - Date.parse(last.begunAt)) / 1000);
      },
    });
    app.addHook('onResponse', (request, reply, next) => {
      requests.observe(
        { method: request.method, route: request.routeOptions.url ?? 'none', status: String(reply.statusCode) },
        reply.elapsedTime / 1000,
      );
      next();
    });
    app.get('/metrics', { config: { needs: 'nothing' }, schema: { hide: true } }, async (request, reply) => {
      if (!LOOPBACK.test(request.ip) || !onLoopback(request)) throw new Problem('not_found');
      return reply.type(registry.contentType).send(await registry.metrics());
    });
    done();
  },
  { name: 'metrics', dependencies: ['guard'] },
);
