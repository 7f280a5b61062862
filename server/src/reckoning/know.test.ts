import { dayFromIso, OLDER } from '@crosspeen/core';
import { knownFrom, LATELY_DAYS, withAnswer, type Known } from './know.ts';

const TODAY = dayFromIso('2026-11-24')!;
const nothing: Known = { variantKey: null, model: null, market: null, features: {}, fitted: {}, services: [] };
const on = { today: TODAY, dayAt: (km: number) => 10_000 + km / 100 };
const answered = (about: string, answer: string, known = nothing, where: Parameters<typeof withAnswer>[3] = on) =>
  withAnswer(known, about, answer, where);

test.each([
  ['variant', 'late', { variantKey: 'late' }],
  ['model', 'Corrow', { model: 'Corrow' }],
  ['market', 'hot and dusty', { market: 'hot and dusty' }],
  ['feature:ac', 'yes', { features: { ac: true } }],
  ['feature:ac', 'no', { features: { ac: false } }],
  ['fitted:chain:left', 'B', { fitted: { 'chain:left': 'B' } }],
  ['fitted:chain', OLDER, { fitted: { chain: '' } }],
])('%s answered with %s', (about, answer, change) =>
  expect(answered(about, answer)).toEqual({ ...nothing, ...change }),
);

test.each([
  ['feature:ac', 'perhaps'],
  ['feature', 'yes'],
  ['fitted', 'B'],
  ['history', 'never'],
  ['history:belt', 'sometime'],
  ['colour', 'red'],
  ['', ''],
])('%s answered with %s says nothing', (about, answer) => expect(answered(about, answer)).toBeNull());

test('what was known before stays beside it', () => {
  const known: Known = { ...nothing, model: 'Corrow', features: { turbo: true }, fitted: { pump: 'C' } };
  expect(answered('feature:ac', 'no', known)).toEqual({ ...known, features: { turbo: true, ac: false } });
  expect(answered('fitted:chain', 'B', known)).toEqual({ ...known, fitted: { pump: 'C', chain: 'B' } });
});

describe('the history of a part', () => {
  const bare = { componentKey: 'belt', day: null, grade: 'original', revision: null, source: null, cameOut: null };
  const fact = (answer: string, where: Parameters<typeof withAnswer>[3] = on) =>
    answered('history:belt', answer, nothing, where)!.services[0];

  test('never, and nobody knows', () => {
    expect(fact('never')).toEqual({ ...bare, certainty: 'not_done' });
    expect(fact('unknown')).toEqual({ ...bare, certainty: 'unknown' });
  });
  test('about then is believed as an owner’s word is: by date, by reading, or about a year ago', () => {
    const believed = { ...bare, certainty: 'believed', source: 'owner' };
    expect(fact('renewed 2024-05-14 cheap')).toEqual({ ...believed, day: dayFromIso('2024-05-14'), grade: 'cheap' });
    expect(fact('renewed 150000km')).toEqual({ ...believed, day: 11_500 });
    expect(fact('renewed lately')).toEqual({ ...believed, day: TODAY - LATELY_DAYS });
  });
  test('never after today; where the reading’s day is not known, today', () => {
    expect(fact('renewed 2027-01-01')!.day).toBe(TODAY);
    expect(fact('renewed 9900000km')!.day).toBe(TODAY);
    expect(fact('renewed 150000km', { today: TODAY, dayAt: null })!.day).toBe(TODAY);
  });
  test('comes to what is on record already', () =>
    expect(
      knownFrom(nothing, 'history:belt=never;history:pump=renewed lately', on).services.map(
        ({ componentKey, certainty }) => [componentKey, certainty],
      ),
    ).toEqual([
      ['belt', 'not_done'],
      ['pump', 'believed'],
    ]));
});

test('an address tells several things; what cannot be understood is left out', () =>
  expect(knownFrom(nothing, 'market=north;colour=red;feature:ac=maybe;feature:tow=yes', on)).toEqual({
    ...nothing,
    market: 'north',
    features: { tow: true },
  }));
