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
import type { QueryRunner } from 'typeorm';
import { testApp } from '../testing/harness.ts';
import { Baseline1766000000000 } from './1766000000000-baseline.ts';
import { migrations } from './index.ts';

/** What the baseline asks of a database on which these development migrations are recorded. */
async function askedOf(names: readonly string[]): Promise<string[]> {
  const asked: string[] = [];
  const query = (sql: string): Promise<unknown> => {
    asked.push(sql);
    return Promise.resolve(sql.startsWith('select name') ? names.map((name) => ({ name })) : []);
  };
  await new Baseline1766000000000().up({ query } as unknown as QueryRunner);
  return asked;
}

describe('a database from before the baseline', () => {
  test('with the last schema of the development is taken as it stands', async () =>
    expect(await askedOf(['Start1764000000000', 'AlsoWritten1765200000000'])).toHaveLength(1));
  test('with an earlier schema is refused in words', () =>
    expect(askedOf(['Start1764000000000'])).rejects.toThrow('is from an early development version'));
  test('without any is made whole', async () => expect((await askedOf([])).length).toBeGreaterThan(5));
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
      bare
        .map(({ fk }) => fk)
        .filter((fk) => !/\.(user_id|written_by|settled_by|undone_by|superseded_by|visit_id|authority_id)$/.test(fk)),
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
