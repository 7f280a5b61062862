import { pack, type Changed, type SessionState } from '@crosspeen/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import type { FastifyInstance, LightMyRequestResponse } from 'fastify';
import { buildApp, buildServices, loadPack, openDatabase, shopClock, type Services } from '../app.ts';

export const NOW = '2026-11-24';
/** Broken files that a property is tried with; more are tried with CROSSPEEN_FUZZ=5000. */
export const FUZZ = Number(process.env['CROSSPEEN_FUZZ'] ?? 250);

const ACCOUNTS = [
  { name: 'tove', displayName: 'Tove', role: 'mechanic', password: 'one' },
  { name: 'anselm', displayName: 'Anselm', role: 'adviser', password: 'three' },
  { name: 'ruta', displayName: 'Ruta', role: 'owner', password: 'two' },
] as const;
export type Account = (typeof ACCOUNTS)[number]['name'];

export interface Client {
  readonly get: (url: string) => Promise<LightMyRequestResponse>;
  readonly send: (
    method: 'POST' | 'PUT' | 'DELETE',
    url: string,
    body?: unknown,
    headers?: Record<string, string>,
  ) => Promise<LightMyRequestResponse>;
}

/** A vehicle as a test tells it; what is left out is a QV20T of 2014 at 148,000 km with nothing more known. */
export interface VehicleTold {
  readonly code?: string;
  readonly km?: number;
  readonly firstRegistered?: string;
  readonly [field: string]: unknown;
}

let plates = 0;

export interface TestApp {
  readonly app: FastifyInstance;
  readonly services: Services;
  /** Id of an engine family by code and of a weak point by key. */
  readonly family: (code: string) => Promise<string>;
  readonly point: (key: string) => Promise<string>;
  readonly signIn: (name?: Account) => Promise<Client>;
  /** Saves a vehicle under a plate of its own; answers its id. */
  readonly saveVehicle: (client: Client, told?: VehicleTold) => Promise<string>;
  readonly close: () => Promise<void>;
}

function testServer(): string {
  const admin = process.env['CROSSPEEN_TEST_PG'];
  if (!admin)
    throw new Error(
      'CROSSPEEN_TEST_PG is not set: run the tests with ./crosspeen test, which starts a throwaway PostgreSQL',
    );
  return admin;
}

async function onServer<T>(work: (control: pg.Client, urlOf: (database: string) => string) => Promise<T>): Promise<T> {
  const admin = testServer();
  const control = new pg.Client({ connectionString: admin });
  await control.connect();
  try {
    return await work(control, (database) => Object.assign(new URL(admin), { pathname: `/${database}` }).href);
  } finally {
    await control.end();
  }
}

const TEMPLATE = 'unit_template';

/** Makes the database that every test's own is a copy of: migrated, with the demo library and the accounts. */
export async function makeTemplate(): Promise<void> {
  await onServer(async (control, urlOf) => {
    await control.query(`drop database if exists ${TEMPLATE} with (force)`);
    await control.query(`create database ${TEMPLATE}`);
    const source = await openDatabase(urlOf(TEMPLATE), 4);
    const services = buildServices(source, shopClock(NOW));
    await services.settings.ensure();
    for (const account of ACCOUNTS) await services.sessions.ensureUser({ ...account, demo: false });
    const library = pack.parse(
      JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/packs/harbour.json'), 'utf8')),
    );
    await source.transaction((manager) => loadPack(manager, library));
    await services.judging.close();
    await source.destroy();
  });
}

/** A database of a test's own: a copy of the template, or an empty one. */
export async function ownDatabase(
  from: 'template' | 'empty',
): Promise<{ readonly url: string; readonly drop: () => Promise<void> }> {
  const name = `unit_${process.pid}_${Math.random().toString(36).slice(2, 8)}`;
  const url = await onServer(async (control, urlOf) => {
    await control.query(
      `create database ${name}${from === 'template' ? ` template ${TEMPLATE} strategy file_copy` : ''}`,
    );
    return urlOf(name);
  });
  return {
    url,
    drop: () =>
      onServer(async (control) => {
        await control.query(`drop database ${name} with (force)`);
      }),
  };
}

/** A whole application on a database of its own, with the demo library and an account of each role, at a fixed day. */
export async function testApp(): Promise<TestApp> {
  const { url, drop } = await ownDatabase('template');
  const source = await openDatabase(url, 4);
  const services = buildServices(source, shopClock(NOW));
  const app = await buildApp({
    services,
    cookieSecret: 'only-for-tests-only-for-tests-only',
    webRoot: null,
    checkAnswers: true,
  });
  const id = async (sql: string, key: string): Promise<string> => {
    const [row] = await source.query<{ id: string }[]>(sql, [key]);
    if (!row) throw new Error(`the demo library has no “${key}”`);
    return row.id;
  };
  return {
    app,
    services,
    family: (code) => id('select id from engine_family where code = $1', code),
    point: (key) => id('select id from weak_point where key = $1', key),
    saveVehicle: async (client, { code = 'QV20T', km = 148_000, firstRegistered = '2014-04-19', ...more } = {}) => {
      plates += 1;
      const response = await client.send('POST', '/api/vehicles', {
        plate: `TST ${plates}`,
        name: null,
        model: null,
        familyId: await id('select id from engine_family where code = $1', code),
        variantKey: null,
        firstRegistered,
        odometerUnit: 'km',
        severity: 1,
        note: null,
        reading: { day: '2026-11-20', km },
        ...more,
      });
      if (response.statusCode !== 200) throw new Error(`the vehicle was not saved: ${response.body}`);
      return response.json<Changed>().id;
    },
    signIn: async (who = 'ruta') => {
      const account = ACCOUNTS.find((candidate) => candidate.name === who)!;
      const response = await app.inject({
        method: 'POST',
        url: '/api/session',
        payload: { name: account.name, password: account.password },
      });
      const cookie = String(response.headers['set-cookie']).split(';')[0]!;
      const token = response.json<SessionState>().csrfToken!;
      return {
        get: (path) => app.inject({ method: 'GET', url: path, headers: { cookie } }),
        send: (method, path, body, headers = {}) =>
          app.inject({
            method,
            url: path,
            headers: { cookie, 'x-csrf-token': token, ...headers },
            ...(body === undefined ? {} : { payload: body as object }),
          }),
      };
    },
    close: async () => {
      await app.close();
      await services.judging.close();
      await source.destroy();
      await drop();
    },
  };
}
