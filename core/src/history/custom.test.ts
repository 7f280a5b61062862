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
  expect(customOf([says({ interval: [km(120_000), days(2922)] }), says({ interval: [km(100_000)] })])).toEqual([
    { clock: 'distance', at: 110_000 },
    { clock: 'age', at: 2922 },
  ]);
  const three = [60_000, 150_000, 90_000].map((at) => says({ interval: [km(at)] }));
  expect(customOf(three)).toEqual([{ clock: 'distance', at: 90_000 }]);
});

test('who is doubted, and who asks for a look, makes no custom', () => {
  expect(
    customOf([
      says({ interval: [km(30_000)], doubted: true }),
      says({ interval: [km(60_000)], asks: 'look' }),
      says({ interval: [km(180_000)] }),
    ]),
  ).toEqual([{ clock: 'distance', at: 180_000 }]);
  expect(customOf([says({}), says({ interval: [km(60_000)], asks: 'look' })])).toEqual([]);
  expect(customOf([])).toEqual([]);
});

test('what a library says is worked out once', () => {
  const statements = [says({ interval: [km(90_000)] })];
  expect(customOf(statements)).toBe(customOf(statements));
});
