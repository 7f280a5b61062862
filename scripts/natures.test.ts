import { demoPacks } from '@crosspeen/demo';
import { natureFaults, type NatureFaults } from '../bench/natures.ts';
import { knownEngines } from './library.ts';
import { testDatabase, type TestDatabase } from './test-database.ts';

let database: TestDatabase;
let faults: NatureFaults;

beforeAll(async () => {
  database = await testDatabase('natures');
  faults = natureFaults(await knownEngines(database.url, demoPacks()));
});
afterAll(() => database.drop());

test('all of the demo’s engines were asked', () => expect(faults.asked).toBeGreaterThan(5000));
test('no chance of what wears falls while it is not renewed', () => expect(faults.falling).toEqual([]));
test('no worn original is behind it', () => expect(faults.behind).toEqual([]));
test('no ancient belt on an engine whose valves hit the pistons is left to run', () =>
  expect(faults.leftToRun).toEqual([]));
