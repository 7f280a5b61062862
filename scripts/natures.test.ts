import pg from 'pg';
import { demoPacks } from '@crosspeen/demo';
import { natureFaults, type NatureFaults } from '../bench/natures.ts';
import { knownEngines } from './library.ts';

const NAME = `natures_${process.pid}`;
let control: pg.Client;
let faults: NatureFaults;

beforeAll(async () => {
  const admin = process.env['CROSSPEEN_TEST_PG'];
  if (!admin) throw new Error('CROSSPEEN_TEST_PG is not set: run the tests with ./crosspeen test, which starts a throwaway PostgreSQL');
  control = new pg.Client({ connectionString: admin });
  await control.connect();
  await control.query(`create database ${NAME}`);
  faults = natureFaults(await knownEngines(Object.assign(new URL(admin), { pathname: `/${NAME}` }).href, demoPacks()));
});
afterAll(async () => {
  await control.query(`drop database if exists ${NAME} with (force)`);
  await control.end();
});

test('all of the demo’s engines were asked', () => expect(faults.asked).toBeGreaterThan(5000));
test('no chance of what wears falls while it is not renewed', () => expect(faults.falling).toEqual([]));
test('no worn original is behind it', () => expect(faults.behind).toEqual([]));
test('no ancient belt on an engine whose valves meet the pistons is left to run', () => expect(faults.leftToRun).toEqual([]));
