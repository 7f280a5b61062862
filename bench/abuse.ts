import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Worker } from 'node:worker_threads';
import { workerOf } from './worker.ts';

/**
 * Where the abuse happens: a state of its own, reached only through the commands and the HTTP door that everybody has.
 */
export interface AbuseBench {
  /** The program that takes the commands. */
  readonly program: string;
  /** An empty folder of its own; what is in it is deleted. */
  readonly folder: string;
  readonly accounts: readonly { readonly name: string; readonly password: string; readonly role: string }[];
  /** Makes `folder` a disk of so many MB, and answers how to take that away again; null where this user may not. */
  readonly smallDisk: (folder: string, megabytes: number) => (() => void) | null;
  readonly say: (line: string) => void;
}

export interface AbuseCount {
  tries: number;
  readonly failures: string[];
}

const HOW_OFTEN = { server: 36, database: 32, restore: 24, first: 10 } as const;
/** A start after a kill that takes longer is counted as a failure, in seconds. */
const RESTART_SECONDS = 10;
/** What anybody must still be told within while files come in, in milliseconds. */
const HEALTH_MS = 200;
const VEHICLES = 250;

interface Ran {
  readonly code: number | null;
  readonly seconds: number;
  readonly text: string;
}

/** A shop that is started, ended and asked as people do it. */
class Shop {
  private child: ChildProcess | null = null;
  private headers: Record<string, string> = {};

  constructor(
    private readonly bench: AbuseBench,
    readonly state: string,
    private readonly port: number,
  ) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  private begin(words: readonly string[]): ChildProcess {
    return spawn(this.bench.program, words, {
      detached: true,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, CROSSPEEN_STATE: this.state },
    });
  }

  /** Runs a command to its end, or for `killAfter` milliseconds. */
  async run(words: readonly string[], killAfter?: number): Promise<Ran> {
    const began = performance.now();
    const child = this.begin(words);
    let text = '';
    for (const stream of [child.stdout!, child.stderr!])
      stream.on('data', (part: Buffer) => {
        text += part.toString();
      });
    const killed =
      killAfter === undefined ? undefined : setTimeout(() => process.kill(-child.pid!, 'SIGKILL'), killAfter);
    const code = await new Promise<number | null>((resolve) => {
      child.once('close', resolve);
    });
    clearTimeout(killed);
    return { code, seconds: (performance.now() - began) / 1000, text };
  }

  /**
   * Starts it and waits until it answers; the seconds that took, or null when it does not within `patience` seconds.
   */
  async start(patience = 180): Promise<number | null> {
    const began = performance.now();
    const child = this.begin(['demo', '--port', String(this.port)]);
    for (const stream of [child.stdout!, child.stderr!]) stream.resume();
    this.child = child;
    if (!(await this.answers(patience))) return null;
    return (performance.now() - began) / 1000;
  }

  /** Kills the command that starts it, so many milliseconds after it has begun, before it may have ended by itself. */
  async startAndKill(afterMs: number): Promise<void> {
    await this.run(['demo', '--port', String(this.port)], afterMs);
  }

  async stop(): Promise<void> {
    await this.run(['stop']);
    this.child = null;
  }

  /** Waits until it says that it is well. */
  async answers(seconds: number): Promise<boolean> {
    const until = Date.now() + seconds * 1000;
    while (Date.now() < until) {
      if (
        await fetch(`${this.address}/api/health`, { signal: AbortSignal.timeout(2000) }).then(
          ({ ok }) => ok,
          () => false,
        )
      )
        return true;
      await sleep(50);
    }
    return false;
  }

  /** The processes that serve: [server, PostgreSQL], or null for one that does not run. */
  async pids(): Promise<(number | null)[]> {
    const { text } = await this.run(['status']);
    return ['server', 'PostgreSQL'].map((what) => {
      const found = new RegExp(`^${what} .*\\(process (\\d+)\\)`, 'm').exec(text);
      return found ? Number(found[1]) : null;
    });
  }

  /** What one question to the database is answered with. */
  async sql(question: string): Promise<string> {
    return (await this.run(['psql', '-Atc', question])).text.trim();
  }

  async signIn(role: string): Promise<void> {
    const { name, password } = this.bench.accounts.find((account) => account.role === role)!;
    const answer = await this.send('POST', '/api/session', { name, password });
    const { csrfToken } = (await answer.json()) as { csrfToken: string };
    this.headers = { cookie: answer.headers.get('set-cookie')!.split(';')[0]!, 'x-csrf-token': csrfToken };
  }

  send(
    method: string,
    path: string,
    body?: object | string | Buffer,
    { headers = {}, signal }: { readonly headers?: Record<string, string>; readonly signal?: AbortSignal } = {},
  ): Promise<Response> {
    const raw = typeof body === 'string' || Buffer.isBuffer(body);
    return fetch(`${this.address}${path}`, {
      method,
      headers: {
        ...this.headers,
        ...(body === undefined || raw ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: raw ? (body as string) : JSON.stringify(body) }),
      ...(signal ? { signal } : {}),
    });
  }
}

