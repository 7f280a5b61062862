import fc from 'fast-check';
import { answerLine } from './door.ts';

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
