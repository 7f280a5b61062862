import type { Changed } from '@crosspeen/contract';
import { MODEL_VERSION } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';
import { LibraryService } from '../knowledge/library.ts';
import { readSettings } from '../ledger/settings.ts';
import { judgeAndSave, judgeNext, markBehind, type Ground } from './batch.ts';

let t: TestApp;
let owner: Client;
const ids: string[] = [];
const library = new LibraryService();
const FROM_THE_FIRST = '00000000-0000-0000-0000-000000000000';
const ground = async (): Promise<Ground> => ({
  settings: await readSettings(t.services.source.manager),
  today: t.services.clock.today(),
});
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn();
  for (let i = 0; i < 4; i += 1) {
    const made = (
      await owner.send('POST', '/api/vehicles', {
        plate: `BA ${i}`,
        name: null,
        model: null,
        familyId: await t.family(i < 3 ? 'QV20T' : 'QV16B'),
        variantKey: null,
        firstRegistered: '2013-05-01',
        odometerUnit: 'km',
        severity: 1,
        note: null,
        reading: { day: '2026-11-01', km: 90_000 + 20_000 * i },
      })
    ).json<Changed>();
    ids.push(made.id);
  }
  await t.services.judging.run('test');
});
afterAll(() => t.close());

interface Row {
  readonly weak_point_id: string;
  readonly verdict: string;
  readonly chance: number;
  readonly due_day: string | null;
  readonly consequence: string;
  readonly ctid: string;
}
const rowsOf = (id: string) =>
  t.services.source.query<Row[]>(
    `select weak_point_id, verdict, chance, due_day, consequence, ctid::text
      from judgement
      where vehicle_id = $1
      order by weak_point_id`,
    [id],
  );
const bare = (rows: readonly Row[]) => rows.map(({ ctid: _place, ...row }) => row);
const judge = async (vehicles: readonly string[]) =>
  t.services.source.transaction(async (manager) =>
    judgeAndSave(manager, { library, ground: await ground(), knowing: t.services.source.manager }, vehicles),
  );

test('judged again with nothing changed, no row is written', async () => {
  const before = await Promise.all(ids.map(rowsOf));
  await judge(ids);
  expect(await Promise.all(ids.map(rowsOf))).toEqual(before);
});

test('in one batch: a row that differs is changed, one that is missing added, one that no longer applies taken out, the rest left where they are', async () => {
  const [id] = ids as [string];
  const before = await rowsOf(id);
  const other = await t.services.source.query<{ id: string }[]>(
    "select w.id from weak_point w join engine_family f on f.id = w.family_id where f.code = 'OD420K' limit 1",
  );
  const [changed, missing] = before as [Row, Row];
  await t.services.source.query(
    `update judgement
      set chance = 0.123, verdict = 'hold', due_day = null
      where vehicle_id = $1 and weak_point_id = $2`,
    [id, changed.weak_point_id],
  );
  await t.services.source.query('delete from judgement where vehicle_id = $1 and weak_point_id = $2', [
    id,
    missing.weak_point_id,
  ]);
  await t.services.source.query(
    `insert into judgement (vehicle_id, weak_point_id, consequence, verdict, chance)
      values ($1, $2, 'leak', 'look', 0.5)`,
    [id, other[0]!.id],
  );
  const neighbours = await Promise.all(ids.slice(1).map(rowsOf));
  await judge(ids);
  const after = await rowsOf(id);
  expect(bare(after)).toEqual(bare(before));
  const untouched = new Set([changed.weak_point_id, missing.weak_point_id]);
  expect(after.filter((row) => !untouched.has(row.weak_point_id)).map(({ ctid }) => ctid)).toEqual(
    before.filter((row) => !untouched.has(row.weak_point_id)).map(({ ctid }) => ctid),
  );
  expect(await Promise.all(ids.slice(1).map(rowsOf))).toEqual(neighbours);
});

test('a weak point that is superseded leaves its rows behind only until the next round, and comes back when it is published again', async () => {
  const point = await t.point('qv20t-thermostat');
  const having = async (): Promise<number> =>
    (await Promise.all(ids.map(rowsOf))).flat().filter((row) => row.weak_point_id === point).length;
  expect(await having()).toBe(3);
  await t.services.source.query("update weak_point set state = 'superseded' where id = $1", [point]);
  await t.services.judging.run('superseded');
  expect(await having()).toBe(0);
  await t.services.source.query("update weak_point set state = 'published' where id = $1", [point]);
  await t.services.judging.run('published');
  expect(await having()).toBe(3);
});

