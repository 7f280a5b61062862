import type { endpoints } from '@crosspeen/contract';
import type { FastifyPluginCallback } from 'fastify';
import fp from 'fastify-plugin';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Handler } from './platform/mount.ts';
import { onLoopback } from './platform/hosts.ts';
import { Problem } from './platform/problem.ts';
import type { Services } from './services.ts';

const LOOPBACK = /^(127\.|::1$|::ffff:127\.)/;

function gauges(registry: Registry, services: Services): void {
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
}

interface Figures {
  readonly observed: FastifyPluginCallback;
  readonly metrics: Handler<typeof endpoints.server.metrics>;
}

/**
 * Figures of this server process in the open text format, for whoever asks from this machine itself: requests by route,
 * the process, vehicles behind, the age of the last good backup. `observed` counts the requests of an application.
 */
export function figuresOf(services: Services): Figures {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  gauges(registry, services);
  const requests = new Histogram({
    name: 'crosspeen_request_seconds',
    help: 'Time to answer, by route and status',
    labelNames: ['method', 'route', 'status'],
    buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
    registers: [registry],
  });
  const observed = fp((app, _options, done) => {
    app.addHook('onResponse', (request, reply, next) => {
      const route = request.routeOptions.url ?? 'none';
      requests.observe({ method: request.method, route, status: String(reply.statusCode) }, reply.elapsedTime / 1000);
      next();
    });
    done();
  });
  const metrics: Handler<typeof endpoints.server.metrics> = async ({ request, reply }) => {
    if (!LOOPBACK.test(request.ip) || !onLoopback(request)) throw new Problem('not_found');
    return reply.type(registry.contentType).send(await registry.metrics());
  };
  return { observed, metrics };
}
