import { demoPacks } from '@crosspeen/demo';
import { DEFAULT_SETTINGS, policyOf } from '@crosspeen/server';
import { DECISION_FAULTS, decisionFaults, type DecisionCount } from '../bench/decisions.ts';
import { natureFaults, type NatureFaults } from '../bench/natures.ts';
import { knownEngines } from './library.ts';
import { testDatabase, type TestDatabase } from './test-database.ts';

/** The bench takes twice as many. */
const SOME_READINGS = [60_000, 160_000, 250_000];

let database: TestDatabase;
let faults: NatureFaults;
let decided: DecisionCount;

beforeAll(async () => {
  database = await testDatabase('natures');
  const engines = await knownEngines(database.url, demoPacks());
  faults = natureFaults(engines);
  decided = decisionFaults(engines, policyOf(DEFAULT_SETTINGS), SOME_READINGS);
});
afterAll(() => database.drop());

test('all of the demo’s engines were asked', () => expect(faults.asked).toBeGreaterThan(5000));
test('no chance of what wears falls while it is not renewed', () => expect(faults.falling).toEqual([]));
test('no worn original is behind it', () => expect(faults.behind).toEqual([]));
test('no ancient belt on an engine whose valves hit the pistons is left to run', () =>
  expect(faults.leftToRun).toEqual([]));

describe('decisions on a grid of distance, age, history and findings', () => {
  test('many were asked for', () => expect(decided.asked).toBeGreaterThan(20_000));
  test.each(DECISION_FAULTS)('none: %s', (fault) => expect(decided.faults.get(fault)).toEqual([]));
});
