import cookie from '@fastify/cookie';
import helmet from '@fastify/helmet';
import session from '@fastify/session';
import statics from '@fastify/static';
import swagger from '@fastify/swagger';
import Fastify, { type FastifyBaseLogger, type FastifyInstance } from 'fastify';
import { jsonSchemaTransform, jsonSchemaTransformObject, serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { archiveRoutes } from './features/archive/routes.ts';
import { benchRoutes } from './features/bench/routes.ts';
import { changeRoutes } from './features/changes/routes.ts';
import { listRoutes } from './features/intake/lists.ts';
import { intakeRoutes } from './features/intake/routes.ts';
import { judgingRoutes } from './features/judging/routes.ts';
import { libraryRoutes } from './features/library/routes.ts';
import { lookupRoutes } from './features/lookup/routes.ts';
import { sessionRoutes } from './features/session/routes.ts';
import { DatabaseSessionStore, SESSION_DAYS } from './features/session/store.ts';
import { settingsRoutes } from './features/settings/routes.ts';
import { vehicleRoutes } from './features/vehicles/routes.ts';
import { visitRoutes } from './features/visits/routes.ts';
import { csrfGuard } from './platform/guard.ts';
import { problems } from './platform/http.ts';
import type { Services } from './services.ts';

export interface AppDeps {
  readonly services: Services;
  /** Signs the session cookie; 32 characters and more. */
  readonly cookieSecret: string;
  /** Folder of the built interface; null serves the API alone. */
  readonly webRoot: string | null;
  readonly logger?: FastifyBaseLogger | boolean | object;
}

/** Builds the HTTP application. It neither listens nor reads the environment. */
export async function buildApp({ services, cookieSecret, webRoot, logger = false }: AppDeps): Promise<FastifyInstance> {
  const app = Fastify({
    bodyLimit: 1_048_576,
    routerOptions: { maxParamLength: 200 },
    ...(typeof logger === 'object' && 'child' in logger ? { loggerInstance: logger } : { logger: logger }),
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  await app.register(problems);
  await app.register(helmet, {
    // The application is served over plain HTTP on loopback; nothing may be asked of any other machine.
    contentSecurityPolicy: { directives: { defaultSrc: ["'self'"], styleSrc: ["'self'", "'unsafe-inline'"], imgSrc: ["'self'", 'data:'], connectSrc: ["'self'"], upgradeInsecureRequests: null } },
    hsts: false,
  });
  await app.register(swagger, {
    openapi: { openapi: '3.1.0', info: { title: 'Crosspeen', version: '0.1.0', description: 'What gives way next on this engine, at this mileage, with this history.' } },
    transform: jsonSchemaTransform,
    transformObject: jsonSchemaTransformObject,
  });
  await app.register(cookie);
  await app.register(session, {
    secret: cookieSecret,
    cookieName: 'crosspeen',
    store: new DatabaseSessionStore(services.source, services.clock),
    saveUninitialized: false,
    rolling: false,
    cookie: { httpOnly: true, sameSite: 'strict', secure: false, path: '/', maxAge: SESSION_DAYS * 86_400_000 },
  });
  await app.register(csrfGuard);
  for (const routes of [sessionRoutes, settingsRoutes, lookupRoutes, vehicleRoutes, visitRoutes, changeRoutes, libraryRoutes, benchRoutes, judgingRoutes, intakeRoutes, listRoutes, archiveRoutes]) await app.register(routes(services));
  app.get('/api/health', { schema: { hide: true } }, async () => {
    await services.source.query('select 1');
    return { ok: true };
  });
  app.get('/api/openapi.json', { schema: { hide: true } }, () => app.swagger());
  if (webRoot !== null) {
    await app.register(statics, { root: webRoot, wildcard: false, preCompressed: true, setHeaders: (reply, path) => {
      // Files with a hash in their name never change; the page itself always may.
      reply.header('cache-control', path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache');
    } });
  }
  await app.ready();
  return app;
}

export { shopClock, type ShopClock } from './platform/clock.ts';
export { openDatabase } from './platform/database.ts';
export { writeBulk, type BulkRows } from './features/intake/bulk.ts';
export { exportArchive, importArchive } from './features/archive/archive.ts';
export { Problem } from './platform/problem.ts';
export { loadPack } from './features/library/loader.ts';
export { policyOf } from './features/lookup/answer.ts';
export { familyKnowledge, LOOKUP_SQL } from './features/library/repository.ts';
export { DEFAULT_SETTINGS } from './features/settings/service.ts';
export { buildServices, type Services } from './services.ts';
