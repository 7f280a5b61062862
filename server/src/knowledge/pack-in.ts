import { SAID, type Pack } from '@crosspeen/contract';
import { foundBy } from '../platform/search.ts';
import { compactKey, isoFromDay } from '@crosspeen/core';
import { In, type EntityManager } from 'typeorm';
import { Problem } from '../platform/problem.ts';
import { componentColumns, partColumns } from './component.ts';
import { OPERATION_PAIRS, operationColumns } from './operation.ts';
import { saidInPack, statementColumns } from './statement.ts';
import { taskColumns, UpkeepTaskEntity } from './upkeep.ts';
import { columnsFromPack, monthEnd, monthStart } from './weak-point.ts';
import { WeakPointEntity } from './weak-point-row.ts';
import { LibraryWriter } from './writer.ts';
import { type Skipped, type Writing, type Ids } from './pack-writing.ts';
import { writeNotices } from './pack-notices.ts';

const NONE: ReadonlySet<string> = new Set();

/** Two families may not have one engine code: whoever types it would get one of them. Throws bad_file. */
async function refuseSameCodes(manager: EntityManager, pack: Pack, skipped: ReadonlySet<string>): Promise<void> {
  const given = pack.families
    .filter(({ key }) => !skipped.has(key))
    .map(({ key, code }) => ({ key, code: compactKey(code) }));
  const clashing = await manager.query<{ key: string; code: string; other: string }[]>(
    `select given.key, f.code, f.key as other from jsonb_to_recordset($1::jsonb) as given(key text, code text)
     join engine_family f on f.code_key = given.code and f.key <> given.key`,
    [JSON.stringify(given)],
  );
  if (clashing.length === 0) return;
  throw new Problem(SAID.engineCodeTaken, {
    fields: clashing.map(({ key, code, other }) => ({
      path: `families.${key}.code`,
      message: `“${code}” is saved as “${other}”; give the family that key in the pack, or correct its code`,
    })),
  });
}

/** Lists of a family whose keys are unique in the whole library, each with its table. */
const OF_FAMILY = { operations: 'labour_operation', weakPoints: 'weak_point', upkeep: 'upkeep_task' } as const;

/**
 * A key that stands in another family of the library cannot come in: the row would move there, or a row of one family
 * would refer to another's. Throws bad_file with every place.
 */
async function refuseKeysOfOthers(manager: EntityManager, pack: Pack): Promise<void> {
  const clashing: { path: string; message: string }[] = [];
  for (const [list, table] of Object.entries(OF_FAMILY) as [keyof typeof OF_FAMILY, string][]) {
    const given = pack.families.flatMap((family) => family[list].map(({ key }) => ({ family: family.key, key })));
    const found = await manager.query<{ family: string; key: string; other: string }[]>(
      `select given.family, given.key, f.key as other
        from jsonb_to_recordset($1::jsonb) as given(family text, key text)
        join ${table} row on row.key = given.key
        join engine_family f on f.id = row.family_id and f.key <> given.family
        order by given.family, given.key`,
      [JSON.stringify(given)],
    );
    for (const { family, key, other } of found)
      clashing.push({
        path: `families.${family}.${list}.${key}`,
        message: `“${key}” stands in the engine “${other}” here; give it another key in the pack`,
      });
  }
  if (clashing.length > 0) throw new Problem(SAID.keysOfOthers, { fields: clashing });
}

/** Writes tools, cautions and symptoms; answers the ids that operations refer to. */
async function writeWorkshopWords({ writer, pack, skipped, own }: Writing): Promise<{ tools: Ids; cautions: Ids }> {
  const tools = await writer.upsert(
    'tool',
    pack.tools.map(({ key, name, without }) => ({ key, name, without_it: without ?? null, ...own })),
    skipped('tool'),
  );
  const cautions = await writer.upsert(
    'caution',
    pack.cautions.map(({ key, words }) => ({ key, words, ...own })),
    skipped('caution'),
  );
  await writer.upsert(
    'symptom',
    pack.symptoms.map(({ key, words, codes, tells, stop, drive, forbids }) => ({
      key,
      words,
      codes,
      tells: tells ?? null,
      stop: stop ?? null,
      drive: drive ?? null,
      forbids,
      ...own,
    })),
    skipped('symptom'),
  );
  return { tools, cautions };
}

/** Writes components and their parts; answers the components' ids. */
async function writeComponents({ writer, pack, skipped }: Writing): Promise<Ids> {
  const components = await writer.upsert(
    'component',
    pack.components.map((component) => componentColumns(component, pack.key)),
    skipped('component'),
  );
  await writer.upsert(
    'part',
    pack.components.flatMap(({ key, parts }) => parts.map((part) => partColumns(part, components.get(key)!, pack.key))),
    skipped('part'),
  );
  return components;
}

