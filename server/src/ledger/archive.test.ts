import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { gunzipSync, gzipSync } from 'node:zlib';
import sharp from 'sharp';
import { testApp, type TestApp } from '../testing/harness.ts';
import { Problem } from '../platform/problem.ts';
import { exportArchive, importArchive, schemaOfArchive } from './archive.ts';

let from: TestApp;
let to: TestApp;
let archive: Buffer;
beforeAll(async () => {
  [from, to] = [await testApp(), await testApp()];
  const owner = await from.signIn('ruta');
  const familyId = await from.family('QV20T');
  const vehicle = (
    await owner.send('POST', '/api/vehicles', {
      plate: 'AR 1',
      name: null,
      model: 'Corrow',
      familyId,
      variantKey: null,
      firstRegistered: '2013-01-01',
      odometerUnit: 'km',
      severity: 1,
      note: 'Ünïcode “and” \\ quotes',
      reading: { day: '2026-01-01', km: 90_000.123456789 },
    })
  ).json<{ id: string }>();
  // More photos than are read and written at once.
  for (let i = 0; i < 23; i += 1)
    await owner.send(
      'PUT',
      `/api/photos/${randomUUID()}?vehicleId=${vehicle.id}&day=2026-11-24`,
      await sharp({ create: { width: 40 + i, height: 30, channels: 3, background: '#446688' } })
        .png()
        .toBuffer(),
      { 'content-type': 'image/png' },
    );
  const weakPointId = await from.point('qv20t-thermostat');
  const finding = (
    await owner.send('POST', `/api/vehicles/${vehicle.id}/findings`, {
      weakPointId,
      day: '2026-02-01',
      result: 'failed',
      note: null,
    })
  ).json<{ changeId: string }>();
  await owner.send('POST', `/api/vehicles/${vehicle.id}/visits`, {
    day: '2026-12-10',
    km: null,
    note: null,
    jobs: [{ weakPointId, action: 'renew' }],
  });
  // An undo refers to another row of its own table; so does a weak point that superseded another.
  await owner.send('POST', `/api/changes/${finding.changeId}/undo`, {});
  await from.services.source.query(
    `update weak_point
      set state = 'superseded', superseded_by = (select id from weak_point where key = 'qv20t-pump')
      where key = 'qv20t-coil'`,
  );
  archive = await buffer(await exportArchive(from.services.source, '2026-11-24T00:00:00Z'));
});
afterAll(async () => {
  await from.close();
  await to.close();
});

const lines = (file: Buffer): string[] => gunzipSync(file).toString('utf8').trimEnd().split('\n');
const take = (file: Buffer): Promise<unknown> => importArchive(to.services.source, Readable.from([file]));
const packed = (text: readonly string[]): Buffer => gzipSync(`${text.join('\n')}\n`);
const vehicles = async (): Promise<unknown[]> => to.services.source.query<unknown[]>('select plate from vehicle');

test('what goes out comes in as it was, row for row, and goes out again the same', async () => {
  const rows = (await take(archive)) as Record<string, number>;
  expect(rows).toMatchObject({ vehicle: 1, app_user: 3, photo: 23, photo_file: 23 });
  const again = await buffer(await exportArchive(to.services.source, '2026-11-24T00:00:00Z'));
  expect(lines(again)).toEqual(lines(archive));
  expect(lines(archive).some((line) => line.includes('"table":"session"'))).toBe(false);
});

test('life goes on there: numbers do not collide, what is known counts on, undo still works', async () => {
  const owner = await to.signIn('ruta');
  const [vehicle] = await to.services.source.query<{ id: string }[]>('select id from vehicle');
  const done = (
    await owner.send('POST', `/api/vehicles/${vehicle!.id}/readings`, { day: '2026-11-01', km: 99_000 })
  ).json<{ changeId: string }>();
  expect((await owner.send('POST', `/api/changes/${done.changeId}/undo`, {})).statusCode).toBe(200);
  const before = await to.services.source.query<unknown[]>('select sum(revision) from family_state');
  await to.services.source.query("update weak_point set share = 0.3 where key = 'qv20t-pump'");
  expect(await to.services.source.query<unknown[]>('select sum(revision) from family_state')).not.toEqual(before);
});

test.each<[string, () => Buffer, RegExp]>([
  ['no archive at all', () => Buffer.from('plate,km\n'), /no archive/],
  ['cut short', () => archive.subarray(0, archive.length - 40), /cut short/],
  ['without its end', () => packed(lines(archive).slice(0, -1)), /ends before its end/],
  ['altered', () => packed(lines(archive).map((line) => line.replace('AR 1', 'AR 2'))), /was altered/],
  ['another program’s', () => packed(['{"format":"other"}']), /does not say/],
  [
    'another version’s',
    () => packed([lines(archive)[0]!.replace(/"schema":"[^"]*"/, '"schema":"Older1"')]),
    /another version \(Older1\)/,
  ],
  ['a line that is nothing', () => packed([lines(archive)[0]!, 'null']), /line 2: it is no row/],
  ['a line that is a word', () => packed([lines(archive)[0]!, '"row"']), /line 2: it is no row/],
  ['a row that is nothing', () => packed([lines(archive)[0]!, '{"table":"vehicle","row":null}']), /no table and row/],
  ['a row that is a word', () => packed([lines(archive)[0]!, '{"table":"vehicle","row":"x"}']), /no table and row/],
  ['a row of no table', () => packed([lines(archive)[0]!, '{"row":{}}']), /no table and row/],
  ['what is no archive', () => packed(['{"format":"a-list"}']), /does not say that it is a Crosspeen archive/],
  ['a line that is no JSON', () => packed([lines(archive)[0]!, '{oops']), /line 2: it is no JSON/],
  ['a table nobody has', () => packed([lines(archive)[0]!, '{"table":"secrets","row":{}}']), /no table “secrets”/],
  [
    'a small file that unpacks to one endless line',
    () => gzipSync(Buffer.alloc(60_000_000, 97)),
    /longer than any row/,
  ],
  [
    'with another count of rows',
    () => packed(lines(archive).map((line) => line.replace(/"rows":\{"([a-z_]+)":(\d+)/, '"rows":{"$1":1$2'))),
    /counts other rows/,
  ],
  ['a row twice', () => packed([...lines(archive).slice(0, 30), ...lines(archive).slice(29)]), /do not fit together/],
  ['something after the end', () => packed([...lines(archive), '{}']), /after the end/],
])('%s is refused, and nothing is written', async (_name, file, words) => {
  const before = await vehicles();
  await expect(take(file())).rejects.toThrow(words);
  expect(await vehicles()).toEqual(before);
});

test.each<[string, () => Buffer]>([
  ['a dump of PostgreSQL', () => Buffer.from('PGDMP\u0001\u000e')],
  ['a compressed script', () => gzipSync('drop table vehicle;\n')],
  ['another program’s lines', () => gzipSync('{"format":"other","schema":"Desk1766100000000"}\n')],
  ['an empty file', () => Buffer.alloc(0)],
])('%s has no schema of ours', async (_name, file) => {
  await expect(schemaOfArchive(Readable.from([file()]))).rejects.toBeInstanceOf(Problem);
});

test('only the owner saves everything', async () => {
  const mechanic = await from.signIn('tove');
  expect((await mechanic.get('/api/archive')).statusCode).toBe(403);
  const owner = await from.signIn('ruta');
  const response = await owner.get('/api/archive');
  expect(response.headers['content-disposition']).toContain('.jsonl.gz');
  expect(lines(response.rawPayload).slice(1, -1)).toEqual(lines(archive).slice(1, -1));
});
