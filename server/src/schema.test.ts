import { buffer } from 'node:stream/consumers';
import { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';
import { exportArchive, fillAtSchema, importArchive, openDatabase, schemaOfArchive } from './app.ts';
import { migrations } from './migrations/index.ts';
import { trialGround } from './store/trial.ts';
import { testApp } from './testing/harness.ts';

const url = (source: DataSource): string => (source.options as { url: string }).url;

test('servers that start at once on an empty database all come up, and one makes the schema', async () => {
  const t = await testApp();
  const ground = (await trialGround(url(t.services.source)))!;
  try {
    for (let round = 0; round < 3; round += 1) {
      await ground.source.query('drop schema public cascade');
      await ground.source.query('create schema public');
      const trial = url(ground.source);
      const opened = await Promise.all([1, 2, 3].map(() => openDatabase(trial)));
      const [counted] = await opened[0]!.query<[{ n: number }]>('select count(*) as n from migrations');
      expect(counted.n).toBe((await migrations()).length);
      for (const one of opened) await one.destroy();
    }
  } finally {
    await ground.drop();
    await t.close();
  }
});

test('an archive of an earlier version is read at its schema and brought up to date', async () => {
  const t = await testApp();
  const ground = (await trialGround(url(t.services.source)))!;
  const base = url(ground.source);
  const clear = () => ground.source.query('drop schema public cascade; create schema public');
  try {
    await clear();
    const earlier = await fillAtSchema(base, 'Baseline1766000000000', async (source) => {
      await source.query("insert into app_user (name, display_name, role) values ('per', 'Per', 'owner')");
      return buffer(await exportArchive(source, '2026-01-01T00:00:00Z'));
    });
    expect(await schemaOfArchive(Readable.from([earlier]))).toBe('Baseline1766000000000');
    await expect(importArchive(t.services.source, Readable.from([earlier]))).rejects.toThrow(/another version/);
    await clear();
    await fillAtSchema(base, 'Baseline1766000000000', (source) => importArchive(source, Readable.from([earlier])));
    expect(await ground.source.query('select name from app_user')).toEqual([{ name: 'per' }]);
    const names = (source: DataSource) => source.query('select name from migrations order by id');
    expect(await names(ground.source)).toEqual(await names(t.services.source));
  } finally {
    await ground.drop();
    await t.close();
  }
});
