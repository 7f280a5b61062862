import { randomUUID } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Worker } from 'node:worker_threads';
import { workerOf } from '../worker.ts';
import type { Shop } from './shop.ts';
import { type AbuseCount, count } from './shop.ts';

/** What anybody must still be told within while files come in, in milliseconds. */
const HEALTH_MS = 200;

/** Downloads that end in the middle: nobody else notices. */
export async function brokenDownloads(shop: Shop): Promise<AbuseCount> {
  const counted = count();
  for (const path of [
    '/api/archive',
    '/api/lists/vehicles.csv',
    '/api/lists/services.csv',
    '/api/lists/vehicles.csv?q=%00',
    `/api/lists/campaign/${randomUUID()}.csv`,
  ]) {
    await Promise.all(
      Array.from({ length: 20 }, async () => {
        counted.tries++;
        const broken = new AbortController();
        const reply = await shop.send('GET', path, undefined, { signal: broken.signal }).catch(() => null);
        const reader = reply?.body?.getReader();
        await reader?.read().catch(() => undefined);
        if ((reply?.status ?? 0) >= 500 && reply?.status !== 503) counted.failures.push(`${path}: ${reply?.status}`);
        broken.abort();
      }),
    );
    const answer = await shop
      .send('GET', '/api/vehicles?page=1&pageSize=25', undefined, { signal: AbortSignal.timeout(5000) })
      .then(
        ({ status }) => status,
        () => 0,
      );
    if (answer !== 200) counted.failures.push(`after 20 broken downloads of ${path} the list answers ${answer}`);
  }
  await sleep(2000);
  const idle = await shop.sql("select count(*) from pg_stat_activity where state like 'idle in transaction%'");
  if (idle !== '0') counted.failures.push(`${idle} connections are left in the middle of a transaction`);
  return counted;
}

/**
 * The slowest answer of the health check while `work` goes on, in milliseconds; asked on a thread of its own, so that
 * only the server is measured.
 */
export async function healthDuring(worker: Worker, work: () => Promise<void>): Promise<number> {
  await new Promise((resolve) => {
    worker.once('message', resolve);
  });
  await work();
  const slowest = new Promise<number>((resolve) => {
    worker.once('message', resolve);
  });
  worker.postMessage('end');
  return slowest;
}

const cells = (row: string): string => `Plate,Engine code,First registered\n${row}\n`;

const POISON: readonly (readonly [string, string | Buffer])[] = [
  ['a year that is none', cells('AB 1,QV20T,0000')],
  ['a serial of forty digits', `Plate,Engine code,Serial\nAB 2,QV20T,${'9'.repeat(40)}\n`],
  ['a NUL beyond the first MiB', `${cells('AB 3,QV20T,2013')}${'AB 4,QV20T,2014\n'.repeat(80_000)}AB 5\0,QV20T,2015\n`],
  ['three MB of semicolons', ';'.repeat(3_000_000)],
  ['one cell of four MB', cells(`"${'a'.repeat(4_000_000)}",QV20T,2013`)],
  ['a quote that never ends', cells(`"${'AB,\n'.repeat(200_000)}`)],
  ['half a surrogate in UTF-16', Buffer.from('\uFEFFPlate,Engine code\n\uD800,QV20T\n', 'utf16le')],
  ['bytes that are no text', Buffer.from(Array.from({ length: 200_000 }, (_, i) => (i * 7919) % 256))],
  ['a hundred thousand rows of nothing', `Plate,Engine code\n${',\n'.repeat(100_000)}`],
];

const PACKS: readonly (readonly [string, string])[] = [
  ['JSON nested three thousand deep', '['.repeat(3000) + ']'.repeat(3000)],
  [
    'eighteen MB of pack',
    JSON.stringify({
      format: 1,
      title: 'x',
      families: Array.from({ length: 90_000 }, (_, i) => ({ key: `f${i}`, code: 'x'.repeat(160) })),
    }),
  ],
  ['JSON cut off', '{"format": 1, "families": ['],
];

/**
 * Files that are none, or too much: each gets an answer or a run that failed with its reason, and nobody waits for it.
 */
export async function poisonFiles(shop: Shop, folder: string, say: (line: string) => void): Promise<AbuseCount> {
  const counted = count();
  const ended = async (id: string): Promise<string> => {
    for (let tries = 0; tries < 300; tries++) {
      const run = (await (await shop.send('GET', `/api/intake/${id}`)).json()) as { state: string };
      if (run.state !== 'running') return run.state;
      await sleep(100);
    }
    return 'running';
  };
  const sheet = async (what: string, body: string | Buffer): Promise<void> => {
    const answer = await shop.send('POST', '/api/intake?name=poison.csv&kind=vehicles', body, {
      headers: { 'content-type': 'text/csv' },
    });
    if (answer.status >= 500) counted.failures.push(`${what}: ${answer.status}`);
    if (!answer.ok) return;
    const { fileId, mapping, formats } = (await answer.json()) as { fileId: string; mapping: object; formats: object };
    const started = await shop.send('POST', `/api/intake/${fileId}/start`, { kind: 'vehicles', mapping, formats });
    if (started.status >= 500) counted.failures.push(`${what}, started: ${started.status}`);
    if (started.ok && (await ended(fileId)) === 'running') counted.failures.push(`${what}: the run does not end`);
  };
  const [before] = await shop.pids();
  const begin = await workerOf('health-worker', folder);
  const asker = (): Worker => begin(`${shop.address}/api/health`);
  let slowest = 0;
  const note = (what: string, took: number): void => {
    slowest = Math.max(slowest, took);
    if (took > HEALTH_MS) counted.failures.push(`${what}: health took ${took.toFixed(0)} ms meanwhile`);
  };
  for (const [what, body] of POISON) {
    counted.tries++;
    note(what, await healthDuring(asker(), () => sheet(what, body)));
  }
  for (const [what, body] of PACKS) {
    counted.tries++;
    note(
      what,
      await healthDuring(asker(), async () => {
        const answer = await shop.send('POST', '/api/library/packs/preview', body, {
          headers: { 'content-type': 'application/json' },
        });
        if (answer.status >= 500 || answer.ok) counted.failures.push(`${what}: ${answer.status}`);
      }),
    );
  }
  const [after] = await shop.pids();
  if (before !== after) counted.failures.push('the server was started anew');
  say(`  health answered within ${slowest.toFixed(0)} ms during every upload`);
  return counted;
}
