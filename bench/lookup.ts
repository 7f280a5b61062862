import { MODEL_VERSION } from '@crosspeen/core';
import { LOOKUP_SQL } from '@crosspeen/server';
import { Agent, get } from 'node:http';
import type pg from 'pg';
import { signedIn, type ApiBench } from './api.ts';

const VEHICLES = 100_000;
const FAMILIES = 250;
/** Weak points per engine family, so that there are 10,000 in all. */
const POINTS = 40;
const ASKS = 600;
const WARM_UP = 60;

/**
 * Fills the library to FAMILIES x POINTS weak points (copies of the demo's, made up) and the file to VEHICLES vehicles,
 * straight in SQL. Standings are stamped as judged today, so that lists have something to sort and nothing is judged in
 * the background meanwhile.
 */
async function fill(client: pg.Client, today: string): Promise<void> {
  await client.query(`
    insert into engine_family (
      key, maker_id, code, code_key, name, displacement_l, fuel, aspiration, timing_drive, interference, search_text
    )
    select 'bench-' || n, (select id from maker order by key limit 1), 'BX' || n || 'Z', 'bx' || n || 'z',
      'made-up engine', 2.0, 'petrol', 'turbo', 'chain', true, 'vellmar bx' || n || 'z'
    from generate_series(1, ${FAMILIES}) n on conflict do nothing`);
  await client.query(`
    insert into engine_variant (family_id, key, name, produced_from, produced_to, position)
    select f.id, 'only', 'only variant', '2005-01-01', '2020-12-31', 0
    from engine_family f
    where f.key like 'bench-%'
    on conflict do nothing`);
  await client.query(`
    insert into weak_point (
      key, family_id, component_id, title, consequence, safety, effect, signs, share, causes, look, renew_minutes,
        applies_to, nature, position
    )
    select f.key || '-' || n, f.id, p.component_id, p.title, p.consequence, p.safety, p.effect, p.signs, p.share,
      p.causes, p.look, p.renew_minutes, '{}', p.nature, n
    from engine_family f cross join generate_series(1, ${POINTS}) n
    join (
      select row_number() over (order by key) as r, * from weak_point where key not like 'bench-%'
    ) p on p.r = 1 + n % 40
    where f.key like 'bench-%' on conflict do nothing`);
  await client.query(`
    insert into statement (weak_point_id, authority_id, edition, words, "interval", position)
    select w.id, s.authority_id, s.edition, s.words, s."interval", s.position
    from weak_point w
    join lateral (
      select row_number() over (order by key) as r, id from weak_point where key not like 'bench-%'
    ) p on p.r = 1 + w.position % 40
    join statement s on s.weak_point_id = p.id where w.key like 'bench-%'`);
  await client.query(`
    insert into vehicle (plate, plate_key, model, family_id, variant_key, first_registered, odometer_unit, search_text)
    select 'BN ' || n, 'bn' || n, 'Bench', f.id, 'only', date '2010-01-01' + (n % 4000), 'km',
      'bn ' || n || ' bn' || n || ' vellmar bench ' || lower(f.code)
    from generate_series(1, ${VEHICLES}) n join engine_family f on f.key = 'bench-' || (1 + n % ${FAMILIES})`);
  await client.query(`
    insert into meter_reading (vehicle_id, day, km, user_id)
    select id, current_date - 30, 60000 + (random() * 150000)::int, (select id from app_user limit 1)
    from vehicle
    where search_text like 'bn %'`);
  await client.query(
    `
    insert into vehicle_standing (
      vehicle_id, rank, title, verdict, chance, others, km, as_of, model_version, settings_version, family_revision
    )
    select v.id, random() * 5, 'Timing chain', 'look', random() * 0.1, 2, 120000, $1, $2,
      (select version from setting where id = 1),
      (select revision from family_state f where f.family_id = v.family_id)
    from vehicle v where v.search_text like 'bn %'`,
    [today, MODEL_VERSION],
  );
  // What the database would tidy up by itself within a minute must not fall into one run and not into another.
  await client.query('vacuum analyze');
}

const quantile = (sorted: readonly number[], part: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]!;
const milliseconds = (value: number): string => `${value.toFixed(2)} ms`;

/** Connections stay open, as a browser's do. */
const agent = new Agent({ keepAlive: true });

/**
 * The text at an address, by the plainest client there is: what a stream of the web's kind costs on top is not the
 * server's.
 */
