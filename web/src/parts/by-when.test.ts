import { dayFromIso } from '@crosspeen/core';
import { byWhenText, lengthText } from './by-when.ts';

const TODAY = dayFromIso('2026-11-24')!;
const by = (days: number, more: Partial<Parameters<typeof byWhenText>[0]> = {}): string =>
  byWhenText({ verdict: 'renew', day: TODAY + days, km: 152_340, ...more }, TODAY, 'km');

test.each([
  [1, '1 day'],
  [44, '44 days'],
  [45, '1 month'],
  [250, '8 months'],
  [700, '23 months'],
  [731, '2 years'],
  [820, '2 years 3 months'],
])('%d days are %s', (days, text) => expect(lengthText(days)).toBe(text));

test('by a day or at a reading, whichever comes first', () => {
  expect(by(14)).toBe('by 8 Dec 2026 or at 152,300\u00a0km');
  expect(by(14, { km: null })).toBe('by 8 Dec 2026');
  expect(byWhenText({ verdict: 'look', day: TODAY + 14, km: 152_340 }, TODAY, 'mi')).toBe(
    'by 8 Dec 2026 or at 94,700\u00a0mi',
  );
});

test('what has passed says since when and for how long, and is never “now”', () => {
  expect(by(-250)).toBe('overdue since 19 Mar 2026 (8 months)');
  expect(by(-0.2)).toBe('overdue since 23 Nov 2026 (1 day)');
  expect(by(0.7)).toBe('today');
});

test('what holds a vehicle is done before the vehicle is driven, whatever the day', () =>
  expect(by(30, { verdict: 'hold' })).toBe('before the vehicle is driven'));
