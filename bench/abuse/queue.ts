import { randomUUID } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Browser, BrowserContext, Page } from '@playwright/test';
import { between, count, type AbuseBench, type AbuseCount, type Shop } from './shop.ts';

const ENTRIES = 1000;
const POISONED = 5;
const CUTS = 50;
/** Seconds within which everything is sent or told. */
const PATIENCE = 600;
/** Pages that somebody may be on while a device sends. */
const PAGES = ['/', '/vehicles', '/bench', '/library', '/visits', '/account'];

interface Entered {
  readonly id: string;
  readonly poisoned: boolean;
}

/** Puts entries into the device's own store, as the walk does; every so many is out of bounds. */
async function enter(page: Page, shop: Shop, name: string): Promise<Entered[]> {
  const pairs = (
    await shop.sql(
      `select v.id || ' ' || w.id
        from (select id, family_id from vehicle where retracted_at is null order by id limit 150) v
        join weak_point w on w.family_id = v.family_id and w.state = 'published'
        order by v.id, w.id
        limit ${ENTRIES}`,
    )
  ).split('\n');
  const state = (await (await page.request.get('/api/session')).json()) as { user: { id: string }; today: string };
  const walks = new Map<string, string>();
  const waiting = pairs.map((pair, seq) => {
    const [vehicleId, pointId] = pair.split(' ') as [string, string];
    if (!walks.has(vehicleId)) walks.set(vehicleId, randomUUID());
    const id = randomUUID();
    const poisoned = seq % (ENTRIES / POISONED) === 77;
    return {
      kind: 'entry',
      id,
      seq,
      userId: state.user.id,
      userName: name,
      vehicleId,
      walk: { id: walks.get(vehicleId)!, day: state.today },
      refused: null,
      entry: {
        id,
        key: `point:${pointId}`,
        result: 'sound',
        measured: poisoned ? 2_000_000 : null,
        madeAt: new Date().toISOString(),
      },
    };
  });
  await page.evaluate(async (rows) => {
    const opened = await new Promise<IDBDatabase>((resolve, reject) => {
      const asked = indexedDB.open('crosspeen');
      asked.onsuccess = () => resolve(asked.result);
      asked.onerror = () => reject(asked.error!);
    });
    const step = opened.transaction('waiting', 'readwrite');
    for (const row of rows) step.objectStore('waiting').put(row);
    await new Promise((resolve) => {
      step.oncomplete = resolve;
    });
    opened.close();
  }, waiting);
  return waiting.map(({ id, entry }) => ({ id, poisoned: entry.measured !== null }));
}

/** What waits on the device: ids, with the reason of those that were refused. */
const left = (page: Page): Promise<{ id: string; refused: string | null }[]> =>
  page.evaluate(async () => {
    const opened = await new Promise<IDBDatabase>((resolve) => {
      const asked = indexedDB.open('crosspeen');
      asked.onsuccess = () => resolve(asked.result);
    });
    const rows = await new Promise<{ id: string; refused: string | null }[]>((resolve) => {
      const asked = opened.transaction('waiting').objectStore('waiting').getAll();
      asked.onsuccess = () => resolve(asked.result as { id: string; refused: string | null }[]);
    });
    opened.close();
    return rows;
  });

/** Cuts the line under the first requests of sending, before the server heard them or before its answer came. */
async function cutLine(context: BrowserContext): Promise<() => number> {
  let cuts = 0;
  await context.route('**/api/vehicles/*/walk', async (route) => {
    const isSending = route.request().method() !== 'GET';
    if (!isSending || cuts >= CUTS || Math.random() < 0.4) return route.continue();
    cuts += 1;
    if (Math.random() < 0.5) await route.fetch().catch(() => undefined);
    return route.abort('connectionreset').catch(() => undefined);
  });
  return () => cuts;
}

/** A thousand entries that wait on a device, five of them out of bounds, over a line that is cut fifty times. */
export async function entriesThatWait(
  shop: Shop,
  { accounts, say }: AbuseBench,
  launch: () => Promise<Browser>,
): Promise<AbuseCount> {
  const counted = count();
  const browser = await launch();
  try {
    const context = await browser.newContext({ baseURL: shop.address, serviceWorkers: 'block' });
    const cuts = await cutLine(context);
    const { name, password } = accounts.find(({ role }) => role === 'mechanic')!;
    await context.request.post('/api/session', { data: { name, password } });
    let page = await context.newPage();
    await page.goto('/');
    await page.getByRole('navigation').first().waitFor();
    const began = await shop.sql('select now()');
    const entered = await enter(page, shop, name);
    counted.tries = entered.length;
    let closed = 0;
    const until = Date.now() + PATIENCE * 1000;
    let rest = await left(page);
    while (rest.some(({ refused }) => refused === null) && Date.now() < until) {
      await sleep(between(300, 4000));
      if (Math.random() < 0.4) {
        await page.close();
        page = await context.newPage();
        closed += 1;
      }
      await page.goto(PAGES[Math.floor(Math.random() * PAGES.length)]!);
      rest = await left(page);
    }
    const kept = (await shop.sql(`select id from walk_entry where created_at > '${began}'`)).split('\n');
    const standing = new Set(kept);
    const told = new Set(rest.filter(({ refused }) => refused !== null).map(({ id }) => id));
    for (const { id, poisoned } of entered) {
      if (poisoned && !told.has(id)) counted.failures.push(`${id} is out of bounds and was not told`);
      if (!poisoned && told.has(id)) counted.failures.push(`${id} was refused for another's fault`);
      if (!poisoned && !standing.has(id)) counted.failures.push(`${id} is lost`);
    }
    if (kept.length !== standing.size) counted.failures.push(`${kept.length - standing.size} are doubled`);
    const findings = await shop.sql(
      `select count(*) - count(distinct (vehicle_id, weak_point_id)) from finding where created_at > '${began}'`,
    );
    if (findings !== '0') counted.failures.push(`${findings} findings are doubled`);
    say(`  ${cuts()} cuts, ${closed} pages closed, ${told.size} told, ${standing.size} taken`);
  } finally {
    await browser.close();
  }
  return counted;
}
