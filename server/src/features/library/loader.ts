import type { Pack } from '@crosspeen/contract';
import { compactKey, dayFromDate, isoFromDay, parseSpans, SHARE_BY_WORD, type ApplicabilityRule, type Span } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';

/** Spans of a pack, which its schema has checked already. */
function spansOf(text: string): readonly Span[] {
  const parsed = parseSpans(text);
  if (!parsed.ok) throw new Error(parsed.problem);
  return parsed.value;
}

const monthStart = (month: string): number => {
  const [year, number] = month.split('-').map(Number) as [number, number];
  return dayFromDate(year, number, 1)!;
};
const monthEnd = (month: string): number => {
  const [year, number] = month.split('-').map(Number) as [number, number];
  return dayFromDate(number === 12 ? year + 1 : year, number === 12 ? 1 : number + 1, 1)! - 1;
};

type PackPoint = Pack['families'][number]['weakPoints'][number];

const ruleOf = ({ appliesTo }: PackPoint): ApplicabilityRule => ({
  ...(appliesTo.variants ? { variants: appliesTo.variants } : {}),
  ...(appliesTo.models ? { models: appliesTo.models } : {}),
  ...(appliesTo.markets ? { markets: appliesTo.markets } : {}),
  ...(appliesTo.features ? { features: appliesTo.features } : {}),
  ...(appliesTo.serialFrom === undefined ? {} : { serialFrom: appliesTo.serialFrom }),
  ...(appliesTo.serialTo === undefined ? {} : { serialTo: appliesTo.serialTo }),
  ...(appliesTo.producedFrom ? { producedFromDay: monthStart(appliesTo.producedFrom) } : {}),
  ...(appliesTo.producedTo ? { producedToDay: monthEnd(appliesTo.producedTo) } : {}),
});

/** The customary interval in km: the shortest one published, which is what most vehicles are kept to. */
function customKm(point: PackPoint): number | null {
  const published = point.statements.flatMap(({ interval }) => (interval === undefined ? [] : spansOf(interval)))
    .filter(({ clock }) => clock === 'distance').map(({ from }) => from);
  return published.length === 0 ? null : Math.min(...published);
}

/** Writes rows given as JSON by table and columns, updating those whose key is known; returns the id of each key. */
async function upsert(manager: EntityManager, table: string, conflict: string, columns: readonly string[], rows: readonly Record<string, unknown>[]): Promise<Map<string, string>> {
  if (rows.length === 0) return new Map();
  const list = columns.map((column) => `"${column}"`).join(', ');
  const updates = columns.map((column) => `"${column}" = excluded."${column}"`).join(', ');
  const written = await manager.query<{ id: string | null; key: string }[]>(
    `insert into ${table} (${list}) select ${list} from jsonb_populate_recordset(null::${table}, $1::jsonb)
     on conflict (${conflict}) do update set ${updates} returning to_jsonb(${table}) ->> 'id' as id, ${conflict.split(',').at(-1)!.trim()} as key`,
    [JSON.stringify(rows)],
  );
  return new Map(written.flatMap(({ id, key }) => (id === null ? [] : [[key, id] as const])));
}

/**
 * Writes a checked pack into the library in the caller's transaction. Rows whose key is known are brought up to date; statements are replaced.
 * Nothing outside the pack's own keys is touched.
 */