test('the line in the list is the worst of the rows, with how many others ask for work, and stamped with all it was made of', async () => {
  for (const id of ids) {
    const rows = await rowsOf(id);
    const [standing] = await t.services.source.query<
      {
        verdict: string;
        chance: number;
        most_chance: number;
        others: number;
        as_of: string;
        model_version: number;
        settings_version: number;
        family_revision: number;
      }[]
    >('select * from vehicle_standing where vehicle_id = $1', [id]);
    const asking = rows.filter(({ verdict }) => ['hold', 'renew', 'look'].includes(verdict)).length;
    expect(standing!.others).toBe(Math.max(0, asking - 1));
    expect(standing!.most_chance).toBeCloseTo(
      Math.max(...rows.filter(({ verdict }) => verdict !== 'behind_it').map(({ chance }) => chance)),
      12,
    );
    expect(standing).toMatchObject({
      as_of: '2026-11-24',
      model_version: MODEL_VERSION,
      settings_version: (await ground()).settings.version,
    });
    expect(standing!.family_revision).toBe(
      (
        await t.services.source.query<{ revision: number }[]>(
          'select s.revision from family_state s join vehicle v on v.family_id = s.family_id where v.id = $1',
          [id],
        )
      )[0]!.revision,
    );
  }
});

test('rows that another process holds are passed over, and taken up when it has let go', async () => {
  await t.services.source.query("update vehicle_standing set as_of = '2026-01-01' where vehicle_id = any($1::uuid[])", [
    ids,
  ]);
  const first = [...ids].sort()[0]!;
  const holder = t.services.source.createQueryRunner();
  await holder.startTransaction();
  await holder.query('select 1 from vehicle_standing where vehicle_id = $1 for update', [first]);
  const round = await judgeNext(
    t.services.source,
    { library, ground: await ground() },
    { size: 10, after: FROM_THE_FIRST },
  ).finally(async () => {
    await holder.rollbackTransaction();
    await holder.release();
  });
  expect(round.count).toBe(3);
  expect(
    await judgeNext(t.services.source, { library, ground: await ground() }, { size: 10, after: FROM_THE_FIRST }),
  ).toEqual({ count: 1, last: first });
  expect(
    (await judgeNext(t.services.source, { library, ground: await ground() }, { size: 10, after: FROM_THE_FIRST }))
      .count,
  ).toBe(0);
});

test('a batch goes on after the last one it did, in the order of ids', async () => {
  await t.services.source.query("update vehicle_standing set as_of = '2026-01-01' where vehicle_id = any($1::uuid[])", [
    ids,
  ]);
  const sorted = [...ids].sort();
  const one = await judgeNext(
    t.services.source,
    { library, ground: await ground() },
    { size: 2, after: FROM_THE_FIRST },
  );
  expect(one).toEqual({ count: 2, last: sorted[1] });
  expect(await judgeNext(t.services.source, { library, ground: await ground() }, { size: 2, after: one.last })).toEqual(
    { count: 2, last: sorted[3] },
  );
});

test('a failure on the way writes neither a standing nor a row', async () => {
  const [id] = ids as [string];
  await markBehind(t.services.source.manager, [id]);
  const before = [
    await rowsOf(id),
    await t.services.source.query('select * from vehicle_standing where vehicle_id = $1', [id]),
  ];
  await t.services.source.query('update judgement set chance = chance where vehicle_id = $1', [ids[1]]);
  await t.services.source.query(
    "alter table judgement add constraint no_more check (vehicle_id <> '" + id + "') not valid",
  );
  await t.services.source.query('delete from judgement where vehicle_id = $1 and weak_point_id = $2', [
    id,
    (before[0] as Row[])[0]!.weak_point_id,
  ]);
  const missing = await rowsOf(id);
  await expect(judge([id])).rejects.toThrow(/no_more/);
  expect([
    await rowsOf(id),
    await t.services.source.query('select * from vehicle_standing where vehicle_id = $1', [id]),
  ]).toEqual([missing, before[1]]);
  await t.services.source.query('alter table judgement drop constraint no_more');
  await judge([id]);
  expect(bare(await rowsOf(id))).toEqual(bare(before[0] as Row[]));
});

test('a vehicle taken back loses its judgement; one marked as changed is behind at once', async () => {
  const id = ids.pop()!;
  await t.services.source.query('update vehicle set retracted_at = now() where id = $1', [id]);
  await judge([id]);
  expect(await rowsOf(id)).toEqual([]);
  expect(await t.services.source.query('select 1 from vehicle_standing where vehicle_id = $1', [id])).toEqual([]);
  await markBehind(t.services.source.manager, [id, ids[0]!]);
  expect(
    await t.services.source.query('select vehicle_id, model_version from vehicle_standing where model_version = 0'),
  ).toEqual([{ vehicle_id: ids[0], model_version: 0 }]);
});
