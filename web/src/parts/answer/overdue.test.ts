import { dayFromIso } from '@crosspeen/core';
import { countedFromText, overdueText } from './overdue.ts';

const DAY = dayFromIso('2010-05-02')!;
const row = (certainty: 'done' | 'believed' | 'unknown' | 'not_done' | 'assumed', looked = false) => ({
  installs: [{ certainty, day: DAY, weight: 1 }],
  looks: looked ? [{ day: DAY + 900, result: 'sound' as const }] : [],
});

test('an interval says what it is counted from: nothing where it is known, else new or the renewal that is believed', () => {
  const of = (...told: Parameters<typeof row>) => countedFromText(row(...told), 'renew');
  expect([of('done'), of('not_done')]).toEqual(['', '']);
  expect([of('assumed'), of('unknown')]).toEqual(['if never renewed: ', 'if never renewed: ']);
  expect(of('believed')).toBe('if it was renewed about 2 May 2010: ');
  // A look on record answers for a look, not for a renewal.
  expect(countedFromText(row('assumed', true), 'look')).toBe('');
  expect(of('assumed', true)).toBe('if never renewed: ');
});

test('what is overdue says by how much and who says so', () => {
  const overdue = {
    authority: 'A book',
    asks: 'renew' as const,
    since: { day: DAY + 2922, km: 120_000 },
    days: 731,
    km: 30_000,
    countedFrom: 'new' as const,
  };
  const said = (more: Partial<typeof overdue> | { countedFrom: 'believed' | 'known'; asks?: 'look' } = {}) =>
    overdueText(row('believed'), { ...overdue, ...more }, 'km').replaceAll('\u00a0', ' ');
  expect(said()).toBe('If never renewed: overdue by 2 years, 30,000 km (A book).');
  expect(said({ countedFrom: 'believed' })).toBe(
    'If it was renewed about 2 May 2010: overdue by 2 years, 30,000 km (A book).',
  );
  expect(said({ countedFrom: 'known', asks: 'look' })).toBe('A look is overdue by 2 years, 30,000 km (A book).');
});
