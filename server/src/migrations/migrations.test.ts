import { readdirSync } from 'node:fs';
import { DataSource } from 'typeorm';
import { buildServices, openDatabase, shopClock } from '../app.ts';
import { comingVisits } from '../lists/visits.ts';
import { NOW, ownDatabase, testApp } from '../testing/harness.ts';
import { Start1764000000000 } from './1764000000000-start.ts';
import { MIGRATIONS } from './index.ts';

/**
 * A workshop as it stood when the schema was first written: one vehicle with a reading, a renewal, two looks, and a
 * trail.
 */
const FIRST_ROWS = `
  insert into setting (id, "values")
  values (1, '{"workshopName": "The old shed", "distanceUnit": "mi", "limits": {"engine": 0.05}}');
  insert into app_user (id, name, display_name, role, password_hash)
  values ('00000000-0000-4000-8000-000000000001', 'old', 'Old hand', 'owner', 'x');
  insert into maker (id, key, name) values ('00000000-0000-4000-8000-000000000002', 'm', 'Maker');
  insert into authority (id, key, kind, name)
  values ('00000000-0000-4000-8000-000000000003', 'book', 'book', 'The book');
  insert into component (id, key, name, class, grp)
  values ('00000000-0000-4000-8000-000000000004', 'pump', 'Water pump', 'bearing', 'cooling');
  insert into engine_family (
    id, key, maker_id, code, code_key, name, displacement_l, fuel, aspiration, timing_drive, interference, search_text
  )
    values (
      '00000000-0000-4000-8000-000000000005', 'f', '00000000-0000-4000-8000-000000000002', 'AA10', 'aa10',
        'one litre', 1, 'petrol', 'natural', 'belt', true, 'maker aa10'
    );
  insert into weak_point (
    id, key, family_id, component_id, title, consequence, safety, effect, signs, share, causes, look, renew_minutes,
      applies_to, position
  )
    values ('00000000-0000-4000-8000-000000000006', 'aa10-pump', '00000000-0000-4000-8000-000000000005', '00000000-0000-4000-8000-000000000004', 'Pump weeps', 'leak', false, 'e', 's', 0.5, '[[{"clock": "distance", "from": 90000, "to": 160000}]]',
      '{"how": "with a lamp", "minutes": 10, "detection": 0.7, "falseAlarm": 0.02, "warning": [{"clock": "distance", "from": 8000, "to": 8000}]}',
        60, '{}', 0);
  insert into statement (weak_point_id, authority_id, words, "interval", position)
  values (
    '00000000-0000-4000-8000-000000000006', '00000000-0000-4000-8000-000000000003', 'Renew it.',
      '[{"clock": "distance", "from": 120000, "to": 120000}]', 0
  );
  insert into vehicle (id, plate, plate_key, model, family_id, first_registered, odometer_unit, search_text)
  values (
    '00000000-0000-4000-8000-000000000007', 'OLD 1', 'old1', 'Model', '00000000-0000-4000-8000-000000000005',
      '2012-03-04', 'mi', 'old 1 old1 maker model aa10'
  );
  insert into meter_reading (vehicle_id, day, km, user_id)
  values ('00000000-0000-4000-8000-000000000007', '2026-03-01', 131000, '00000000-0000-4000-8000-000000000001');
  insert into service_record (vehicle_id, component_id, certainty, day, km, grade, user_id)
  values (
    '00000000-0000-4000-8000-000000000007', '00000000-0000-4000-8000-000000000004', 'done', '2019-05-06', 61000,
      'original', '00000000-0000-4000-8000-000000000001'
  );
  insert into finding (id, vehicle_id, weak_point_id, day, worn, user_id) values
    (
      '00000000-0000-4000-8000-000000000008', '00000000-0000-4000-8000-000000000007',
        '00000000-0000-4000-8000-000000000006', '2025-05-06', false, '00000000-0000-4000-8000-000000000001'
    ),
    (
      '00000000-0000-4000-8000-000000000009', '00000000-0000-4000-8000-000000000007',
        '00000000-0000-4000-8000-000000000006', '2026-03-01', true, '00000000-0000-4000-8000-000000000001'
    );
  insert into visit (id, vehicle_id, state, day, km)
  values (
    '00000000-0000-4000-8000-00000000000a', '00000000-0000-4000-8000-000000000007', 'planned', '2026-12-12', 140000
  );
  insert into visit_job (visit_id, weak_point_id, action, grade, position)
  values ('00000000-0000-4000-8000-00000000000a', '00000000-0000-4000-8000-000000000006', 'renew', 'original', 0);
  insert into vehicle_standing (vehicle_id, rank, as_of, model_version)
  values ('00000000-0000-4000-8000-000000000007', 1, '2026-03-01', 1);
  insert into change (id, user_id, vehicle_id, summary)
  values (
    '00000000-0000-4000-8000-00000000000b', '00000000-0000-4000-8000-000000000001',
      '00000000-0000-4000-8000-000000000007', 'Pump weeps: looked at, worn'
  );
  insert into change_item (change_id, entity, entity_id, after)
  select '00000000-0000-4000-8000-00000000000b', 'finding', id::text,
    jsonb_build_object(
      'id', id, 'vehicleId', vehicle_id, 'weakPointId', weak_point_id, 'visitId', null, 'day', day, 'worn', worn,
        'note', null, 'userId', user_id, 'retractedAt', null
    )
    from finding
    where id = '00000000-0000-4000-8000-000000000009';
`;
const VEHICLE = '00000000-0000-4000-8000-000000000007';

