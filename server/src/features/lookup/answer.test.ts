import { dayFromIso, usagePath } from '@crosspeen/core';
import type { VariantRow } from '../library/repository.ts';
import { fittingVariants, rateSpread } from './answer.ts';

const TODAY = dayFromIso('2026-11-24')!;
const variant = (key: string, producedFrom: string | null, producedTo: string | null): VariantRow => ({ id: key, key, name: key, howToTell: null, serialFrom: null, serialTo: null, producedFrom, producedTo, models: [] });
const VARIANTS = [variant('early', '2011-03-01', '2014-08-31'), variant('late', '2014-09-01', null)];
const fitting = (iso: string | null, exact: boolean, variantKey: string | null = null) =>
  fittingVariants(VARIANTS, { registeredDay: iso === null ? null : dayFromIso(iso), registeredExact: exact, variantKey, serial: null }).map(({ key, weight }) => [key, Math.round(weight * 100)]);

describe('variants that fit a registration', () => {
  test('a vehicle is made before it is registered, by half a year at most', () => {
    expect(fitting('2014-12-01', true)).toEqual([['early', 50], ['late', 50]]);
    expect(fitting('2014-08-31', true)).toEqual([['early', 100]]);
    expect(fitting('2015-04-01', true)).toEqual([['late', 100]]);
  });
  test('a bare year may be any day of it', () => {
    const [early, late] = fitting('2014-07-01', false) as [[string, number], [string, number]];
    expect([early[0], late[0]]).toEqual(['early', 'late']);
    expect(early[1]).toBeGreaterThan(late[1]);
  });
  test('a chosen variant stands alone, whatever the year', () => expect(fitting('2012-01-01', true, 'late')).toEqual([['late', 100]]));
  test('nothing known weighs all; a year outside every run does too, rather than answering nothing', () => {
    expect(fitting(null, false)).toHaveLength(2);
    expect(fitting('1999-01-01', true)).toHaveLength(2);
  });
});

test('a forecast that rests on years of readings spreads less than one on the usual use', () => {
  const bare = usagePath([{ day: TODAY, km: 100_000 }], null, 41);
  const known = usagePath([{ day: TODAY - 2000, km: 20_000 }, { day: TODAY, km: 100_000 }], TODAY - 2500, 41);
  expect(rateSpread(known)).toBeLessThan(rateSpread({ ...bare, knots: [{ day: TODAY, km: 100_000 }] }) / 2);
});
