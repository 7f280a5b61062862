import type { StatementFact } from './statements.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { authorityMarks, editionYear, standings, strictest } from './authorities.ts';

const statement = (
  authority: string,
  kind: StatementFact['kind'],
  km: number | null,
  more: Partial<StatementFact> = {},
): StatementFact => ({
  authority,
  kind,
  edition: null,
  region: null,
  words: '',
  asks: 'renew',
  interval: km === null ? [] : [{ clock: 'distance', from: km, to: km }],
  ...more,
});

const book = statement('Book', 'book', 120_000, { edition: '2012' });
const south = statement('Book, south', 'regional_book', 160_000, { edition: '2013', region: 'hot and dusty' });

test.each([
  ['2013', 2013],
  ['letter 12/2013', 2013],
  ['note 4433, 2015', 2015],
  ['2013, revised 2016', 2016],
  ['2016, first printed 1998', 2016],
  ['4433', null],
  [null, null],
])('the year of edition %j is %j', (edition, year) => expect(editionYear(edition)).toBe(year));

test('where a regional edition is at home it speaks instead of the general one; elsewhere it is set aside', () => {
  expect(standings([book, south], 'hot and dusty')).toEqual([
    { counts: false, because: 'regional_edition', by: 'Book, south' },
    { counts: true },
  ]);
  expect(standings([book, south], 'north')).toEqual([
    { counts: true },
    { counts: false, because: 'other_region', by: 'hot and dusty' },
  ]);
});

test('only an edition of the book that gives an interval stands before the general one', () => {
  const silent = statement('Book, south', 'regional_book', null, { region: 'hot and dusty' });
  const bulletin = statement('Letter, south', 'bulletin', 90_000, { region: 'hot and dusty' });
  for (const other of [silent, bulletin])
    expect(standings([book, other], 'hot and dusty')).toEqual([{ counts: true }, { counts: true }]);
});

test('a figure on a clock that the vehicle does not have is passed over', () => {
  const both = { ...book, interval: [...book.interval, { clock: 'hours' as const, from: 1, to: 1 }] };
  const [mark] = authorityMarks(
    [both],
    { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 }) },
    { installDay: 0, lookDay: null, kmAtDay: (day) => day * 40, market: null },
  );
  expect(mark!.due).toEqual({ day: 3000, km: 120_000 });
});

test('nobody knows where it was sold: both speak, and the stricter is the book', () => {
  expect(standings([book, south], null).every(({ counts }) => counts)).toBe(true);
});

test('a later edition of one authority beats the earlier, even where it is laxer', () => {
  const later = statement('Book', 'book', 150_000, { edition: '2018' });
  expect(standings([book, later], null)).toEqual([
    { counts: false, because: 'later_edition', by: '2018' },
    { counts: true },
  ]);
});

test('the book is the strictest interval that speaks; what is set aside keeps its date on the page', () => {
  const clocks = { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 }), age: ageClock };
  const marks = authorityMarks([book, south, statement('Shed', 'specialist', null)], clocks, {
    installDay: 0,
    lookDay: null,
    kmAtDay: (day) => day * 40,
    market: 'hot and dusty',
  });
  expect(marks.map(({ due }) => due?.day ?? null)).toEqual([3000, 4000, null]);
  expect(strictest(marks)?.statement).toBe(south);
  expect(strictest(marks.slice(2))).toBeNull();
});
