import { createHash, timingSafeEqual } from 'node:crypto';
import type { endpoints } from '@crosspeen/contract';
import type { FastifyPluginCallback } from 'fastify';
import fp from 'fastify-plugin';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Handler } from './platform/mount.ts';
import { Problem } from './platform/problem.ts';
import type { Services } from './services.ts';

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

/** Tells whether a request carries the token, in a time that does not depend on where it differs. */
function isToken(authorization: string | undefined, token: string): boolean {
  const digest = (words: string): Buffer => createHash('sha256').update(words).digest();
  return timingSafeEqual(digest(authorization ?? ''), digest(`Bearer ${token}`));
}

interface Figures {
  readonly observed: FastifyPluginCallback;
  readonly metrics: Handler<typeof endpoints.server.metrics>;
}

/**
 * Figures of this server process in the open text format: requests by route, the process, vehicles behind, the age of
 * the last good backup. They are for a collector with the token; without a token in force nobody reads them. `observed`
 * counts the requests of an application.
 */
export function figuresOf(services: Services, token: string | null): Figures {
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
    if (token === null || !isToken(request.headers.authorization, token)) throw new Problem('not_found');
    return reply.type(registry.contentType).send(await registry.metrics());
  };
  return { observed, metrics };
}
