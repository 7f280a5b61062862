import { dayFromIso } from '../units/day.ts';
import { mayBeMade, productionSpan } from './production.ts';

const day = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso)!);

test.each([
  ['2018-05-01', '2017-01-01', '2018-01-01', true],
  ['2018-05-01', '2018-06-01', null, false],
  ['2018-05-01', null, '2017-10-29', false],
  ['2018-05-01', null, '2017-10-30', true],
  ['2018-05-01', '2018-05-01', null, true],
  [null, '2018-06-01', '2018-07-01', true],
  ['2018-05-01', null, null, true],
])('registered on %s, made from %s to %s: %s', (registered, from, to, may) =>
  expect(mayBeMade(day(registered), day(from), day(to))).toBe(may),
);

test('a vehicle is made in the half year before a known day, in the year and a half about a bare year', () => {
  expect(productionSpan({ registeredDay: 1000, registeredExact: true })).toEqual({ day: 908.5, slackDays: 91.5 });
  expect(productionSpan({ registeredDay: 1000, registeredExact: false })).toEqual({ day: 908.5, slackDays: 274.5 });
  expect(productionSpan({ registeredDay: null, registeredExact: false }).day).toBeNull();
});
