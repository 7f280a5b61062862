import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import type pg from 'pg';
import { signedIn, type ApiBench } from './api.ts';
import { experienceOf, MODEL_VERSION, type Observation } from '@crosspeen/core';
import { kernelInput, runKernel } from './kernel.ts';
import { stopwatch } from './processor.ts';
import { workerOf } from './worker.ts';

const COUNT = 1_000_000;
const RUNS = 7;
const FLEET = 50_000;
/** Engine families, and weak points of each. */
const FAMILIES = 50;
const POINTS = 20;

const best = (times: readonly number[]): number => Math.min(...times);
const quantile = (times: readonly number[], part: number): number =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(part * times.length))]!;

/** Evaluations a second of the C program, or null on a machine without a C compiler. */
function inC(folder: string): ((runs: number) => { sum: number; perSecond: number }) | null {
  const program = join(folder, 'kernel');
  try {
    execFileSync('cc', ['-O2', '-o', program, join(import.meta.dirname, 'kernel.c'), '-lm']);
  } catch {
    return null;
  }
  return (runs) => {
    const [sum, perSecond] = execFileSync(program, [String(COUNT), String(runs)], { encoding: 'utf8' })
      .trim()
      .split(' ')
      .map(Number) as [number, number];
    return { sum, perSecond };
  };
}

/** All cores at once: each thread runs the kernel over its own parts; evaluations a second together. */
async function allCores(folder: string): Promise<number> {
  const begin = await workerOf('kernel-worker', folder);
  const threads = availableParallelism();
  const seconds = await Promise.all(
    Array.from(
      { length: threads },
      () =>
        new Promise<number>((resolve, reject) => {
          begin({ count: COUNT, runs: RUNS }).once('message', resolve).once('error', reject);
        }),
    ),
  );
  return seconds.reduce((sum, took) => sum + COUNT / took, 0);
}

/**
 * The arithmetic of a fleet in the core's own functions, beside the same written plainly in C, taking turns in one run.
 */
