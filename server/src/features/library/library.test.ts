import {
  answerRows,
  pack,
  type AnswerRow,
  type LibraryAuthority,
  type LibraryComponent,
  type LibraryFamily,
  type LibraryPoint,
  type LibraryPointRow,
  type LookupAnswer,
  type PackInput,
} from '@crosspeen/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadPack } from '../../app.ts';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { LibraryService } from '../../knowledge/library.ts';
import { spellings } from '../../knowledge/family.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn();
});
afterAll(() => t.close());

const harbour = (): PackInput =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../../demo/packs/harbour.json'), 'utf8')) as PackInput;
const load = (changed: PackInput) => t.services.source.transaction((manager) => loadPack(manager, pack.parse(changed)));
const rows = async (): Promise<AnswerRow[]> =>
  answerRows((await client.get('/api/lookup?line=K425N+180k+2003')).json<LookupAnswer>().answer!);
const counts = async () =>
  (
    await t.services.source.query<unknown[]>(
      `select (select count(*) from weak_point) w, (select count(*) from statement) s, (select count(*) from part) p,
          (select count(*) from engine_variant) v`,
    )
  )[0];

test('loading the same pack again changes nothing', async () => {
  const before = await counts();
  const answer = await rows();
  await load(harbour());
  expect(await counts()).toEqual(before);
  expect(await rows()).toEqual(answer);
});

test('a changed weak point is answered anew at once, although families are remembered', async () => {
  const before = (await rows()).find(({ key }) => key === 'k425n-knock')!;
  const changed = harbour();
  const point = changed.families
    .find(({ key }) => key === 'k425n')!
    .weakPoints!.find(({ key }) => key === 'k425n-knock')!;
  point.title = 'Knock sensor cracks, second edition';
  point.share = 'nearly all';
  await load(changed);
  const after = (await rows()).find(({ key }) => key === 'k425n-knock')!;
  expect(after).toMatchObject({ title: 'Knock sensor cracks, second edition', share: 0.95 });
  expect(after.chance).toBeGreaterThan(before.chance);
  await load(harbour());
});

test('any other writer is noticed too: the database counts its own changes', async () => {
  await rows();
  await t.services.source.query("update weak_point set title = 'Renamed by hand' where key = 'k425n-pump'");
  expect((await rows()).some(({ title }) => title === 'Renamed by hand')).toBe(true);
  await load(harbour());
});

test('a pack that breaks half-way leaves the library as it was', async () => {
  const before = await counts();
  const broken = pack.parse(harbour());
  broken.families[5]!.weakPoints[0]!.statements[0]!.authority = 'nobody';
  broken.families.push({ ...broken.families[0]!, key: 'another', code: 'QV20T', weakPoints: [] });
  await expect(t.services.source.transaction((manager) => loadPack(manager, broken))).rejects.toThrow();
  expect(await counts()).toEqual(before);
});

test('engines are listed by code with their variants, paged', async () => {
  const all = (await client.get('/api/engines?pageSize=100')).json<{
    total: number;
    rows: { engine: { code: string }; variants: unknown[] }[];
  }>();
  expect(all.total).toBe(6);
  expect(all.rows.map(({ engine }) => engine.code)).toEqual(['DN12W', 'K425N', 'K630C', 'OD420K', 'QV16B', 'QV20T']);
  expect(all.rows.every(({ variants }) => variants.length === 2)).toBe(true);
  expect(
    (await client.get('/api/engines?pageSize=2&page=3'))
      .json<{ rows: { engine: { code: string } }[] }>()
      .rows.map(({ engine }) => engine.code),
  ).toEqual(['QV16B', 'QV20T']);
});