const count = (): AbuseCount => ({ tries: 0, failures: [] });
const between = (from: number, to: number): number => from + Math.random() * (to - from);

/** Writes readings one after the other and remembers which of them were acknowledged, until it is told to end. */
function writer(shop: Shop, vehicleId: string): { readonly acknowledged: number[]; readonly end: () => Promise<void> } {
  const acknowledged: number[] = [];
  let going = true;
  const done = (async () => {
    for (let at = 0; going; at++) {
      const km = 400_000 + at + Math.floor(Math.random() * 1e6) / 1e6;
      const answer = await shop
        .send(
          'POST',
          `/api/vehicles/${vehicleId}/readings`,
          { day: '2026-11-20', km },
          { headers: { 'idempotency-key': randomUUID() } },
        )
        .catch(() => null);
      if (answer?.ok) acknowledged.push(km);
      else await sleep(20);
    }
  })();
  return {
    acknowledged,
    end: async () => {
      going = false;
      await done;
    },
  };
}

/**
 * Kills the server or the database under people who write, again and again: it is back soon, and nothing that was
 * acknowledged is lost.
 */
async function killsUnderWriting(
  shop: Shop,
  which: 'server' | 'database',
  say: (line: string) => void,
): Promise<AbuseCount> {
  const counted = count();
  if (!(await shop.answers(60))) return { tries: 1, failures: [`${which}: it does not run to begin with`] };
  const vehicleId = (
    (await (await shop.send('GET', '/api/vehicles?page=1&pageSize=1')).json()) as { rows: { id: string }[] }
  ).rows[0]!.id;
  const writers = Array.from({ length: 4 }, () => writer(shop, vehicleId));
  const seconds: number[] = [];
  for (let at = 0; at < HOW_OFTEN[which]; at++) {
    await sleep(between(100, 900));
    const pid = (await shop.pids())[which === 'server' ? 0 : 1];
    counted.tries++;
    if (pid === null || pid === undefined) {
      counted.failures.push(`${which} ${at}: it does not run`);
      continue;
    }
    const began = performance.now();
    process.kill(pid, 'SIGKILL');
    await sleep(20);
    if (!(await shop.answers(60))) counted.failures.push(`${which} ${at}: not back within a minute`);
    seconds.push((performance.now() - began) / 1000);
    if (seconds.at(-1)! > RESTART_SECONDS)
      counted.failures.push(`${which} ${at}: back only after ${seconds.at(-1)!.toFixed(1)} s`);
  }
  await Promise.all(writers.map(({ end }) => end()));
  const written = new Set(
    (await shop.sql(`select km from meter_reading where vehicle_id = '${vehicleId}'`)).split('\n').map(Number),
  );
  const acknowledged = writers.flatMap((one) => one.acknowledged);
  const lost = acknowledged.filter((km) => !written.has(km));
  if (acknowledged.length === 0) counted.failures.push(`${which}: nothing could be written at all`);
  if (lost.length > 0) counted.failures.push(`${which}: ${lost.length} acknowledged writes are lost`);
  say(
    `  ${acknowledged.length} writes acknowledged between kills, ${lost.length} lost; back after ${Math.max(...seconds).toFixed(1)} s at most`,
  );
  return counted;
}

/** Kills a command that replaces the data: what stands afterwards is what stood before or what was to come, whole. */
async function killsOfReplacing(shop: Shop, file: string): Promise<AbuseCount> {
  const counted = count();
  const state = (): Promise<string> =>
    shop.sql(
      `select (select count(*) from vehicle) || '/' || (select count(*) from service_record) || '/' || (
          select note from vehicle where plate = 'PM 482 KX'
        )`,
    );
  const whole = await shop.run(['restore', file]);
  const incoming = await state();
  await shop.sql("update vehicle set note = 'stood before' where plate = 'PM 482 KX'");
  const standing = await state();
  if (whole.code !== 0 || incoming === standing)
    counted.failures.push(`restore: ends with ${whole.code} without being killed: ${whole.text}`);
  for (let at = 0; at < HOW_OFTEN.restore; at++) {
    await shop.sql("update vehicle set note = 'stood before' where plate = 'PM 482 KX'");
    counted.tries++;
    // Half of them where the databases change places.
    await shop.run(['restore', file], whole.seconds * 1000 * (at % 2 === 0 ? between(0.05, 1) : between(0.75, 1)));
    const now = await state();
    if (now !== standing && now !== incoming)
      counted.failures.push(`restore ${at}: ${now} is neither ${standing} nor ${incoming}`);
  }
  // Whatever the last one left, the next that comes to its end clears away.
  const after = await shop.run(['restore', file]);
  const left = await shop.sql(
    "select string_agg(datname, ' ') from pg_database where datname like 'crosspeen%' and datname <> 'crosspeen'",
  );
  if (after.code !== 0 || left !== '')
    counted.failures.push(`restore: the next one ends with ${after.code} and leaves ${left || 'nothing'} behind`);
  return counted;
}

