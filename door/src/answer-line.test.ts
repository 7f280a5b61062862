import fc from 'fast-check';
import { answerLine } from './answer-line.ts';

const answer = (line: string): { output?: Record<string, unknown>; error?: { code: string; message: string } } =>
  JSON.parse(answerLine(line)) as never;

test.each([
  ['{', 'bad_json'],
  ['[]', 'bad_input'],
  ['{"call":"life.none","input":{}}', 'unknown_call'],
  ['{"call":"constructor","input":{}}', 'unknown_call'],
  ['{"call":"life.elicit","input":{"kind":"window","a":5,"b":1}}', 'out_of_domain'],
  ['{"call":"life.elicit","input":{"kind":"window","a":"x","b":1}}', 'bad_input'],
  ['{"call":"life.hazard","input":{"z":[1],"dz":[1],"beta":[1,2],"eta":[1],"pi":1}}', 'bad_input'],
  ['{"call":"life.risk","input":{"days":[],"km":[]}}', 'bad_input'],
])('%s answers %s', (line, code) => {
  const { error } = answer(line);
  expect(error?.code).toBe(code);
  expect(error?.message.length).toBeGreaterThan(5);
});

test.each([
  ['{"call":"life.hazard","input":[]}', 'input must be an object'],
  ['{"call":"life.hazard","input":null}', 'input must be an object'],
  ['{"call":"life.hazard","input":7}', 'input must be an object'],
  ['null', 'request must be an object'],
  ['{"call":5,"input":{}}', 'call must be text'],
  ['{"call":"life.hazard","input":{"z":5,"dz":[1],"beta":[1],"eta":[1],"pi":1}}', 'z must be a list'],
  ['{"call":"life.hazard","input":{"z":["x"],"dz":[1],"beta":[1],"eta":[1],"pi":1}}', 'z must be a number'],
  ['{"call":"life.hazard","input":{"z":[1],"dz":[1],"beta":[1],"eta":[1]}}', 'pi must be given'],
  [
    '{"call":"usage.path","input":{"readings":[[1,2,3]],"prior_rate":1,"kappa":1,"half_life":1}}',
    'readings must be pairs of two numbers',
  ],
  ['{"call":"life.risk","input":{"days":[],"km":[]}}', 'days and km need the same number of knots, at least one'],
])('%s: %s', (line, message) => expect(answer(line).error!.message).toBe(message));

test('a clock that is not there is named with what it needs', () => {
  const input = { days: [0], km: [0], rate: 1, phi: [1, 1, 1], beta: [2, 2, 2], eta: [9, 9, 9] };
  expect(answer(JSON.stringify({ call: 'life.risk', input })).error!.message).toBe(
    'beta: there is no clock 2 here; hours need v_avg',
  );
});

test('an unknown call is told which are known', () =>
  expect(answer('{"call":"x","input":{}}').error!.message).toMatch(/known: life\.elicit, life\.hazard, /));

test('infinities cross as words', () => {
  const path = {
    readings: [[90, 0]],
    start: 0,
    prior_rate: 0,
    kappa: 180,
    half_life: 365,
    query_days: [],
    query_km: [500],
  };
  expect(answer(JSON.stringify({ call: 'usage.path', input: path })).output?.['day_of_km']).toEqual(['inf']);
});

test('no line makes the door throw', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.string(),
        fc.json(),
        fc
          .record({
            call: fc.constantFrom('life.elicit', 'life.hazard', 'usage.path', 'life.risk', 'history.unknown'),
            input: fc.object(),
          })
          .map((request) => JSON.stringify(request)),
      ),
      (line) => {
        expect(typeof answerLine(line)).toBe('string');
      },
    ),
    { numRuns: 400 },
  );
});