/** Writes the engine families with their variants and features; answers the families' ids. */
async function writeFamilies({ writer, pack, skipped, own }: Writing): Promise<Ids> {
  const makers = await writer.upsert(
    'maker',
    pack.makers.map(({ key, name }) => ({ key, name, ...own })),
    skipped('maker'),
  );
  const makerNames = new Map(pack.makers.map(({ key, name }) => [key, name]));
  const families = await writer.upsert(
    'engine_family',
    pack.families.map((family) => ({
      key: family.key,
      maker_id: makers.get(family.maker),
      code: family.code,
      code_key: compactKey(family.code),
      name: family.name,
      displacement_l: family.displacementL,
      fuel: family.fuel,
      aspiration: family.aspiration,
      timing_drive: family.timingDrive,
      interference: family.interference,
      note: family.note ?? null,
      layout: family.layout ?? null,
      checks: family.checks,
      also_written: family.alsoWritten,
      ...own,
      search_text: foundBy([
        makerNames.get(family.maker),
        family.code,
        ...family.alsoWritten,
        family.name,
        ...family.variants.flatMap(({ models }) => models.map(({ model }) => model)),
      ]),
    })),
    skipped('engine_family'),
  );
  await writer.upsert(
    'engine_variant',
    pack.families.flatMap((family) =>
      family.variants.map((variant, position) => ({
        family_id: families.get(family.key),
        key: variant.key,
        name: variant.name,
        how_to_tell: variant.howToTell ?? null,
        serial_from: variant.serialFrom ?? null,
        serial_to: variant.serialTo ?? null,
        models: variant.models,
        position,
        produced_from: variant.producedFrom ? isoFromDay(monthStart(variant.producedFrom)) : null,
        produced_to: variant.producedTo ? isoFromDay(monthEnd(variant.producedTo)) : null,
        ...own,
      })),
    ),
    skipped('engine_variant'),
  );
  await writer.upsert(
    'family_feature',
    pack.families.flatMap((family) =>
      family.features.map((feature, position) => ({
        family_id: families.get(family.key),
        key: feature.key,
        name: feature.name,
        how_to_tell: feature.howToTell ?? null,
        share: feature.share,
        position,
        ...own,
      })),
    ),
    skipped('family_feature'),
  );
  return families;
}

/** Writes the labour operations and what each needs; answers their ids. */
async function writeOperations(
  { writer, pack, skipped }: Writing,
  { families, tools, cautions }: { readonly families: Ids; readonly tools: Ids; readonly cautions: Ids },
): Promise<Ids> {
  const all = pack.families.flatMap((family) =>
    family.operations.map((operation, position) => ({ family, operation, position })),
  );
  const operations = await writer.upsert(
    'labour_operation',
    all.map(({ family, operation, position }) =>
      operationColumns(operation, families.get(family.key)!, position, pack.key),
    ),
    skipped('labour_operation'),
  );
  const taken = all
    .filter(({ operation }) => !skipped('labour_operation').has(operation.key))
    .map(({ operation }) => operation);
  const others = { needs: operations, tools, cautions };
  for (const { table, column, of } of OPERATION_PAIRS) {
    const has = taken.map((operation) => ({
      operation: operations.get(operation.key)!,
      has: operation[of].map((key) => others[of].get(key)!),
    }));
    // What a pack no longer says goes first.
    await writer.remove(
      table,
      `operation_id = any(array(select (pair ->> 'operation')::uuid from jsonb_array_elements($1::jsonb) as pair))
        and not exists (
          select 1
          from jsonb_array_elements($1::jsonb) as pair
          where (pair ->> 'operation')::uuid = operation_id and pair -> 'has' ? (${column}::text)
        )`,
      JSON.stringify(has),
    );
    await writer.upsert(
      table,
      has.flatMap(({ operation, has: ids }) => ids.map((id) => ({ operation_id: operation, [column]: id }))),
    );
  }
  return operations;
}

/** Replaces the statements of the weak points that are written. */
async function writeStatements(
  { writer, pack, skipped }: Writing,
  { points, authorities }: { readonly points: Ids; readonly authorities: Ids },
): Promise<void> {
  const written = pack.families
    .flatMap(({ weakPoints }) => weakPoints)
    .filter(({ key }) => !skipped('weak_point').has(key));
  await writer.upsert(
    'statement',
    written.flatMap((point) =>
      point.statements.map((statement, position) =>
        statementColumns({
          ...saidInPack(statement),
          weakPointId: points.get(point.key)!,
          position,
          authorityId: authorities.get(statement.authority)!,
        }),
      ),
    ),
  );
  await writer.remove(
    'statement',
    `exists (
        select 1
        from jsonb_array_elements($1::jsonb) as point
        where (point ->> 'id')::uuid = weak_point_id and position >= (point ->> 'count')::int
      )`,
    JSON.stringify(written.map((point) => ({ id: points.get(point.key), count: point.statements.length }))),
  );
}

