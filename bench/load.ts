import { randomUUID } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import { signedIn, type ApiBench } from './api.ts';
import { residentMemory } from './processor.ts';

const PEOPLE = 50;
const REQUESTS_A_SECOND = 20;
const MINUTES = 5;
/** The longest that nineteen of twenty may have to wait, in milliseconds. */
const P95_MS = 300;
/**
 * Memory may still settle in the first minute; from there to the end it grows no more than this, as a part of what it
 * was.
 */
const LEVEL = 1.25;

interface Ask {
  readonly method: 'GET' | 'POST';
  readonly path: string;
  readonly body?: object;
}

const quantile = (sorted: readonly number[], part: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]!;

/**
 * What a workshop asks for in a day, in about these proportions: mostly looking things up, one request in ten writes.
 */
function asksOf(vehicles: readonly string[], engines: readonly string[]): (at: number) => Ask {
  const one = <T>(of: readonly T[], at: number): T => of[(at * 7919) % of.length]!;
  const kinds: readonly ((at: number) => Ask)[] = [
    (at) => ({ method: 'GET', path: `/api/lookup?line=${one(engines, at)}+${60 + (at % 200)}k+${2006 + (at % 14)}` }),
    (at) => ({ method: 'GET', path: `/api/vehicles/${one(vehicles, at)}/outlook` }),
    (at) => ({ method: 'GET', path: `/api/lookup/meaning?line=${one(engines, at)}+${60 + (at % 200)}k` }),
    (at) => ({ method: 'GET', path: `/api/vehicles?page=${1 + (at % 8)}&pageSize=25` }),
    (at) => ({ method: 'GET', path: `/api/lookup/questions?line=${one(engines, at)}+${60 + (at % 200)}k` }),
    (at) => ({ method: 'GET', path: `/api/vehicles/${one(vehicles, at)}/history?page=1&pageSize=25` }),
    () => ({ method: 'GET', path: '/api/visits?page=1&pageSize=25' }),
    () => ({ method: 'GET', path: '/api/library/points?page=1&pageSize=25' }),
    () => ({ method: 'GET', path: '/api/bench?page=1&pageSize=25' }),
    (at) => ({
      method: 'POST',
      path: `/api/vehicles/${one(vehicles, at)}/readings`,
      body: { day: '2026-11-24', km: 300_000 + at },
    }),
  ];
  return (at) => kinds[at % kinds.length]!(at);
}

/**
 * Fifty people, twenty requests a second between them, whether the one before has been answered or not. Answers how
 * much of what must hold did not.
 */
export async function loadBench(bench: ApiBench & { readonly pid: number }): Promise<number> {
  const { address, say, pid } = bench;
  let failures = 0;
  await signedIn(bench, async ({ client, headers }) => {
    const list = async (sql: string): Promise<string[]> =>
      (await client.query<{ one: string }>(sql)).rows.map(({ one }) => one);
    const askOf = asksOf(
      await list('select id as one from vehicle order by id'),
      await list('select code as one from engine_family order by code'),
    );
    const took: number[] = [];
    const errors = new Map<string, number>();
    const slowest = new Map<string, number>();
    const ask = async (at: number): Promise<void> => {
      const { method, path, body } = askOf(at);
      const began = performance.now();
      const status = await fetch(`${address}${path}`, {
        method,
        headers: {
          ...headers,
          ...(body ? { 'content-type': 'application/json', 'idempotency-key': randomUUID() } : {}),
        },
        ...(body ? { body: JSON.stringify(body) } : {}),
      }).then(
        async (answer) => (await answer.text(), answer.status),
        () => 0,
      );
      took.push(performance.now() - began);
      const kind = `${method} ${path.replace(/\?.*/, '').replace(/[0-9a-f-]{36}/, ':id')}`;
      slowest.set(kind, Math.max(slowest.get(kind) ?? 0, took.at(-1)!));
      if (status !== 200) errors.set(`${kind} ${status}`, (errors.get(`${kind} ${status}`) ?? 0) + 1);
    };
    // Each of them asks once first, so that what is read once is read.
    for (let at = 0; at < PEOPLE; at++) await ask(at);
    took.length = 0;
    const memory: number[] = [];
    const open = new Set<Promise<void>>();
    const total = MINUTES * 60 * REQUESTS_A_SECOND;
    const begun = performance.now();
    for (let at = 0; at < total; at++) {
      const wait = begun + (at * 1000) / REQUESTS_A_SECOND - performance.now();
      if (wait > 0) await sleep(wait);
      const asked = ask(PEOPLE + at).finally(() => open.delete(asked));
      open.add(asked);
      if (at % (60 * REQUESTS_A_SECOND) === 60 * REQUESTS_A_SECOND - 1) {
        memory.push(residentMemory(pid));
        say(`  minute ${memory.length}: ${memory.at(-1)!.toFixed(0)} MB`);
      }
    }
    await Promise.all(open);
    took.sort((a, b) => a - b);
    const p95 = quantile(took, 0.95);
    const wrong = [...errors.values()].reduce((sum, each) => sum + each, 0);
    say(
      `${took.length.toLocaleString('en')} requests of ${PEOPLE} people, ${REQUESTS_A_SECOND} a second: half within ${quantile(took, 0.5).toFixed(0)} ms, 95 in 100 within ${p95.toFixed(0)} ms, 99 within ${quantile(took, 0.99).toFixed(0)} ms, all within ${took.at(-1)!.toFixed(0)} ms; ${wrong} errors`,
    );
    for (const [kind, most] of [...slowest].sort((a, b) => b[1] - a[1]).slice(0, 4))
      say(`  slowest ${kind}: ${most.toFixed(0)} ms`);
    for (const [kind, times] of errors) say(`  ${times} times ${kind}`);
    failures = wrong + (p95 > P95_MS ? 1 : 0) + (memory.at(-1)! > memory[0]! * LEVEL ? 1 : 0);
  });
  return failures;
}
