import cookie from '@fastify/cookie';
import helmet from '@fastify/helmet';
import session from '@fastify/session';
import statics from '@fastify/static';
import Fastify, { type FastifyBaseLogger, type FastifyInstance } from 'fastify';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { DatabaseSessionStore, SESSION_DAYS } from './features/session/store.ts';
import { SESSION_COOKIE } from './platform/cookies.ts';
import { handlersOf } from './handlers.ts';
import { figuresOf } from './metrics.ts';
import { guard } from './platform/guard.ts';
import { hosts } from './platform/hosts.ts';
import { answerBrokenRequest, answerUnreadable, answersChecked, problems } from './platform/http.ts';
import { mounted } from './platform/mount.ts';
import type { Services } from './services.ts';

export interface AppDeps {
  readonly services: Services;
  /** Signs the session cookie; 32 characters and more. */
  readonly cookieSecret: string;
  /** Folder of the built interface; null serves the API alone. */
  readonly webRoot: string | null;
  readonly logger?: FastifyBaseLogger | boolean | object;
  /** Names that the workshop is reached under, beside this machine's own for itself. */
  readonly hostNames?: readonly string[];
  /** Files of the certificate and key that it speaks TLS with; null speaks plain HTTP. */
  readonly tls?: { readonly cert: string; readonly key: string } | null;
  /** Addresses of the proxy that speaks TLS for it and is believed when it says who asks. */
  readonly proxy?: string | null;
  /** Holds every answer to its schema; for tests and development, since going through long answers twice takes time. */
  readonly checkAnswers?: boolean;
  /** Token with which a collector reads the figures; null lets nobody read them. */
  readonly metricsToken?: string | null;
}

/** Builds the HTTP application. It neither listens nor reads the environment. */
export async function buildApp({
  services,
  cookieSecret,
  webRoot,
  logger = false,
  hostNames = [],
  tls = null,
  proxy = null,
  checkAnswers = false,
  metricsToken = null,
}: AppDeps): Promise<FastifyInstance> {
  const encrypted = tls !== null || proxy !== null;
  const app: FastifyInstance = Fastify({
    ...(tls === null ? {} : { https: tls }),
    trustProxy: proxy ?? false,
    bodyLimit: 1_048_576,
    routerOptions: { maxParamLength: 200 },
    clientErrorHandler: answerBrokenRequest,
    frameworkErrors: answerUnreadable,
    ...(typeof logger === 'object' && 'child' in logger ? { loggerInstance: logger } : { logger: logger }),
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  await app.register(problems);
  await app.register(hosts, { names: hostNames });
  if (checkAnswers) await app.register(answersChecked);
  await app.register(helmet, {
    // Nothing may be asked of any other machine.
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        baseUri: ["'self'"],
        connectSrc: ["'self'"],
        fontSrc: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'self'"],
        // What was photographed and is not sent yet is shown from the device.
        imgSrc: ["'self'", 'data:', 'blob:'],
        objectSrc: ["'none'"],
        scriptSrc: ["'self'"],
        scriptSrcAttr: ["'none'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        workerSrc: ["'self'"],
      },
    },
    // Once met with TLS, never without.
    hsts: encrypted,
  });
  await app.register(cookie);
  await app.register(session, {
    secret: cookieSecret,
    cookieName: SESSION_COOKIE,
    store: new DatabaseSessionStore({ source: services.source, clock: services.clock }),
    saveUninitialized: false,
    rolling: false,
    cookie: { httpOnly: true, sameSite: 'strict', secure: encrypted, path: '/', maxAge: SESSION_DAYS * 86_400_000 },
  });
  await app.register(guard);
  const { observed, metrics } = figuresOf(services, metricsToken);
  await app.register(observed);
  await app.register(mounted, { handlers: handlersOf(services, metrics) });
  if (webRoot !== null) {
    await app.register(statics, {
      root: webRoot,
      wildcard: false,
      preCompressed: true,
      setHeaders: (reply, path) => {
        // Files with a hash in their name never change; the page itself always may.
        reply.header('cache-control', path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    });
  }
  await app.ready();
  return app;
}

export { describeApi } from './handlers.ts';
export { shopClock, type ShopClock } from './platform/clock.ts';
export { fillAtSchema, openDatabase } from './store/database.ts';
export { writeBulk, type BulkRows } from './features/intake/bulk.ts';
export { exportArchive, importArchive, schemaOfArchive } from './ledger/archive.ts';
export { Problem } from './platform/problem.ts';
export { foundBy } from './platform/search.ts';
export { readPack } from './knowledge/pack-text.ts';
export { loadPack } from './knowledge/pack-in.ts';
export { policyOf } from './reckoning/answer.ts';
export { familyKnowledge, LOOKUP_SQL } from './knowledge/family.ts';
export { DEFAULT_SETTINGS } from './ledger/settings.ts';
export { buildServices, type Services } from './services.ts';
export { makeSetUpCode } from './features/session/set-up.ts';
export { serverSecret } from './ledger/secret.ts';
