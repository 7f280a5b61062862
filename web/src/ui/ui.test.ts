import { temperColour, TEMPERS } from './temper.ts';
import { minutesText, dayFromIso, toKm } from '@crosspeen/core';
import {
  dayText,
  distanceText,
  isoText,
  moneyText,
  monthText,
  percentText,
  spansText,
  todayDistance,
} from './units.ts';

test('each temper colour says its band, and they meet without a gap', () => {
  expect(TEMPERS.map(({ words }) => words)).toEqual([
    'under 1 %',
    '1 to 3 %',
    '3 to 8 %',
    '8 to 25 %',
    '25 % and more',
  ]);
  expect(temperColour(0.0799)).toBe('var(--temper-2)');
  expect(temperColour(0.08)).toBe('var(--temper-3)');
});

test.each([
  [0, '< 0.1 %'],
  [0.0004, '< 0.1 %'],
  [0.047, '4.7 %'],
  [0.12, '12 %'],
  [0.999, '> 99 %'],
  [0.0949, '9.5 %'],
])('chance %d reads %s', (chance, text) => expect(percentText(chance)).toBe(text));
test.each([
  [45, '45 min'],
  [60, '1 h'],
  [190, '3 h 10'],
  [125, '2 h 05'],
])('%d minutes read %s', (minutes, text) => expect(minutesText(minutes)).toBe(text));
test('distances in the vehicle’s unit, rounded to what they are worth', () => {
  expect(distanceText(148_059.648, 'mi')).toBe('92,000\u00a0mi');
  expect(distanceText(148_249, 'km', 100)).toBe('148,200\u00a0km');
});
test('spans as people say them', () => {
  expect(
    spansText(
      [
        { clock: 'distance', from: 90_000, to: 180_000 },
        { clock: 'age', from: 2922, to: 2922 },
      ],
      'km',
    ),
  ).toBe('90,000 to 180,000 km or 8 years');
  expect(spansText([{ clock: 'age', from: 152, to: 152 }], 'km')).toBe('5 months');
});
test('days from today', () =>
  expect([0, 1, -1, 1587].map(todayDistance)).toEqual(['today', 'in 1 day', '1 day ago', 'in 1,587 days']));
test.each([
  [12_000, 'EUR', '€120.00'],
  [-950, 'GBP', '-£9.50'],
  [5, 'USD', 'US$0.05'],
])('%d of the smallest coin of %s', (minor, currency, text) => expect(moneyText(minor, { currency })).toBe(text));
test('machines count hours, and their windows in km stay in km', () => {
  expect(distanceText(toKm(4271, 'h'), 'h', 100)).toMatch(/^4,270\s?h$/);
  expect(
    spansText(
      [
        { clock: 'distance', from: 90_000, to: 90_000 },
        { clock: 'hours', from: 2000, to: 4500 },
      ],
      'h',
    ),
  ).toBe('90,000 km or 2,000 to 4,500 engine hours');
});
test('days, months and ISO dates as people write them, whatever the machine’s time zone', () => {
  const day = dayFromIso('2027-03-05')!;
  expect([dayText(day), monthText(day), isoText('2027-03-05')]).toEqual(['5 Mar 2027', 'Mar 2027', '5 Mar 2027']);
});