/** Writes the weak points with their statements; answers their ids. */
async function writeWeakPoints(
  writing: Writing,
  ids: { readonly families: Ids; readonly components: Ids; readonly operations: Ids; readonly authorities: Ids },
): Promise<Ids> {
  const { writer, pack, skipped, own } = writing;
  const { families, components, operations } = ids;
  const keys = pack.families.flatMap(({ weakPoints }) => weakPoints.map(({ key }) => key));
  const standing = new Map(
    (await writer.manager.findBy(WeakPointEntity, { key: In(keys) })).map((row) => [row.key, row]),
  );
  const points = await writer.upsert(
    'weak_point',
    pack.families.flatMap((family) =>
      family.weakPoints.map((point, position) => ({
        key: point.key,
        family_id: families.get(family.key),
        component_id: components.get(point.component),
        operation_id: point.operation === undefined ? null : operations.get(point.operation),
        ...columnsFromPack(point, standing.get(point.key)),
        position,
        state: 'published',
        ...own,
      })),
    ),
    skipped('weak_point'),
  );
  await writeStatements(writing, { points, authorities: ids.authorities });
  return points;
}

/** Writes the recurring tasks of the families. */
async function writeTasks({ writer, pack, skipped }: Writing, families: Ids): Promise<void> {
  const tasks = pack.families.flatMap((family) => family.upkeep.map((task, position) => ({ family, task, position })));
  const standingTasks = new Map(
    (await writer.manager.findBy(UpkeepTaskEntity, { key: In(tasks.map(({ task }) => task.key)) })).map((row) => [
      row.key,
      row,
    ]),
  );
  await writer.upsert(
    'upkeep_task',
    tasks.map(({ family, task, position }) =>
      taskColumns(task, standingTasks.get(task.key), {
        familyId: families.get(family.key)!,
        position,
        packKey: pack.key,
      }),
    ),
    skipped('upkeep_task'),
  );
}

/**
 * Writes a checked pack into the library in the caller's transaction. Rows whose key is known are brought up to date
 * where they differ; the statements of a weak point are replaced. Nothing outside the pack's own keys is touched, nor
 * anything that is `skipped`.
 */
export async function writePack(writer: LibraryWriter, pack: Pack, skipped: Skipped = () => NONE): Promise<void> {
  const own = { pack_key: pack.key };
  const writing: Writing = { writer, pack, skipped, own };
  await refuseSameCodes(writer.manager, pack, skipped('engine_family'));
  await refuseKeysOfOthers(writer.manager, pack);
  const authorities = await writer.upsert(
    'authority',
    pack.authorities.map(({ key, kind, name, region }) => ({ key, kind, name, region: region ?? null, ...own })),
    skipped('authority'),
  );
  const components = await writeComponents(writing);
  const words = await writeWorkshopWords(writing);
  const families = await writeFamilies(writing);
  const operations = await writeOperations(writing, { families, ...words });
  const points = await writeWeakPoints(writing, { families, components, operations, authorities });
  await writeTasks(writing, families);
  await writeNotices(writing, { authorities, points });
}

/**
 * Puts a pack on file, with who loaded it and all that it changed, and what `beside` writes in the same change; answers
 * the id of the change, null when everything was on file already.
 */
export async function loadPack(
  manager: EntityManager,
  pack: Pack,
  {
    userId = null,
    skipped,
    beside,
  }: {
    readonly userId?: string | null;
    readonly skipped?: Skipped;
    readonly beside?: (writer: LibraryWriter) => Promise<void>;
  } = {},
): Promise<string | null> {
  const writer = new LibraryWriter(manager);
  await manager.query(
    `insert into library_pack (key, title, version, licence) values ($1, $2, $3, $4)
     on conflict (key) do update set title = excluded.title, version = excluded.version, licence = excluded.licence,
       loaded_at = now()`,
    [pack.key, pack.title, pack.version, pack.licence],
  );
  await writePack(writer, pack, skipped);
  await beside?.(writer);
  return writer.keep({
    userId,
    kind: 'pack',
    summary: `Pack “${pack.title}” ${pack.version} imported`,
    packKey: pack.key,
    packVersion: pack.version,
  });
}
