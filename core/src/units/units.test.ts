import { dayFromDate, dayFromInstant, dayFromIso, firstDayOfWeek, isoFromDay, yearOfDay } from './day.ts';
import { fromKm, toKm } from './distance.ts';

test.each([
  [1970, 1, 1, 0],
  [1969, 12, 31, -1],
  [2000, 1, 1, 10_957],
  [2000, 2, 29, 11_016],
])('%d-%d-%d is day %d', (year, month, date, day) => {
  expect(dayFromDate(year, month, date)).toBe(day);
  expect(isoFromDay(day + 0.9)).toBe([year, String(month).padStart(2, '0'), String(date).padStart(2, '0')].join('-'));
  expect(yearOfDay(day + 0.9)).toBe(year);
});
test.each([
  [2020, 2, 31],
  [2021, 2, 29],
  [2020, 4, 31],
  [2020, 13, 1],
  [2020, 0, 1],
  [2020, 1, 0],
  // The calendar of scripts takes two digits for a year of the last century.
  [99, 1, 1],
])('there is no %d-%d-%d', (year, month, date) => expect(dayFromDate(year, month, date)).toBeNull());
test.each(['x2020-01-01', '2020-01-01x', '2020-1-1', '2020-02-30', ''])('no date: %j', (iso) =>
  expect(dayFromIso(iso)).toBeNull(),
);
test('an instant lies in its day from its first moment to its last', () => {
  const day = dayFromIso('2026-11-24')!;
  expect(dayFromInstant(new Date('2026-11-24T00:00:00Z'))).toBe(day);
  expect(dayFromInstant(new Date('2026-11-24T23:59:59.999Z'))).toBe(day);
});
// 24 November 2026 is a Tuesday, 1 January 1970 was a Thursday.
test.each([
  ['2026-11-24', 1, '2026-11-23'],
  ['2026-11-24', 0, '2026-11-22'],
  ['2026-11-24', 6, '2026-11-21'],
  ['2026-11-23', 1, '2026-11-23'],
  ['2026-11-22', 1, '2026-11-16'],
  ['1970-01-01', 1, '1969-12-29'],
])('the week of %s, from weekday %d on, begins on %s', (iso, weekday, first) =>
  expect(isoFromDay(firstDayOfWeek(dayFromIso(iso)!, weekday))).toBe(first),
);
test.each([
  [100, 'mi', 160.9344],
  [25, 'h', 1000],
  [7, 'km', 7],
] as const)('%d %s are %d km, and back', (value, unit, km) => {
  expect(toKm(value, unit)).toBeCloseTo(km, 9);
  expect(fromKm(km, unit)).toBeCloseTo(value, 9);
});
