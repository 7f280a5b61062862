import { dayFromIso, mayBeMade } from '@crosspeen/core';
import { testApp, type TestApp } from '../testing/harness.ts';
import { mayBeMadeSql } from './production.ts';

let t: TestApp;
beforeAll(async () => {
  t = await testApp();
});
afterAll(() => t.close());

test('the condition in SQL says what the core says, for every pair of dates around a registration', async () => {
  const days = [null, '2017-10-29', '2017-10-30', '2017-10-31', '2018-04-30', '2018-05-01', '2018-05-02'];
  const rows = await t.services.source.query<{ registered: string; from: string; to: string; may: boolean }[]>(
    `select r as registered, f as "from", u as "to", ${mayBeMadeSql('r', 'f', 'u')} as may
      from unnest($1::date[]) r, unnest($1::date[]) f, unnest($1::date[]) u`,
    [days],
  );
  expect(rows).toHaveLength(days.length ** 3);
  const day = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso)!);
  expect(
    rows.filter(({ registered, from, to, may }) => may !== mayBeMade(day(registered), day(from), day(to))),
  ).toEqual([]);
});