/** Kills the very first start: the next one makes the whole shop. */
async function killsOfTheFirstStart(bench: AbuseBench, state: string, port: number): Promise<AbuseCount> {
  const counted = count();
  const shop = new Shop(bench, state, port);
  const whole = await shop.start();
  await shop.stop();
  if (whole === null) return { tries: 1, failures: ['the first start does not come to its end'] };
  for (let at = 0; at < HOW_OFTEN.first; at++) {
    rmSync(state, { recursive: true, force: true });
    mkdirSync(state);
    counted.tries++;
    await shop.startAndKill(between(0.1, 0.95) * whole * 1000);
    if ((await shop.start()) === null) counted.failures.push(`first start ${at}: the next one does not answer`);
    const vehicles = await shop.sql('select count(*) from vehicle');
    if (vehicles !== String(VEHICLES)) counted.failures.push(`first start ${at}: ${vehicles} vehicles`);
    await shop.stop();
  }
  return counted;
}

/** Downloads that end in the middle: nobody else notices. */
async function brokenDownloads(shop: Shop): Promise<AbuseCount> {
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
async function healthDuring(worker: Worker, work: () => Promise<void>): Promise<number> {
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
async function poisonFiles(shop: Shop, folder: string, say: (line: string) => void): Promise<AbuseCount> {
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

/**
 * A hundred wrong passwords at once: only the few that are free are looked at, and the right one is let in when the
 * wait is over.
 */
async function parallelGuesses(
  shop: Shop,
  accounts: AbuseBench['accounts'],
  say: (line: string) => void,
): Promise<AbuseCount> {
  const counted = count();
  const { name, password } = accounts.find(({ role }) => role === 'mechanic')!;
  const guess = (word: string): Promise<Response> =>
    fetch(`${shop.address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, password: word }),
    });
  const answers = await Promise.all(Array.from({ length: 100 }, (_, at) => guess(`wrong ${at}`)));
  counted.tries += answers.length;
  const looked = answers.filter(({ status }) => status === 401).length;
  if (looked > 8) counted.failures.push(`${looked} of 100 guesses at once were looked at`);
  const wait = Math.max(...answers.map(({ headers }) => Number(headers.get('retry-after') ?? 0)));
  if (answers.some(({ status, headers }) => status === 429 && !headers.has('retry-after')))
    counted.failures.push('somebody is sent away without being told for how long');
  await sleep(wait * 1000 + 100);
  counted.tries++;
  if (!(await guess(password)).ok) counted.failures.push('the right password is not let in after the wait');
  say(`  ${looked} of 100 wrong passwords at once were looked at; the right one was let in after ${wait} s`);
  return counted;
}

/** Fills the disk under people who write, frees it, and goes on. */
async function fullDisk(bench: AbuseBench, port: number): Promise<AbuseCount> {
  const counted = count();
  const folder = join(bench.folder, 'disk');
  mkdirSync(folder);
  const away = bench.smallDisk(folder, 400);
  if (away === null) {
    bench.say('  a disk of its own can only be made by root: not tried');
    return counted;
  }
  const shop = new Shop(bench, join(folder, 'state'), port);
  try {
    if ((await shop.start()) === null) return { tries: 1, failures: ['it does not start on a small disk'] };
    await shop.signIn('owner');
    const vehicleId = (
      (await (await shop.send('GET', '/api/vehicles?page=1&pageSize=1')).json()) as { rows: { id: string }[] }
    ).rows[0]!.id;
    const ballast = join(folder, 'ballast');
    const written: number[] = [];
    const write = async (km: number): Promise<Response | null> => {
      const answer = await shop
        .send(
          'POST',
          `/api/vehicles/${vehicleId}/readings`,
          { day: '2026-11-20', km, note: 'x'.repeat(400) },
          { headers: { 'idempotency-key': randomUUID() }, signal: AbortSignal.timeout(20_000) },
        )
        .catch(() => null);
      if (answer?.ok) written.push(km);
      return answer;
    };
    for (let round = 0; round < 3; round++) {
      counted.tries++;
      const block = Buffer.alloc(1 << 20);
      try {
        for (;;) appendFileSync(ballast, block);
      } catch {
        // Full now: that is what it is for.
      }
      let refused: number | null = null;
      // What stands in the log of the database beforehand still takes some.
      for (let at = 0; at < 6000 && refused === null; at++) {
        const answer = await write(500_000 + round * 10_000 + at);
        if (answer === null || !answer.ok) refused = answer?.status ?? 0;
        if (at % 500 === 499) {
          const large = 'note,'.repeat(150_000);
          const upload = await shop
            .send('POST', '/api/intake?name=large.csv&kind=vehicles', large, {
              headers: { 'content-type': 'text/csv' },
              signal: AbortSignal.timeout(20_000),
            })
            .catch(() => null);
          if ((upload?.status ?? 0) === 507) refused = 507;
        }
      }
      if (refused !== null && ![507, 503].includes(refused))
        counted.failures.push(`full disk ${round}: answered ${refused}`);
      if (refused === null) counted.failures.push(`full disk ${round}: nothing noticed it`);
      rmSync(ballast);
      if (!(await shop.answers(RESTART_SECONDS)))
        counted.failures.push(`full disk ${round}: not well ${RESTART_SECONDS} s after it was freed`);
      if (!(await write(900_000 + round))?.ok)
        counted.failures.push(`full disk ${round}: nothing can be written after it was freed`);
    }
    const kept = new Set(
      (await shop.sql(`select km from meter_reading where vehicle_id = '${vehicleId}'`)).split('\n').map(Number),
    );
    const lost = written.filter((km) => !kept.has(km)).length;
    if (lost > 0) counted.failures.push(`full disk: ${lost} acknowledged writes are lost`);
    bench.say(`  ${written.length} writes acknowledged, ${lost} lost`);
  } finally {
    await shop.stop();
    away();
  }
  return counted;
}

/** What can be done to it, in this order, by the word that asks for it. */
export const ABUSES = {
  downloads: 'downloads broken off',
  files: 'poison files',
  passwords: 'passwords guessed at once',
  server: 'server killed',
  database: 'database killed',
  restore: 'restore killed',
  import: 'import killed',
  first: 'first start killed',
  disk: 'disk full',
} as const;
export type Abuse = keyof typeof ABUSES;

/**
 * Kills, breaks, poisons, guesses and fills, on request only; prints what was tried and what failed, and answers how
 * much failed.
 */
export async function abuseBench(
  bench: AbuseBench,
  ports: readonly [number, number, number],
  asked: ReadonlySet<Abuse>,
): Promise<number> {
  const { say, folder } = bench;
  const all: [Abuse, AbuseCount][] = [];
  const part = async (what: Abuse, work: () => Promise<AbuseCount>): Promise<void> => {
    if (!asked.has(what)) return;
    say(ABUSES[what]);
    const counted = await work();
    all.push([what, counted]);
    say(`  ${counted.tries} tries, ${counted.failures.length} failures`);
    for (const failure of counted.failures.slice(0, 10)) say(`  FAILED ${failure}`);
  };
  const shop = new Shop(bench, join(folder, 'shop'), ports[0]);
  mkdirSync(shop.state);
  try {
    if ((await shop.start()) === null) throw new Error('the shop that is to be abused does not start');
    await shop.signIn('owner');
    await part('downloads', () => brokenDownloads(shop));
    await part('files', () => poisonFiles(shop, folder, say));
    await part('passwords', () => parallelGuesses(shop, bench.accounts, say));
    await part('server', () => killsUnderWriting(shop, 'server', say));
    await part('database', () => killsUnderWriting(shop, 'database', say));
    const backup = join(folder, 'backup');
    const { code, text } = await shop.run(['backup', backup]);
    if (code !== 0 || !existsSync(backup) || statSync(backup).size === 0)
      throw new Error(`backup ends with ${code}: ${text}`);
    await shop.stop();
    await part('restore', () => killsOfReplacing(shop, backup));
  } finally {
    await shop.stop();
  }
  await part('first', () => killsOfTheFirstStart(bench, join(folder, 'first'), ports[1]));
  await part('disk', () => fullDisk(bench, ports[2]));
  const failures = all.reduce((sum, [, { failures: found }]) => sum + found.length, 0);
  const kills = all.filter(([what]) => ABUSES[what].endsWith('killed')).reduce((sum, [, { tries }]) => sum + tries, 0);
  say(`\n${kills} kills, ${all.reduce((sum, [, { tries }]) => sum + tries, 0)} tries in all, ${failures} failures`);
  return failures;
}