export async function kernelBench(say: (line: string) => void): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'crosspeen-risk-'));
  try {
    const input = kernelInput(COUNT);
    const c = inC(folder);
    let sum = runKernel(input);
    const times: number[] = [];
    let plain = 0;
    for (let run = 0; run < RUNS; run += 1) {
      const began = performance.now();
      sum = runKernel(input);
      times.push((performance.now() - began) / 1000);
      if (c) {
        const answer = c(1);
        plain = Math.max(plain, answer.perSecond);
        if (Math.abs(answer.sum / sum - 1) > 1e-12)
          throw new Error(`the C program gives ${answer.sum}, the core ${sum}`);
      }
    }
    const own = COUNT / best(times);
    const million = (perSecond: number): string => `${(perSecond / 1e6).toFixed(2)} million a second`;
    say(`chances of ${COUNT.toLocaleString('en')} parts on two clocks, best of ${RUNS}`);
    say(`one thread, the core   ${million(own)}`);
    say(
      c
        ? `one thread, C -O2      ${million(plain)}   (the same sum to 12 digits)`
        : 'one thread, C -O2      no C compiler here: install gcc to compare',
    );
    if (c) say(`ratio                  ${(plain / own).toFixed(2)}`);
    say(`all ${availableParallelism()} threads          ${million(await allCores(folder))}`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * A fleet straight in SQL: made-up engines copied from the demo library, vehicles with two readings, one renewal in
 * three and one look in five.
 */
async function fill(client: pg.Client): Promise<void> {
  await client.query(`
    insert into engine_family (
      key, maker_id, code, code_key, name, displacement_l, fuel, aspiration, timing_drive, interference, search_text
    )
    select 'fleet-' || n, (select id from maker order by key limit 1), 'FX' || n || 'Z', 'fx' || n || 'z',
      'made-up engine', 2.0, 'petrol', 'turbo', 'chain', true, 'vellmar fx' || n || 'z'
    from generate_series(1, ${FAMILIES}) n`);
  await client.query(
    `insert into engine_variant (family_id, key, name, produced_from, produced_to, position)
      select f.id, 'only', 'only variant', '2005-01-01', '2022-12-31', 0
      from engine_family f
      where f.key like 'fleet-%'`,
  );
  await client.query(`
    insert into weak_point (
      key, family_id, component_id, title, consequence, safety, effect, signs, share, causes, look, renew_minutes,
        applies_to, nature, position
    )
    select f.key || '-' || n, f.id, p.component_id, p.title, p.consequence, p.safety, p.effect, p.signs, p.share,
      p.causes, p.look, p.renew_minutes, '{}', p.nature, n
    from engine_family f cross join generate_series(1, ${POINTS}) n
    join (
      select row_number() over (order by key) as r, * from weak_point where key not like 'fleet-%'
    ) p on p.r = 1 + n % 40
    where f.key like 'fleet-%'`);
  await client.query(`
    insert into statement (weak_point_id, authority_id, edition, words, "interval", position)
    select w.id, s.authority_id, s.edition, s.words, s."interval", s.position
    from weak_point w
    join lateral (
      select row_number() over (order by key) as r, id from weak_point where key not like 'fleet-%'
    ) p on p.r = 1 + w.position % 40
    join statement s on s.weak_point_id = p.id where w.key like 'fleet-%'`);
  await client.query(`
    insert into vehicle (plate, plate_key, model, family_id, variant_key, first_registered, odometer_unit, search_text)
    select 'FL ' || n, 'fl' || n, 'Fleet', f.id, 'only', date '2010-01-01' + (n % 4000), 'km', 'fl ' || n
    from generate_series(1, ${FLEET}) n
    join engine_family f on f.key = 'fleet-' || (1 + n % ${FAMILIES})`);
  await client.query(`
    insert into meter_reading (vehicle_id, day, km, user_id)
    select v.id, d.day, d.km, (select id from app_user limit 1) from vehicle v
    cross join lateral (
      values (date '2024-11-01', 40000 + length(v.plate) * 3000 + ascii(right(v.plate, 1)) * 900),
        (date '2026-10-20', 75000 + length(v.plate) * 3000 + ascii(right(v.plate, 1)) * 1500)
    ) as d(day, km)
    where v.search_text like 'fl %'`);
  await client.query(`
    insert into service_record (vehicle_id, component_id, certainty, day, km, grade, user_id)
    select v.id, w.component_id, 'done', date '2023-05-01' + (w.position * 13), 60000, 'original',
      (select id from app_user limit 1)
    from vehicle v
    join weak_point w on w.family_id = v.family_id
    where v.search_text like 'fl %' and (w.position + ascii(right(v.plate, 1))) % 3 = 0`);
  await client.query(`
    insert into finding (vehicle_id, weak_point_id, day, result, user_id)
    select v.id, w.id, date '2026-03-01' + w.position, 'sound', (select id from app_user limit 1)
    from vehicle v
    join weak_point w on w.family_id = v.family_id
    where v.search_text like 'fl %' and (w.position + ascii(right(v.plate, 1))) % 5 = 0`);
  // What a workshop of this size would have seen of each: every judgement is a mixture over lives.
  const seen = experienceOf(
    {
      causes: [[{ clock: 'distance', from: 90_000, to: 180_000 }]],
      componentClass: 'bearing',
      nature: 'wear',
      share: 0.5,
      statements: [],
    },
    Array.from({ length: 400 }, (_, i): Observation =>
      i % 20 === 0 ? { kind: 'exact', at: 0.4 + i / 800 } : { kind: 'right', at: 0.2 + i / 600 },
    ),
  );
  await client.query(
    `
    insert into experience (weak_point_id, vehicles, parts, failures, worn, brought_in, apart, summary, model_version)
    select w.id, 400, 400, 20, 5, 0, 0.1, jsonb_build_object('nodes', $1::jsonb), ${MODEL_VERSION}
    from weak_point w
    where w.key like 'fleet-%'`,
    [JSON.stringify(seen.nodes)],
  );
  await client.query(
    `insert into vehicle_standing (vehicle_id, rank, others, as_of, model_version)
      select id, 0, 0, '2000-01-01', 0
      from vehicle
      where search_text like 'fl %'`,
  );
  await client.query('analyze');
}

interface FleetState {
  readonly stale: number;
  readonly run: { readonly state: string; readonly done: number } | null;
}

/** A whole fleet judged again by the server, database included; then one vehicle's page after a change. */
export async function fleetBench(bench: ApiBench): Promise<void> {
  const { address, say } = bench;
  await signedIn(bench, async ({ client, headers: who, today }) => {
    const headers = { ...who, 'content-type': 'application/json' };
    say(
      `filling the database: ${FLEET.toLocaleString('en')} vehicles, ${FAMILIES * POINTS} weak points, ${POINTS} to a vehicle ...`,
    );
    await fill(client);
    const post = async (path: string, body: unknown = {}): Promise<unknown> =>
      (await fetch(`${address}${path}`, { method: 'POST', headers, body: JSON.stringify(body) })).json();
    const round = async (name: string): Promise<void> => {
      const watch = stopwatch();
      await post('/api/fleet/judge');
      for (;;) {
        const { stale, run } = (await (await fetch(`${address}/api/fleet`, { headers })).json()) as FleetState;
        if (stale === 0 && run?.state !== 'running') break;
        await new Promise((resolve) => {
          setTimeout(resolve, 500);
        });
      }
      const { seconds, words } = watch();
      say(
        `${name.padEnd(34)} ${words}, ${((FLEET * POINTS) / seconds / 1000).toFixed(0)} thousand judgements a second, database included`,
      );
    };
    await round('first judgement of all vehicles');
    await client.query("update vehicle_standing set as_of = '2000-01-01'");
    await round('all again');
    // As after a night: every chance has moved a little, and every row is written anew.
    await client.query('update judgement set chance = chance * 0.999');
    await client.query("update vehicle_standing set as_of = '2000-01-01'");
    await client.query('vacuum analyze judgement');
    await round('all again, every chance moved');
    const { rows } = await client.query<{ count: string }>('select count(*) from judgement');
    say(`${Number(rows[0]!.count).toLocaleString('en')} judgements are kept`);
    await client.query(
      `update vehicle_standing
        set family_revision = 0
        where vehicle_id in (
          select v.id from vehicle v join engine_family f on f.id = v.family_id where f.key = 'fleet-1'
        )`,
    );
    await round('one engine’s vehicles alone');
    const vehicles = (
      await client.query<{ id: string; family_id: string }>(
        "select id, family_id from vehicle where search_text like 'fl %' order by plate limit 60",
      )
    ).rows;
    const [changes, pages]: [number[], number[]] = [[], []];
    for (const { id, family_id: familyId } of vehicles) {
      const point = (
        await client.query<{ id: string }>('select id from weak_point where family_id = $1 order by position limit 1', [
          familyId,
        ])
      ).rows[0]!.id;
      let began = performance.now();
      await post(`/api/vehicles/${id}/findings`, { weakPointId: point, day: today, result: 'sound', note: null });
      changes.push(performance.now() - began);
      began = performance.now();
      await (await fetch(`${address}/api/vehicles/${id}/outlook`, { headers })).text();
      pages.push(performance.now() - began);
    }
    const report = (name: string, times: readonly number[]): void =>
      say(`${name.padEnd(34)} p50 ${quantile(times, 0.5).toFixed(1)} ms, p95 ${quantile(times, 0.95).toFixed(1)} ms`);
    report('a look put on record', changes);
    report('that vehicle’s page after it', pages);
  });
}
