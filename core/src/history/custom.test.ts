import type { StatementFact } from '../schools/statements.ts';
import { customOf } from './custom.ts';

const says = (changes: Partial<StatementFact>): StatementFact => ({
  authority: 'coast workshop book',
  kind: 'book',
  edition: null,
  region: null,
  words: 'renew it',
  interval: [],
  asks: 'renew',
  ...changes,
});
const km = (from: number): StatementFact['interval'][number] => ({ clock: 'distance', from, to: from });
const days = (from: number): StatementFact['interval'][number] => ({ clock: 'age', from, to: from });

test('the custom is the middle of what is published, on every clock it is told on', () => {
  expect(customOf([says({ interval: [km(120_000), days(2922)] }), says({ interval: [km(100_000)] })], null)).toEqual([
    { clock: 'distance', at: 110_000 },
    { clock: 'age', at: 2922 },
  ]);
  const three = [60_000, 150_000, 90_000].map((at) => says({ interval: [km(at)] }));
  expect(customOf(three, null)).toEqual([{ clock: 'distance', at: 90_000 }]);
});

test('who is doubted, and who asks for a look, makes no custom', () => {
  expect(
    customOf(
      [
        says({ interval: [km(30_000)], doubted: true }),
        says({ interval: [km(60_000)], asks: 'look' }),
        says({ interval: [km(180_000)] }),
        says({ interval: [km(20_000)], strength: 'hearsay' }),
      ],
      null,
    ),
  ).toEqual([{ clock: 'distance', at: 180_000 }]);
  expect(customOf([says({}), says({ interval: [km(60_000)], asks: 'look' })], null)).toEqual([]);
  expect(customOf([], null)).toEqual([]);
});

test('an edition for one region makes a custom there alone', () => {
  const statements = [says({ interval: [km(120_000)] }), says({ interval: [km(60_000)], region: 'hot' })];
  expect(customOf(statements, null)).toEqual([{ clock: 'distance', at: 120_000 }]);
  expect(customOf(statements, 'cold')).toEqual([{ clock: 'distance', at: 120_000 }]);
  expect(customOf(statements, 'hot')).toEqual([{ clock: 'distance', at: 90_000 }]);
});

test('what a library says is worked out once', () => {
  const statements = [says({ interval: [km(90_000)] })];
  expect(customOf(statements, null)).toBe(customOf(statements, null));
});
