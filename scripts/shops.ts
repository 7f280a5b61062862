import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import pg from 'pg';
import { build } from './build.ts';
import { databaseUrl, type Cluster } from './cluster.ts';
import { baseIn, ensureDatabase } from './database.ts';
import { choosePort, startInstance, stopInstance } from './instance.ts';
import { frontOf, type Front } from './front.ts';
import { orInterrupted } from './interrupt.ts';
import { locked } from './lock.ts';
import { FIXED_NOW, withThrowaway } from './throwaway.ts';

const TEMPLATE = 'crosspeen_browser';
const ENVIRONMENT = { CROSSPEEN_NOW: FIXED_NOW, CROSSPEEN_LOG: 'warn', CROSSPEEN_CHECK_ANSWERS: 'yes' };

/** Server processes that stand in front of one shop's database, taking turns. */
const PROCESSES = Number(process.env['CROSSPEEN_PROCESSES'] ?? 1);

interface Shop {
  readonly kinds: readonly string[];
  readonly port: number;
  readonly database: string;
  readonly front: Front | null;
}

/**
 * Signs every demo account in on the template, so that each copy of it knows their sessions; answers the cookies by
 * role.
 */
async function signedIn(address: string): Promise<Readonly<Record<string, string>>> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  const cookies: Record<string, string> = {};
  for (const { name, password, role } of DEMO_ACCOUNTS) {
    const response = await fetch(`${address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, password }),
    });
    if (!response.ok) throw new Error(`${name} could not sign in on the template: ${response.status}`);
    cookies[role] = response.headers.get('set-cookie')!.split(';')[0]!;
  }
  return cookies;
}

/**
 * Makes shops, each a copy of the template with a server of its own, and puts a fresh copy behind a server that runs.
 */
class Shops {
  private readonly live = new Map<number, Shop>();
  private made = 0;

  constructor(private readonly cluster: Cluster) {}

  /** A database can be copied once at a time. */
  private copy(database: string): Promise<void> {
    return locked('copying the template', async () => {
      const client = new pg.Client({ connectionString: databaseUrl(this.cluster, 'postgres') });
      await client.connect();
      try {
        await client.query(`drop database if exists ${database} with (force)`);
        await client.query(`create database ${database} template ${TEMPLATE} strategy file_copy`);
      } finally {
        await client.end();
      }
    });
  }

  async open(): Promise<Shop> {
    this.made += 1;
    const database = `${TEMPLATE}_${this.made}`;
    await this.copy(database);
    const kinds = Array.from({ length: PROCESSES }, (_, i) => `shop-${this.made}-${i + 1}`);
    const ports: number[] = [];
    for (const kind of kinds) ports.push(await this.serve(kind, database));
    const front = ports.length === 1 ? null : await frontOf(ports);
    const shop = { kinds, port: front?.port ?? ports[0]!, database, front };
    this.live.set(shop.port, shop);
    return shop;
  }

  private async serve(kind: string, database: string): Promise<number> {
    const server = await locked('choosing a port', async () =>
      startInstance(kind, databaseUrl(this.cluster, database), await choosePort(undefined), { env: ENVIRONMENT }),
    );
    return server.port;
  }

  /** Everything that was written in a shop is gone; its server goes on. */
  async renew(port: number): Promise<void> {
    const shop = this.live.get(port);
    if (!shop) throw new Error(`there is no shop on port ${port}`);
    await this.copy(shop.database);
  }

  async close(): Promise<void> {
    for (const { kinds, front } of this.live.values()) {
      front?.close();
      for (const kind of kinds) await stopInstance(kind);
    }
  }
}

/** The desk at which journeys ask for a shop: POST gives one, PUT makes it as it was in the beginning. */
function deskOf(shops: Shops): Server {
  return createServer((request, response) => {
    const answer = async (): Promise<object> => {
      if (request.method === 'POST') return { port: (await shops.open()).port };
      await shops.renew(Number(new URL(request.url ?? '/', 'http://desk').pathname.slice(1)));
      return {};
    };
    answer().then(
      (body) => response.setHeader('content-type', 'application/json').end(JSON.stringify(body)),
      (error: unknown) => {
        response.statusCode = 500;
        response.end((error as Error).message);
      },
    );
  });
}

/**
 * Runs `work` with a desk that gives every journey a shop of its own: nothing that one writes can move another's
 * figures.
 */
export async function withShops<T>(work: (environment: Readonly<Record<string, string>>) => Promise<T>): Promise<T> {
  return withThrowaway('test', (cluster) => withShopsIn(cluster, work));
}

async function withShopsIn<T>(
  cluster: Cluster,
  work: (environment: Readonly<Record<string, string>>) => Promise<T>,
): Promise<T> {
  const shops = new Shops(cluster);
  let desk: Server | null = null;
  try {
    const [{ seedDemo }] = await orInterrupted(Promise.all([import('./seed.ts'), build()]));
    const url = await ensureDatabase(baseIn(cluster), TEMPLATE, true);
    await orInterrupted(seedDemo(url, FIXED_NOW));
    const first = await startInstance('shop-template', url, await choosePort(undefined), { env: ENVIRONMENT });
    const cookies = await signedIn(`http://127.0.0.1:${first.port}`);
    await stopInstance('shop-template');
    desk = deskOf(shops).listen(0, '127.0.0.1');
    await new Promise((listening) => {
      desk!.once('listening', listening);
    });
    return await work({
      CROSSPEEN_SHOPS: `http://127.0.0.1:${(desk.address() as AddressInfo).port}`,
      // An empty database that is there already, for the journey of a workshop that has one.
      CROSSPEEN_EXISTING: await ensureDatabase(baseIn(cluster), 'crosspeen_existing', true),
      CROSSPEEN_SESSIONS: JSON.stringify(cookies),
      CROSSPEEN_NOW: FIXED_NOW,
    });
  } finally {
    desk?.close();
    await shops.close();
  }
}
