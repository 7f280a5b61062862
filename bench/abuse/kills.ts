import { randomUUID } from 'node:crypto';
import { appendFileSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { type AbuseBench, type AbuseCount, RESTART_SECONDS, Shop, count, between } from './shop.ts';

const HOW_OFTEN = { server: 36, database: 32, restore: 24, first: 10 } as const;

const VEHICLES = 250;

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
export async function killsUnderWriting(
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
export async function killsOfReplacing(shop: Shop, file: string): Promise<AbuseCount> {
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
export async function killsOfTheFirstStart(bench: AbuseBench, state: string, port: number): Promise<AbuseCount> {
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

/** Fills the disk under people who write, frees it, and goes on. */
export async function fullDisk(bench: AbuseBench, port: number): Promise<AbuseCount> {
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