const textFrom = (url: string, cookie: string): Promise<string> =>
  new Promise((resolve, reject) => {
    get(url, { agent, headers: { cookie } }, (response) => {
      let text = '';
      response
        .setEncoding('utf8')
        .on('data', (piece: string) => {
          text += piece;
        })
        .once('end', () => resolve(text))
        .once('error', reject);
    }).once('error', reject);
  });

async function timed(count: number, work: (i: number) => Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < count; i += 1) {
    const began = performance.now();
    await work(i);
    times.push(performance.now() - began);
  }
  return times;
}

/**
 * The lookup through HTTP beside the same rows fetched by bare SQL, taking turns in one run; prints both and their
 * ratio.
 */
export async function lookupBench(bench: ApiBench): Promise<void> {
  const { address, say } = bench;
  await signedIn(bench, async ({ client, headers: { cookie }, today }) => {
    const [{ vehicles }] = (await client.query<{ vehicles: string }>('select count(*) as vehicles from vehicle'))
      .rows as [{ vehicles: string }];
    if (Number(vehicles) < VEHICLES) {
      say(
        `filling the database: ${VEHICLES.toLocaleString('en')} vehicles, ${(FAMILIES * POINTS).toLocaleString('en')} weak points ...`,
      );
      await fill(client, today);
    }
    const got = (path: string): Promise<string> => textFrom(`${address}${path}`, cookie);
    const code = (i: number): string => `BX${1 + ((i * 37) % FAMILIES)}Z`;
    let rows = 0;
    const overHttp = async (i: number): Promise<void> => {
      const body = JSON.parse(await got(`/api/lookup?line=${code(i)}+${100 + (i % 120)}k+2014`)) as {
        answer: { judgements: unknown[] };
      };
      rows += body.answer.judgements.length;
    };
    const bareSql = async (i: number): Promise<void> => {
      const {
        rows: [family],
      } = await client.query<{ id: string }>('select id from engine_family where code_key = $1', [
        code(i).toLowerCase(),
      ]);
      await client.query(LOOKUP_SQL.family, [family!.id]);
      await client.query(LOOKUP_SQL.weakPoints, [family!.id]);
    };
    await timed(WARM_UP, overHttp);
    await timed(WARM_UP, bareSql);
    const http: number[] = [];
    const sql: number[] = [];
    rows = 0;
    for (let batch = 0; batch < 12; batch += 1) {
      http.push(...(await timed(ASKS / 12, (i) => overHttp(i + batch * 50))));
      sql.push(...(await timed(ASKS / 12, (i) => bareSql(i + batch * 50))));
    }
    const report = (name: string, times: number[]): { p50: number; p95: number } => {
      const sorted = [...times].sort((a, b) => a - b);
      const [p50, p95] = [quantile(sorted, 0.5), quantile(sorted, 0.95)];
      const perSecond = 1000 / (times.reduce((sum, time) => sum + time, 0) / times.length);
      say(
        `${name.padEnd(22)} p50 ${milliseconds(p50).padStart(9)}   p95 ${milliseconds(p95).padStart(9)}   ${perSecond.toFixed(0).padStart(5)} a second, one at a time`,
      );
      return { p50, p95 };
    };
    say(
      `${ASKS} lookups of ${rows / ASKS} weak points each, ${VEHICLES.toLocaleString('en')} vehicles and ${(FAMILIES * POINTS).toLocaleString('en')} weak points on file`,
    );
    const a = report('lookup through HTTP', http);
    const b = report('the same rows, SQL', sql);
    say(
      `ratio                  p50 ${(a.p50 / b.p50).toFixed(2).padStart(6)}      p95 ${(a.p95 / b.p95).toFixed(2).padStart(6)}`,
    );
    const began = performance.now();
    await Promise.all(Array.from({ length: 8 }, (_, lane) => timed(50, (i) => overHttp(lane * 50 + i))));
    say(`eight askers at once   ${(400 / ((performance.now() - began) / 1000)).toFixed(0)} answers a second`);
    for (const [name, path] of [
      ['vehicles, most pressing', '/api/vehicles'],
      ['vehicles, page 900', '/api/vehicles?page=900'],
      ['vehicles, searched', '/api/vehicles?q=bn+4711'],
      ['near matches', '/api/lookup?line=BXQ7Z+100k'],
      ['library, by symptom', '/api/library/points?q=rattle+bx17z'],
      ['library, by part', '/api/library/points?q=VL-4433-05'],
    ] as const) {
      await timed(5, () => got(path));
      report(name, await timed(60, () => got(path)));
    }
  }).finally(() => {
    agent.destroy();
  });
}
