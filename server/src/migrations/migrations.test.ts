import { readdirSync } from 'node:fs';
import {
  ASPIRATIONS,
  BACKUP_CHECKS,
  BACKUP_STATES,
  CALL_OUTCOMES,
  ENTRY_STATES,
  FUELS,
  HELD_BECAUSE,
  INTAKE_KINDS,
  INTAKE_RUN_STATES,
  LIBRARY_CHANGE_KINDS,
  NOTICE_KINDS,
  NOTICE_STATES,
  PEOPLE_CHANGE_KINDS,
  POINT_STATES,
  ROLES,
  ROUND_STATES,
  TIMING_DRIVES,
  TRIAGE_OUTCOMES,
  UPKEEP_CERTAINTIES,
  VISIT_STATES,
  WALK_RESULTS,
} from '@crosspeen/contract';
import {
  AUTHORITY_KINDS,
  CERTAINTIES,
  CHANCE_BANDS,
  CONDITIONS,
  CONSEQUENCES,
  DISTANCE_UNITS,
  ENGINE_SPOTS,
  FITTED_TO,
  GRADES,
  GROUPS,
  JOB_ACTIONS,
  LOOK_PLACES,
  OBSERVATION_KINDS,
  SCHOOLS,
  SEASONS,
  SHAPE_BY_CLASS,
  SOURCES,
  NATURES,
  STATEMENT_ASKS,
  STATEMENT_STRENGTHS,
  UPKEEP_KINDS,
  VERDICTS,
} from '@crosspeen/core';
import { THROTTLE } from '../features/session/throttle.ts';
import { DataSource } from 'typeorm';
import { buildServices, openDatabase, shopClock } from '../app.ts';
import { comingVisits } from '../lists/visits.ts';
import { NOW, ownDatabase, testApp } from '../testing/harness.ts';
import { Start1764000000000 } from './1764000000000-start.ts';
import { migrations } from './index.ts';

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

/** Columns that take words from a list, each with the list that the code goes by. */
const WORDS_OF_COLUMNS: Readonly<Record<string, readonly string[]>> = {
  'app_user.role': ROLES,
  'authority.kind': AUTHORITY_KINDS,
  'backup_run.checked': BACKUP_CHECKS,
  'backup_run.state': BACKUP_STATES,
  'campaign_call.outcome': CALL_OUTCOMES,
  'component.class': Object.keys(SHAPE_BY_CLASS),
  'component.fitted_to': FITTED_TO,
  'component.grp': GROUPS,
  'engine_family.aspiration': ASPIRATIONS,
  'engine_family.fuel': FUELS,
  'engine_family.timing_drive': TIMING_DRIVES,
  'finding.result': CONDITIONS,
  'fleet_run.state': ROUND_STATES,
  'intake_file.kind': INTAKE_KINDS,
  'intake_file.state': ['held', ...INTAKE_RUN_STATES],
  'judgement.verdict': VERDICTS,
  'library_change.kind': LIBRARY_CHANGE_KINDS,
  'notice.asks': JOB_ACTIONS,
  'notice.kind': NOTICE_KINDS,
  'notice.state': NOTICE_STATES,
  'observation.kind': OBSERVATION_KINDS,
  'part.grade': GRADES,
  'upkeep_record.certainty': UPKEEP_CERTAINTIES,
  'triage_end.outcome': TRIAGE_OUTCOMES,
  'upkeep_task.place': LOOK_PLACES,
  'upkeep_task.spot': ENGINE_SPOTS,
  'walk_entry.held_because': HELD_BECAUSE,
  'walk_entry.result': WALK_RESULTS,
  'walk_entry.state': ENTRY_STATES,
  'upkeep_task.kind': UPKEEP_KINDS,
  'upkeep_task.season': SEASONS,
  'upkeep_task.state': NOTICE_STATES,
  'people_change.kind': PEOPLE_CHANGE_KINDS,
  'school_choice.school': SCHOOLS,
  'service_record.came_out': CONDITIONS,
  'service_record.certainty': CERTAINTIES,
  'service_record.grade': GRADES,
  'service_record.source': SOURCES,
  'sign_in_try.what': Object.keys(THROTTLE),
  'statement.asks': STATEMENT_ASKS,
  'statement.strength': STATEMENT_STRENGTHS,
  'vehicle.odometer_unit': DISTANCE_UNITS,
  'vehicle_standing.verdict': VERDICTS,
  'visit.state': VISIT_STATES,
  'visit_job.action': JOB_ACTIONS,
  'visit_job.grade': GRADES,
  'weak_point.consequence': CONSEQUENCES,
  'weak_point.nature': NATURES,
  'weak_point.state': POINT_STATES,
};

describe('the schema as it is now', () => {
  test('is made once: run again, the migrations do nothing', async () => {
    const t = await testApp();
    expect(await t.services.source.runMigrations()).toEqual([]);
    await t.close();
  });
  test('every file of a migration is one, found in its order and called as it is', async () => {
    const files = readdirSync(import.meta.dirname).filter((file) => /^\d{13}-.*\.ts$/.test(file));
    const stamps = files.sort().map((file) => file.slice(0, 13));
    expect((await migrations()).map(({ name }) => name.slice(-13))).toEqual(stamps);
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
  test('every list of words that the database holds a column to is the list of the code', async () => {
    const t = await testApp();
    const held = await t.services.source.query<{ column: string; words: string[] }[]>(`
      select c.conrelid::regclass || '.' || a.attname as "column",
        array(select m[1] from regexp_matches(pg_get_constraintdef(c.oid), $$'([^']*)'::text$$, 'g') m) as words
      from pg_constraint c
      join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
      where c.contype = 'c'
        and c.connamespace = 'public'::regnamespace
        and cardinality(c.conkey) = 1
        and pg_get_constraintdef(c.oid) ~ '= ANY'
      order by 1`);
    const sorted = (words: readonly string[]): string[] => [...words].sort();
    expect(Object.fromEntries(held.map(({ column, words }) => [column, sorted(words)]))).toEqual(
      Object.fromEntries(Object.entries(WORDS_OF_COLUMNS).map(([column, words]) => [column, sorted(words)])),
    );
    await t.close();
  });
  test('judgements are indexed by the bands of the code', async () => {
    const t = await testApp();
    const [band] = await t.services.source.query<{ made: string }[]>(`
      select generation_expression as made
      from information_schema.columns
      where table_name = 'judgement' and column_name = 'band'`);
    expect((band!.made.match(/(?<!float)\b\d+\.?\d*\b/g) ?? []).map(Number)).toEqual(CHANCE_BANDS);
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
