import type { BackupPicture } from '@crosspeen/contract';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { gunzipSync } from 'node:zlib';
import type { EntityManager } from 'typeorm';
import { shopClock } from '../../app.ts';
import { importArchive } from '../../ledger/archive.ts';
import { trialGround } from '../../store/trial.ts';
import { testApp, type TestApp } from '../../testing/harness.ts';
import { BackupService, type BackupPlace } from './service.ts';

let t: TestApp;
let folder: string;
let at: number;
let ruta: string;
beforeEach(async () => {
  t = await testApp();
  folder = mkdtempSync(join(tmpdir(), 'crosspeen-backups-'));
  at = Date.parse('2026-11-24T12:00:00Z');
  ruta = (await t.services.people.list()).find(({ name }) => name === 'ruta')!.id;
  await t.services.people.add(ruta, { name: 'per', displayName: 'Per', role: 'mechanic' });
});
afterEach(async () => {
  await t.close();
  rmSync(folder, { recursive: true, force: true });
});

const urlOf = (): string => (t.services.source.options as { url: string }).url;
const service = (place: Partial<BackupPlace> = {}): BackupService => {
  const wall = shopClock('2026-11-24');
  return new BackupService({
    source: t.services.source,
    settings: t.services.settings,
    clock: { ...wall, now: () => new Date(at) },
    place: { folder, trial: () => trialGround(urlOf()), ...place },
  });
};
const made = async (backups: BackupService): Promise<BackupPicture> => {
  await backups.runNow(ruta);
  await backups.idle();
  return (await backups.picture())!;
};
const HOUR = 3_600_000;

test('a backup is read back into an empty database, and is the same row for row', async () => {
  const { rows, lastGood } = await made(service());
  expect(rows).toMatchObject([{ state: 'good', checked: 'restored', reason: null }]);
  const file = join(folder, lastGood!.file!);
  expect(readdirSync(folder)).toEqual([lastGood!.file]);
  expect(statSync(file).mode & 0o777).toBe(0o600);
  expect(statSync(file).size).toBe(lastGood!.bytes);
  const ground = (await trialGround(urlOf()))!;
  try {
    await importArchive(ground.source, Readable.from([readFileSync(file)]));
    const rowsOf = (table: string, source = t.services.source) =>
      source.query<unknown[]>(`select to_jsonb(x) as row from ${table} x order by x::text`);
    let counted = 0;
    for (const line of gunzipSync(readFileSync(file)).toString().trimEnd().split('\n').slice(-1)) {
      for (const table of Object.keys((JSON.parse(line) as { rows: object }).rows)) {
        const [here, there] = [await rowsOf(table), await rowsOf(table, ground.source)];
        expect([table, there]).toEqual([table, here]);
        counted += here.length;
      }
    }
    expect(counted).toBe(lastGood!.rows);
  } finally {
    await ground.drop();
  }
  const left = await t.services.source.query<{ n: number }[]>(
    "select count(*) as n from pg_database where datname like '%\\_trial'",
  );
  expect(Number(left[0]!.n)).toBe(0);
});

test('where no database can be made it is read to its end, and says so', async () => {
  const { rows } = await made(service({ trial: () => Promise.resolve(null) }));
  expect(rows).toMatchObject([{ state: 'good', checked: 'read' }]);
});

test('what cannot be written fails with its reason, leaves nothing behind, and is tried again later', async () => {
  const backups = service({ folder: '/dev/null/here' });
  const { rows, lastGood } = await made(backups);
  expect(rows).toMatchObject([
    { state: 'failed', file: null, reason: expect.stringMatching(/ENOTDIR|EEXIST/) as string },
  ]);
  expect(lastGood).toBeNull();
  at += 0.5 * HOUR;
  await backups.runIfDue();
  await backups.idle();
  expect((await backups.picture())!.rows).toHaveLength(1);
  at += HOUR;
  await backups.runIfDue();
  await backups.idle();
  expect((await backups.picture())!.rows).toHaveLength(2);
});