export async function loadPack(manager: EntityManager, pack: Pack): Promise<void> {
  await manager.query(
    `insert into library_pack (key, title, version, licence) values ($1, $2, $3, $4)
     on conflict (key) do update set title = excluded.title, version = excluded.version, licence = excluded.licence, loaded_at = now()`,
    [pack.key, pack.title, pack.version, pack.licence],
  );
  const makers = await upsert(manager, 'maker', 'key', ['key', 'name'], pack.makers);
  const makerNames = new Map(pack.makers.map(({ key, name }) => [key, name]));
  const authorities = await upsert(manager, 'authority', 'key', ['key', 'kind', 'name', 'region'], pack.authorities);
  const components = await upsert(manager, 'component', 'key', ['key', 'name', 'class', 'grp', 'fitted_to'], pack.components.map((component) => ({ ...component, grp: component.group, fitted_to: component.fittedTo })));
  await upsert(manager, 'part', 'number', ['component_id', 'number', 'name', 'grade', 'revision', 'how_to_tell', 'supersedes', 'price_minor'],
    pack.components.flatMap(({ key, parts }) => parts.map((part) => ({
      component_id: components.get(key), number: part.number, name: part.name, grade: part.grade, revision: part.revision ?? null,
      how_to_tell: part.howToTell ?? null, supersedes: part.supersedes ?? null, price_minor: part.priceMinor ?? null,
    }))));
  const families = await upsert(manager, 'engine_family', 'key',
    ['key', 'maker_id', 'code', 'code_key', 'name', 'displacement_l', 'fuel', 'aspiration', 'timing_drive', 'interference', 'note', 'search_text'],
    pack.families.map((family) => ({
      key: family.key, maker_id: makers.get(family.maker), code: family.code, code_key: compactKey(family.code), name: family.name,
      displacement_l: family.displacementL, fuel: family.fuel, aspiration: family.aspiration, timing_drive: family.timingDrive,
      interference: family.interference, note: family.note ?? null,
      search_text: [makerNames.get(family.maker), family.code, ...family.alsoWritten, family.name, ...family.variants.flatMap(({ models }) => models.map(({ model }) => model))].join(' ').toLowerCase(),
    })));
  const iso = (day: number | null): string | null => (day === null ? null : isoFromDay(day));
  await upsert(manager, 'engine_variant', 'family_id, key', ['family_id', 'key', 'name', 'produced_from', 'produced_to', 'how_to_tell', 'serial_from', 'serial_to', 'models', 'position'],
    pack.families.flatMap((family) => family.variants.map((variant, position) => ({
      family_id: families.get(family.key), key: variant.key, name: variant.name, how_to_tell: variant.howToTell ?? null, serial_from: variant.serialFrom ?? null, serial_to: variant.serialTo ?? null, models: variant.models, position,
      produced_from: iso(variant.producedFrom ? monthStart(variant.producedFrom) : null),
      produced_to: iso(variant.producedTo ? monthEnd(variant.producedTo) : null),
    }))));
  await upsert(manager, 'family_feature', 'family_id, key', ['family_id', 'key', 'name', 'how_to_tell', 'share', 'position'],
    pack.families.flatMap((family) => family.features.map((feature, position) => ({
      family_id: families.get(family.key), key: feature.key, name: feature.name, how_to_tell: feature.howToTell ?? null, share: feature.share, position,
    }))));
  const points = await upsert(manager, 'weak_point', 'key',
    ['key', 'family_id', 'component_id', 'title', 'consequence', 'safety', 'effect', 'signs', 'share', 'causes', 'look', 'renew_minutes', 'applies_to', 'retired_by_revision', 'custom_km', 'position'],
    pack.families.flatMap((family) => family.weakPoints.map((point, position) => ({
      key: point.key, family_id: families.get(family.key), component_id: components.get(point.component), title: point.title,
      consequence: point.consequence, safety: point.safety, effect: point.effect, signs: point.signs, share: SHARE_BY_WORD[point.share],
      causes: point.causes.map(spansOf),
      look: point.look ? { how: point.look.how, minutes: point.look.minutes, detection: point.look.detects, falseAlarm: point.look.falseAlarm, warning: spansOf(point.look.warns) } : null,
      renew_minutes: point.renewMinutes, applies_to: ruleOf(point), retired_by_revision: point.retiredByRevision ?? null, custom_km: customKm(point), position,
    }))));
  await manager.query('delete from statement where weak_point_id = any($1)', [[...points.values()]]);
  const statements = pack.families.flatMap((family) => family.weakPoints.flatMap((point) => point.statements.map((statement, position) => ({
    weak_point_id: points.get(point.key), authority_id: authorities.get(statement.authority), edition: statement.edition ?? null,
    words: statement.words, interval: statement.interval ? spansOf(statement.interval) : [], doubted: statement.doubted ?? false, position,
  }))));
  await manager.query(
    `insert into statement (weak_point_id, authority_id, edition, words, "interval", doubted, position)
     select weak_point_id, authority_id, edition, words, "interval", doubted, position from jsonb_populate_recordset(null::statement, $1::jsonb)`,
    [JSON.stringify(statements)],
  );
}
