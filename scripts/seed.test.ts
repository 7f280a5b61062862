import pg from 'pg';
import { DEMO_ACCOUNTS, DEMO_VEHICLES } from '@crosspeen/demo';
import { seedDemo } from './seed.ts';
import { testDatabase, type TestDatabase } from './test-database.ts';

/** A day that not every year has: the demo world is told in days before today, and must stand on any of them. */
const LEAP_DAY = '2028-02-29';
let database: TestDatabase;
let client: pg.Client;

beforeAll(async () => {
  database = await testDatabase('seed');
  await seedDemo(database.url, LEAP_DAY);
  client = new pg.Client({ connectionString: database.url });
  await client.connect();
});
afterAll(async () => {
  await client.end();
  await database.drop();
});

const one = async (sql: string): Promise<number> =>
  Number(Object.values((await client.query<Record<string, string>>(sql)).rows[0]!)[0]);
const COUNTS = `select (select count(*) from vehicle) || ' ' || (select count(*) from service_record) || ' ' || (select count(*) from finding) || ' ' || (select count(*) from change) || ' ' || (select count(*) from statement) || ' ' || (select count(*) from judgement)
      as counts`;
const counts = async (): Promise<string> => (await client.query<{ counts: string }>(COUNTS)).rows[0]!.counts;

test('the workshop is there: its people with hashed passwords, its vehicles, two years of work and visits to come', async () => {
  const { rows: users } = await client.query<{ name: string; role: string; password_hash: string }>(
    'select name, role, password_hash from app_user order by name',
  );
  expect(users.map(({ name, role }) => [name, role])).toEqual(
    [...DEMO_ACCOUNTS].sort((a, b) => a.name.localeCompare(b.name)).map(({ name, role }) => [name, role]),
  );
  expect(users.every(({ password_hash: hash }) => hash.startsWith('$argon2id$'))).toBe(true);
  expect(await one('select count(*) from vehicle')).toBe(250);
  expect(
    (
      await client.query<{ plate: string }>('select plate from vehicle where plate = any($1)', [
        DEMO_VEHICLES.map(({ plate }) => plate),
      ])
    ).rows,
  ).toHaveLength(DEMO_VEHICLES.filter(({ plate }) => plate).length);
  expect(await one(`select count(*) from visit where state = 'planned' and day >= '${LEAP_DAY}'`)).toBeGreaterThan(10);
  expect(
    await one(`select count(*) from visit where state = 'done' and done_day >= date '${LEAP_DAY}' - 730`),
  ).toBeGreaterThan(150);
});

test('nothing that is on record lies after today', async () => {
  for (const [table, column] of [
    ['meter_reading', 'day'],
    ['service_record', 'day'],
    ['finding', 'day'],
    ['visit', 'done_day'],
    ['notice', 'issued'],
  ] as const) {
    expect([table, await one(`select count(*) from ${table} where ${column} > date '${LEAP_DAY}'`)]).toEqual([
      table,
      0,
    ]);
  }
});

test('every vehicle is judged as of today, and the list has all kinds of verdict', async () => {
  expect(await one(`select count(*) from vehicle_standing where as_of = '${LEAP_DAY}' and model_version > 0`)).toBe(
    250,
  );
  const { rows } = await client.query<{ verdict: string }>('select distinct verdict from judgement');
  expect(rows.map(({ verdict }) => verdict).sort()).toEqual([
    'behind_it',
    'hold',
    'look',
    'renew',
    'ride_along',
    'run_on',
    'watch',
  ]);
});

test('records hang together: jobs and findings about weak points of the vehicle’s own engine, every change with its author', async () => {
  expect(
    await one(
      `select count(*)
        from visit_job j
        join visit v on v.id = j.visit_id
        join vehicle c on c.id = v.vehicle_id
        join weak_point w on w.id = j.weak_point_id
        where w.family_id <> c.family_id`,
    ),
  ).toBe(0);
  expect(
    await one(
      `select count(*)
        from finding f
        join vehicle v on v.id = f.vehicle_id
        join weak_point w on w.id = f.weak_point_id
        where w.family_id <> v.family_id`,
    ),
  ).toBe(0);
  expect(await one('select count(*) from change where user_id is null')).toBe(0);
  expect(await one('select count(distinct user_id) from change')).toBe(DEMO_ACCOUNTS.length);
});

test('the bench has something to say of some weak points and too little of others', async () => {
  expect(await one('select count(*) from experience where failures >= 3')).toBeGreaterThan(2);
  expect(await one('select count(*) from experience where failures < 3')).toBeGreaterThan(5);
});

test('a second start adds nothing', async () => {
  const before = await counts();
  await seedDemo(database.url, LEAP_DAY);
  expect(await counts()).toBe(before);
});