test('what does not come back as it was is no backup', async () => {
  const trial: BackupPlace['trial'] = async () => {
    const ground = (await trialGround(urlOf()))!;
    const { source } = ground;
    const whole = source.transaction.bind(source) as (work: (manager: EntityManager) => Promise<unknown>) => unknown;
    // Somebody lays hands on it between reading it in and comparing.
    Object.assign(source, {
      transaction: async (work: (manager: EntityManager) => Promise<unknown>) => {
        const done = await whole(work);
        await source.query("update app_user set display_name = 'Somebody' where name = 'per'");
        return done;
      },
    });
    return ground;
  };
  const { rows } = await made(service({ trial }));
  expect(rows[0]).toMatchObject({
    state: 'failed',
    reason: expect.stringMatching(/not what had been saved/) as string,
  });
  expect(readdirSync(folder)).toEqual([]);
});

test('it is due once a day, when its time has come', async () => {
  const backups = service();
  const count = async (): Promise<number> => {
    await backups.runIfDue();
    await backups.idle();
    return (await backups.picture())!.rows.length;
  };
  // The first at once, whatever the time.
  expect(await count()).toBe(1);
  at = Date.parse('2026-11-25T02:29:00Z');
  expect(await count()).toBe(1);
  at = Date.parse('2026-11-25T02:31:00Z');
  expect(await count()).toBe(2);
  expect(await count()).toBe(2);
  at = Date.parse('2026-11-25T23:59:00Z');
  expect(await count()).toBe(2);
  at = Date.parse('2026-11-27T01:00:00Z');
  expect(await count()).toBe(3);
});

test('as many are kept as the settings say; what is not ours stays', async () => {
  const owner = await t.signIn('ruta');
  const settings = (await owner.get('/api/settings')).json<object>();
  await owner.send('PUT', '/api/settings', { ...settings, backupsKept: 2 });
  writeFileSync(join(folder, 'crosspeen-notes.txt'), 'mine');
  const backups = service();
  for (let i = 0; i < 4; i += 1) {
    at += HOUR;
    await made(backups);
  }
  const files = readdirSync(folder).filter((name) => name.endsWith('.gz'));
  const { rows } = (await backups.picture())!;
  expect(files.sort()).toEqual(rows.map(({ file }) => file).sort());
  expect(files).toHaveLength(2);
  expect(existsSync(join(folder, 'crosspeen-notes.txt'))).toBe(true);
});

test('one is made at a time, by one process of several, and the other says who is at it', async () => {
  const [a, b] = [service(), service()];
  await a.runNow(ruta);
  await expect(b.runNow(ruta)).rejects.toThrow(/^Ruta began a backup at 12:00/);
  await a.idle();
});

test('what a killed process left is cleared as soon as it is gone, its row and its file', async () => {
  await t.services.source.query("insert into backup_run (state, begun_at, touched_at) values ('running', $1, $1)", [
    new Date(at - 60_000),
  ]);
  writeFileSync(join(folder, 'crosspeen-20261124-115900-1.jsonl.gz.part'), 'half of it');
  const { rows } = await made(service());
  expect(rows.map(({ state }) => state)).toEqual(['good', 'failed']);
  expect(readdirSync(folder)).toEqual([rows[0]!.file]);
});

test('a backup that a fast clock has dated into the future neither hides the next ones nor keeps them away', async () => {
  const backups = service();
  at = Date.parse('2199-01-01T12:00:00Z');
  await made(backups);
  at = Date.parse('2026-11-24T12:00:00Z');
  await backups.runIfDue();
  await backups.idle();
  const { rows, lastGood } = (await backups.picture())!;
  expect(rows.map(({ begunAt }) => begunAt.slice(0, 4))).toEqual(['2026', '2199']);
  expect(lastGood!.begunAt).toContain('2026');
});

test('two days without a good one are too many', async () => {
  const backups = service();
  await made(backups);
  expect((await backups.picture())!.old).toBe(false);
  at += 49 * HOUR;
  expect((await backups.picture())!.old).toBe(true);
});

test('the folder is looked after by the server’s user alone', async () => {
  const inner = join(folder, 'inner');
  await made(service({ folder: inner }));
  expect(statSync(inner).mode & 0o777).toBe(0o700);
});