describe('a workshop from the first schema, brought up to date', () => {
  let source: DataSource;
  let drop: () => Promise<void>;
  let services: ReturnType<typeof buildServices>;
  beforeAll(async () => {
    const own = await ownDatabase('empty');
    drop = own.drop;
    const first = await new DataSource({
      type: 'postgres',
      url: own.url,
      entities: [],
      migrations: [Start1764000000000],
      migrationsTransactionMode: 'each',
      synchronize: false,
    }).initialize();
    await first.runMigrations();
    await first.query(FIRST_ROWS);
    await first.destroy();
    source = await openDatabase(own.url, 4);
    services = buildServices(source, shopClock(NOW));
  });
  afterAll(async () => {
    await services.judging.close();
    await source.destroy();
    await drop();
  });

  test('keeps what it knew, in today’s words', async () => {
    const found = await source.query<{ result: string; brought_in: boolean }[]>(
      'select result, brought_in from finding order by day',
    );
    expect(found).toEqual([
      { result: 'sound', brought_in: false },
      { result: 'worn', brought_in: false },
    ]);
    expect(await services.settings.current()).toMatchObject({
      workshopName: 'The old shed',
      distanceUnit: 'mi',
      version: 1,
      limits: { engine: 0.05, leak: 0.25 },
      safetyLimit: expect.any(Number),
    });
    expect((await source.query<{ state: string }[]>('select state from weak_point'))[0]!.state).toBe('published');
  });
  test('is judged and answered: the worn pump asks for work, the visit stands', async () => {
    await services.judging.run('brought up to date');
    expect(await source.query('select as_of, verdict from vehicle_standing')).toEqual([
      { as_of: NOW, verdict: 'renew' },
    ]);
    const { answer } = await services.view.outlook(VEHICLE, { drawn: false });
    expect(answer.judgements).toHaveLength(1);
    expect(answer.points[0]).toMatchObject({ title: 'Pump weeps' });
    expect(answer.judgements[0]).toMatchObject({
      looks: [expect.objectContaining({ result: 'sound' }), expect.objectContaining({ result: 'worn' })],
    });
    expect(answer.judgements[0]!.verdict).toBe('renew');
    expect(
      (await comingVisits(source.manager, { page: 1, pageSize: 25 })).rows.map(({ day, plate }) => [day, plate]),
    ).toEqual([['2026-12-12', 'OLD 1']]);
    expect(
      (await source.query<{ parts: number; worn: number }[]>('select parts, worn from experience'))[0],
    ).toMatchObject({ worn: 1 });
  });
  test('what was done under the first schema can still be taken back', async () => {
    await services.changes.undo(
      { userId: '00000000-0000-4000-8000-000000000001' },
      '00000000-0000-4000-8000-00000000000b',
    );
    const { answer } = await services.view.outlook(VEHICLE, { drawn: false });
    expect(answer.judgements[0]!.looks.map(({ result }) => result)).toEqual(['sound']);
    expect(answer.judgements[0]!.verdict).not.toBe('renew');
  });
});

describe('the schema as it is now', () => {
  test('is made once: run again, the migrations do nothing', async () => {
    const t = await testApp();
    expect(await t.services.source.runMigrations()).toEqual([]);
    await t.close();
  });
  test('every migration beside the list is in it, in its order', () => {
    const files = readdirSync(__dirname).filter((file) => /^\d{13}-.*\.ts$/.test(file));
    const stamps = files.sort().map((file) => file.slice(0, 13));
    expect(MIGRATIONS.map(({ name }) => name.slice(-13))).toEqual(stamps);
  });
  test('every foreign key that a query looks rows up by begins an index', async () => {
    const t = await testApp();
    const bare = await t.services.source.query<{ fk: string }[]>(`
      select c.conrelid::regclass || '.' || a.attname as fk
      from pg_constraint c
      join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
      where c.contype = 'f'
        and c.connamespace = 'public'::regnamespace
        and not exists (select 1 from pg_index i where i.indrelid = c.conrelid and i.indkey[0] = c.conkey[1])
      order by 1`);
    // Who wrote a row, and what it came with, are read off the row and never looked up by.
    expect(
      bare.map(({ fk }) => fk).filter((fk) => !/\.(user_id|written_by|superseded_by|visit_id|authority_id)$/.test(fk)),
    ).toEqual(['school_choice.weak_point_id', 'service_record.component_id', 'visit_job.weak_point_id']);
    await t.close();
  });
  test('every table that is read row by row has the columns its entity names, and no other', async () => {
    const t = await testApp();
    const { source } = t.services;
    const columns = await source.query<{ table: string; names: string[]; open: string[] }[]>(`
      select table_name as "table", array_agg(column_name::text order by column_name) as names,
        coalesce(array_agg(column_name::text order by column_name) filter (where is_nullable = 'YES'), '{}') as open
      from information_schema.columns
      where table_schema = 'public' and is_generated = 'NEVER'
      group by table_name`);
    const named = source.entityMetadatas.map(({ tableName, columns: own }) => ({
      table: tableName,
      names: own.map(({ databaseName }) => databaseName).sort(),
      open: own
        .filter(({ isNullable }) => isNullable)
        .map(({ databaseName }) => databaseName)
        .sort(),
    }));
    expect(named.length).toBeGreaterThan(30);
    for (const each of named) expect(each).toEqual(columns.find(({ table }) => table === each.table));
    await t.close();
  });
});
