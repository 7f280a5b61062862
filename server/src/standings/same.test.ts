import {
  answerRows,
  type PurchaseView,
  type VehicleListRow,
  type VehicleOutlook,
  type WalkView,
} from '@crosspeen/contract';
import { asksForWork, dayFromIso } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';

let t: TestApp;
let ruta: Client;
beforeAll(async () => {
  t = await testApp();
  ruta = await t.signIn('ruta');
});
afterAll(() => t.close());

/** Engines of the demo, a belt and all behind it among them, at readings where something is asked for. */
const VEHICLES = [
  { code: 'QV16B', km: 165_000, firstRegistered: '2011-05-01' },
  { code: 'QV16B', km: 60_000, firstRegistered: '2020-05-01' },
  { code: 'QV20T', km: 148_000, firstRegistered: '2014-05-01' },
  { code: 'OD420K', km: 300_000, firstRegistered: '2012-05-01' },
  { code: 'DN12W', km: 120_000, firstRegistered: '2016-05-01' },
  { code: 'DN12W', km: 200_000, firstRegistered: '2012-05-01' },
  { code: 'QV16B', km: 250_000, firstRegistered: '2010-05-01' },
  { code: 'K425N', km: 250_000, firstRegistered: '2008-05-01' },
  { code: 'K425N', km: 90_000, firstRegistered: '2016-05-01' },
  { code: 'QV20T', km: 20_000, firstRegistered: '2025-05-01' },
  { code: 'OD420K', km: 160_000, firstRegistered: '2015-05-01' },
  { code: 'OD420K', km: 60_000, firstRegistered: '2021-05-01' },
] as const;

const linesOf = (csv: string): string[] =>
  csv
    .replace(/^\uFEFF/, '')
    .trim()
    .split('\r\n');

test.each(VEHICLES)('$code at $km km: every screen says the same of every part', async (told) => {
  const id = await t.saveVehicle(ruta, told);
  const get = async <T>(path: string): Promise<T> => (await ruta.get(path)).json<T>();
  const { answer } = await get<VehicleOutlook>(`/api/vehicles/${id}/outlook`);
  const rows = answerRows(answer);
  const verdictOf = new Map(rows.map((row) => [row.weakPointId as string, row]));

  // The list, and what leaves as a file.
  const { rows: listed } = await get<{ rows: VehicleListRow[] }>('/api/vehicles?pageSize=100');
  const standing = listed.find((row) => row.id === id)!;
  const worst = rows.find(({ verdict }) => verdict !== 'behind_it')!;
  expect(standing.pressing).toMatchObject({ title: worst.title, verdict: worst.verdict, chance: worst.chance });
  expect(standing.pressing!.others).toBe(Math.max(0, rows.filter(({ verdict }) => asksForWork(verdict)).length - 1));
  const file = linesOf((await ruta.get('/api/lists/vehicles.csv')).body);
  expect(file.find((line) => line.includes(standing.plate!))).toContain(worst.title);

  // The walk looks at nothing that is behind it, and says of each part what the answer says.
  const walk = await get<WalkView>(`/api/vehicles/${id}/walk`);
  for (const step of walk.steps) {
    if (step.kind !== 'point') continue;
    const row = verdictOf.get(step.key.slice('point:'.length))!;
    expect([step.verdict, step.why, step.chance]).toEqual([row.verdict, row.reason, row.chance]);
  }
  const looked = new Set(walk.steps.map(({ key }) => key));
  for (const row of rows) if (row.verdict === 'look') expect(looked.has(`point:${row.weakPointId}`)).toBe(true);

  // Before a purchase the same vehicle without a history: what is asked for is on the sheet, nothing else is renewed.
  const line = `${told.code} ${told.km / 1000}k ${told.firstRegistered.slice(0, 4)}`;
  const bought = (await get<{ answer: VehicleOutlook['answer'] }>(`/api/lookup?line=${encodeURIComponent(line)}`))
    .answer;
  const sheet = await get<PurchaseView>(`/api/lookup/purchase?line=${encodeURIComponent(line)}`);
  const until = sheet.today + sheet.months * 30.4375;
  for (const row of answerRows(bought)) {
    const job = sheet.jobs.find(({ weakPointId }) => weakPointId === row.weakPointId);
    if (job !== undefined) expect([job.verdict, job.reason]).toEqual([row.verdict, row.reason]);
    if (row.verdict === 'hold' || row.verdict === 'renew' || row.verdict === 'ride_along')
      expect([row.key, job?.kind]).toEqual([row.key, 'renew']);
    if (row.verdict === 'look' && row.due!.day < until) expect([row.key, job === undefined]).toEqual([row.key, false]);
    if (row.verdict === 'behind_it') expect(job).toBeUndefined();
  }
  expect(dayFromIso(standing.pressing!.asOf)).toBe(answer.today);
});