describe('what stands on the shelf', () => {
  const page = async <Row>(path: string): Promise<{ total: number; rows: Row[] }> =>
    (await client.get(`/api/library/${path}`)).json();
  const nobody = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';

  test('who speaks, by name, a page at a time', async () => {
    const all = await page<LibraryAuthority>('authorities?pageSize=100');
    expect(all.rows.map(({ name }) => name)).toEqual(
      harbour()
        .authorities.map(({ name }) => name)
        .sort(),
    );
    expect(all.rows.find(({ kind }) => kind === 'regional_book')!.region).not.toBeNull();
    const second = await page<LibraryAuthority>('authorities?pageSize=2&page=2');
    expect(second).toEqual({ ...second, total: all.total, rows: all.rows.slice(2, 4) });
  });
  test('components, all or those that an engine has weak points of', async () => {
    const all = await page<LibraryComponent>('components?pageSize=100');
    expect(all.total).toBe(harbour().components.length);
    const own = await page<LibraryComponent>(`components?pageSize=100&familyId=${await t.family('K425N')}`);
    const wanted = new Set(
      harbour()
        .families.find(({ key }) => key === 'k425n')!
        .weakPoints!.map((one) => one.component),
    );
    expect(own.rows.map(({ name }) => name)).toEqual(
      harbour()
        .components.filter(({ key }) => wanted.has(key))
        .map(({ name }) => name)
        .sort(),
    );
    expect(own.total).toBe(wanted.size);
    expect((await page('components?familyId=' + nobody)).total).toBe(0);
  });
  test('an engine whole: its weak points in the library’s order, its variants with the vehicles that have them', async () => {
    const id = await t.family('OD420K');
    const told = harbour().families.find(({ key }) => key === 'od420k')!;
    await t.saveVehicle(client, { code: 'OD420K', firstRegistered: '2008-05-01', variantKey: 'manual-tensioner' });
    const family = (await client.get(`/api/library/families/${id}`)).json<LibraryFamily>();
    expect(family.engine).toMatchObject({ code: 'OD420K', maker: 'Osterlin' });
    expect(family.alsoWritten).toEqual(['OD 420', '420K']);
    expect(family.points.map(({ key }) => key)).toEqual(told.weakPoints!.map(({ key }) => key));
    expect(family.points.find(({ key }) => key === 'od420k-oil-cooler')!.appliesTo).toEqual({
      features: { 'side-cooler': true },
    });
    expect(family.variants.map(({ key, vehicles }) => [key, vehicles])).toEqual([
      ['manual-tensioner', 1],
      ['auto-tensioner', 0],
    ]);
    expect(family.features.map(({ key, share }) => [key, share])).toEqual([['side-cooler', 0.6]]);
    expect(family.operations).toHaveLength(told.operations!.length);
    expect((await client.get(`/api/library/families/${nobody}`)).json()).toMatchObject({ status: 404 });
  });
  test('weak points of one engine, of one group, of one state; what was superseded only where it is asked for', async () => {
    const familyId = await t.family('K425N');
    const keys = async (query: string): Promise<string[]> =>
      (await page<LibraryPointRow>(`points?pageSize=100&${query}`)).rows.map(({ key }) => key).sort();
    const told = harbour().families.find(({ key }) => key === 'k425n')!.weakPoints!;
    const own = told.map(({ key }) => key).sort();
    expect(await keys(`familyId=${familyId}`)).toEqual(own);
    const groups = new Map(harbour().components.map(({ key, group }) => [key, group]));
    expect(await keys(`familyId=${familyId}&group=cooling`)).toEqual(
      told
        .filter(({ component }) => groups.get(component) === 'cooling')
        .map(({ key }) => key)
        .sort(),
    );
    await t.services.source.query("update weak_point set state = 'superseded' where key = 'k425n-pump'");
    expect(await keys(`familyId=${familyId}`)).toEqual(own.filter((key) => key !== 'k425n-pump'));
    expect(await keys(`familyId=${familyId}&state=superseded`)).toEqual(['k425n-pump']);
    expect(await keys(`familyId=${familyId}&state=draft`)).toEqual([]);
    await t.services.source.query("update weak_point set state = 'published' where key = 'k425n-pump'");
  });
  test('the operations of a weak point in the order of the hands: what gives access first', async () => {
    const { rows: points } = await page<LibraryPointRow>('points?pageSize=100');
    let deep = 0;
    for (const { id } of points.slice(0, 40)) {
      const { operations } = (await client.get(`/api/library/points/${id}`)).json<LibraryPoint>();
      const at = new Map(operations.map(({ key }, i) => [key, i]));
      for (const { key, needs } of operations)
        for (const need of needs) {
          expect([key, need, at.get(need)! < at.get(key)!]).toEqual([key, need, true]);
          deep += 1;
        }
    }
    expect(deep).toBeGreaterThan(5);
  });
});

test('contiguous words may spell a code together, others not', () => {
  const compact = (text: string): string => text.toLowerCase();
  expect(spellings(['QV', '20', 'T'], compact)).toEqual(['qv', 'qv20', 'qv20t', '20', '20t']);
  expect(
    spellings(
      Array.from({ length: 50 }, (_, i) => `w${i}`),
      compact,
    ).length,
  ).toBeLessThanOrEqual(24);
});

describe('the database keeps the truth by itself', () => {
  const refused = (sql: string) => expect(t.services.source.query(sql)).rejects.toThrow(/violates/);
  const family = '(select id from engine_family limit 1)';
  test('a vehicle without plate and name', () =>
    refused(`insert into vehicle (family_id, odometer_unit, search_text) values (${family}, 'km', '')`));
  test('an odometer in furlongs', () =>
    refused(`insert into vehicle (plate, family_id, odometer_unit, search_text) values ('x', ${family}, 'fur', '')`));
  test('a variant of another engine', () =>
    refused(
      `insert into vehicle (plate, family_id, variant_key, odometer_unit, search_text)
        values ('x', (select id from engine_family where code = 'QV16B'), 'green-line', 'km', '')`,
    ));
  test('a negative reading', () =>
    refused(
      `insert into meter_reading (vehicle_id, day, km, user_id)
        values (gen_random_uuid(), '2026-01-01', -1, (select id from app_user limit 1))`,
    ));
  test('a renewal without a date', () =>
    refused(
      `insert into service_record (vehicle_id, component_id, certainty, grade, user_id)
        values (
          gen_random_uuid(), (select id from component limit 1), 'done', 'original', (select id from app_user limit 1)
        )`,
    ));
  test('a visit done without a day', () =>
    refused("insert into visit (vehicle_id, state, day, km) values (gen_random_uuid(), 'done', '2026-01-01', 1)"));
  test('a share above one', () => refused("update weak_point set share = 1.2 where key = 'k425n-pump'"));
  test('a variant produced backwards', () =>
    refused("update engine_variant set produced_from = '2020-01-01', produced_to = '2010-01-01'"));
});

test('what is remembered of an engine is forgotten when another database stands in the place, though it counts to the same revision', async () => {
  const familyId = await t.family('K425N');
  const library = new LibraryService();
  const title = async (): Promise<string> =>
    (await library.family(t.services.source.manager, familyId))!.weakPoints.find(({ key }) => key === 'k425n-pump')!
      .title;
  const before = await title();
  const [state] = await t.services.source.query<{ revision: number }[]>(
    'select revision from family_state where family_id = $1',
    [familyId],
  );
  await t.services.source.query("update weak_point set title = 'As another shop has it' where key = 'k425n-pump'");
  await t.services.source.query('update family_state set revision = $2 where family_id = $1', [
    familyId,
    state!.revision,
  ]);
  expect(await title()).toBe('As another shop has it');
  await t.services.source.query("update weak_point set title = $1 where key = 'k425n-pump'", [before]);
});
