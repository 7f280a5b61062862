import {
  asksForWork,
  isoFromDay,
  judgeVehicle,
  MODEL_VERSION,
  VERDICTS,
  type JudgedRow,
  type ReportFact,
} from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { LibraryService, RevisedKnowledge } from '../knowledge/library.ts';
import { questionOf } from '../reckoning/answer.ts';
import { subjectOnFile } from '../reckoning/complaint.ts';
import { recordsOf, subjectOf, type VehicleRecords } from '../reckoning/records.ts';
import type { Subject } from '../reckoning/subject.ts';
import type { Settings } from '@crosspeen/contract';
import { inTransaction } from '../platform/transaction.ts';

/** Rank of a vehicle that a complaint holds; before every verdict. */
const HELD = -1;
/** Rank of a vehicle on which nothing is pressing; behind every verdict. */
const NOTHING_PRESSING = VERDICTS.length + 1;

export interface Ground {
  readonly settings: Settings;
  readonly today: number;
}

interface Judged {
  readonly standing: Record<string, unknown>;
  readonly judgements: readonly Record<string, unknown>[];
}

const asking = ({ verdict }: JudgedRow): boolean => asksForWork(verdict);

const dueDay = (row: JudgedRow): string | null => (row.due === null ? null : isoFromDay(row.due.day));

/** What presses most on a vehicle, by its parts. */
const pressing = (worst: JudgedRow | undefined): Record<string, unknown> => ({
  rank: worst?.rank ?? NOTHING_PRESSING,
  title: worst?.weakPoint.title ?? null,
  verdict: worst?.verdict ?? null,
  chance: worst?.chance ?? null,
  if_first: worst?.unproved ?? null,
  due_day: worst ? dueDay(worst) : null,
  due_km: worst?.due?.km ?? null,
});

/** A complaint that holds the vehicle stands before all that its parts come to. */
const heldBy = ({ words }: ReportFact, worst: JudgedRow | undefined, today: number): Record<string, unknown> => ({
  ...pressing(worst),
  rank: HELD,
  title: `Reported: ${words}`,
  verdict: 'hold',
  chance: null,
  if_first: null,
  due_day: isoFromDay(today),
  due_km: null,
});

/**
 * The stored judgement of one vehicle: its line in the list, and a row for each weak point that applies; stamped with
 * everything it was made of.
 */
function judged(
  records: VehicleRecords,
  subject: Subject,
  knowledge: RevisedKnowledge,
  { settings, today }: Ground,
): Judged {
  const { input } = questionOf({ knowledge, subject, settings, today });
  const { rows, upkeep, holds } = judgeVehicle(input);
  const [held] = holds;
  const [firstTask] = upkeep.filter(({ standing }) => standing === 'overdue' || standing === 'due');
  const worst = rows.find(({ verdict }) => verdict !== 'behind_it');
  const { id } = records.row;
  const last = input.path.knots.at(-1)!;
  return {
    standing: {
      vehicle_id: id,
      ...(held === undefined ? pressing(worst) : heldBy(held, worst, today)),
      others: Math.max(0, rows.filter(asking).length - (held === undefined ? 1 : 0)),
      km: last.km + Math.max(0, today - last.day) * input.path.rateKmPerDay,
      km_per_day: input.path.rateKmPerDay,
      as_of: isoFromDay(today),
      model_version: MODEL_VERSION,
      most_chance: rows.reduce((most, row) => (row.verdict === 'behind_it' ? most : Math.max(most, row.chance)), 0),
      family_revision: knowledge.revision,
      settings_version: settings.version,
      upkeep_overdue: upkeep.filter(({ standing }) => standing === 'overdue').length,
      upkeep_title: firstTask?.task.title ?? null,
      upkeep_due: firstTask?.due ? isoFromDay(firstTask.due.day) : null,
    },
    judgements: rows.map((row) => ({
      vehicle_id: id,
      weak_point_id: row.weakPoint.id,
      consequence: row.weakPoint.consequence,
      verdict: row.verdict,
      chance: Math.min(1, Math.max(0, row.chance)),
      due_day: dueDay(row),
    })),
  };
}

const STANDING_COLUMNS = [
  'vehicle_id',
  'rank',
  'title',
  'verdict',
  'chance',
  'if_first',
  'due_day',
  'due_km',
  'others',
  'km',
  'km_per_day',
  'as_of',
  'model_version',
  'most_chance',
  'family_revision',
  'settings_version',
  'upkeep_overdue',
  'upkeep_title',
  'upkeep_due',
];
const SAVE_STANDINGS = `
  insert into vehicle_standing (${STANDING_COLUMNS.join(', ')}, judged_at)
  select ${STANDING_COLUMNS.join(', ')}, clock_timestamp()
  from jsonb_populate_recordset(null::vehicle_standing, $1::jsonb)
  on conflict (vehicle_id) do update set ${STANDING_COLUMNS.slice(1)
    .map((column) => `${column} = excluded.${column}`)
    .join(', ')}, judged_at = excluded.judged_at`;
// Only what differs is written: most verdicts of most vehicles stay as they were from one day to the next.
// An update, not an insert that meets a conflict: that would lock, and so write, every row that is there.
const GIVEN = `unnest(
      $1::uuid[], $2::uuid[], $3::text[], $4::text[], $5::float8[], $6::date[]
    ) as given(vehicle_id, weak_point_id, consequence, verdict, chance, due_day)`;
const SAME = 'j.vehicle_id = given.vehicle_id and j.weak_point_id = given.weak_point_id';
const DIFFERS = `(j.verdict, j.chance, j.due_day, j.consequence) is distinct from (
      given.verdict, given.chance, given.due_day, given.consequence
    )`;
const STANDING = `
  select (select count(*)::int from judgement where vehicle_id = any($7::uuid[])) as total,
    count(j.vehicle_id)::int as met, count(*) filter (where j.vehicle_id is not null and ${DIFFERS})::int as differing
  from ${GIVEN} left join judgement j on ${SAME}`;
const CHANGE_JUDGEMENTS = `update judgement j
  set consequence = given.consequence, verdict = given.verdict, chance = given.chance, due_day = given.due_day
  from ${GIVEN}
  where ${SAME} and ${DIFFERS}`;
const ADD_JUDGEMENTS = `insert into judgement (vehicle_id, weak_point_id, consequence, verdict, chance, due_day)
  select given.*
  from ${GIVEN}
  on conflict do nothing`;
const TAKE_OUT = `
  delete from judgement j
  where j.vehicle_id = any($1::uuid[])
    and (j.vehicle_id, j.weak_point_id) not in (select * from unnest($2::uuid[], $3::uuid[]))`;

/** What vehicles are judged by. */
export interface JudgingGround {
  readonly library: LibraryService;
  readonly ground: Ground;
}

/**
 * Judges vehicles and writes what came of it, in the caller's transaction; vehicles taken back lose their judgement.
 * `knowing` reads what is known of engines.
 */
export async function judgeAndSave(
  manager: EntityManager,
  { library, ground, knowing = manager }: JudgingGround & { readonly knowing?: EntityManager },
  vehicleIds: readonly string[],
): Promise<void> {
  const records = await recordsOf(manager, vehicleIds);
  const gone = vehicleIds.filter((id) => !records.has(id));
  if (gone.length > 0) {
    await manager.query('delete from vehicle_standing where vehicle_id = any($1::uuid[])', [gone]);
    await manager.query('delete from judgement where vehicle_id = any($1::uuid[])', [gone]);
  }
  const knowledge = await library.families(knowing, [...new Set([...records.values()].map(({ row }) => row.familyId))]);
  const all: Judged[] = [];
  for (const one of records.values()) {
    const known = knowledge.get(one.row.familyId);
    if (known === undefined) continue;
    // Few vehicles have a complaint open: only for them anything more is read.
    const subject =
      one.reports.length === 0
        ? subjectOf(one, ground.today)
        : await subjectOnFile(manager, one, { knowledge: known, ...ground });
    all.push(judged(one, subject, known, ground));
  }
  if (all.length === 0) return;
  await manager.query(SAVE_STANDINGS, [JSON.stringify(all.map(({ standing }) => standing))]);
  const rows = all.flatMap(({ judgements }) => judgements);
  const column = (name: string): unknown[] => rows.map((row) => row[name]);
  const columns = ['vehicle_id', 'weak_point_id', 'consequence', 'verdict', 'chance', 'due_day'].map(column);
  const [standing] = await manager.query<{ total: number; met: number; differing: number }[]>(STANDING, [
    ...columns,
    [...records.keys()],
  ]);
  const { total, met, differing } = standing!;
  if (differing > 0) await manager.query(CHANGE_JUDGEMENTS, columns);
  if (met < rows.length) await manager.query(ADD_JUDGEMENTS, columns);
  // More than were judged now are of weak points that no longer apply.
  if (total > met) await manager.query(TAKE_OUT, [[...records.keys()], column('vehicle_id'), column('weak_point_id')]);
}

/**
 * A standing is behind when anything it was made of has moved on: the day, the model, the settings, or what is known of
 * its engine.
 */
const IS_STALE = `(s.as_of <> $TODAY or s.model_version <> ${MODEL_VERSION} or s.settings_version <> (select version from setting where id = 1)
  or s.family_revision <> (
    select revision from family_state where family_id = (select family_id from vehicle where id = s.vehicle_id)
  ))`;

/** The same for use in a query whose parameter `today`, such as $1, is today's ISO date. */
export const isStale = (today: string): string => IS_STALE.replace('$TODAY', () => today);

/**
 * Judges the next vehicles whose standing is behind, at most `size`, in one transaction; returns how many. Rows another
 * process works on are skipped, so that any number of processes and threads share the work, and whatever is interrupted
 * is simply still behind.
 */
export async function judgeNext(
  source: DataSource,
  { library, ground }: JudgingGround,
  { size, after }: { readonly size: number; readonly after: string },
): Promise<{ count: number; last: string }> {
  const iso = isoFromDay(ground.today);
  return inTransaction(source, async (manager) => {
    const stale = await manager.query<{ id: string }[]>(
      `select s.vehicle_id as id
        from vehicle_standing s
        where s.vehicle_id > $2 and ${isStale('$1')}
        order by s.vehicle_id
        limit $3 for update of s skip locked`,
      [iso, after, size],
    );
    if (stale.length === 0) return { count: 0, last: after };
    await judgeAndSave(
      manager,
      { library, ground, knowing: source.manager },
      stale.map(({ id }) => id),
    );
    return { count: stale.length, last: stale.at(-1)!.id };
  });
}

/** Marks vehicles as changed since they were read and judged. */
export async function markBehind(manager: EntityManager, vehicleIds: readonly string[]): Promise<void> {
  await manager.query('insert into observation_due select unnest($1::uuid[]) on conflict do nothing', [vehicleIds]);
  await manager.query(
    `insert into vehicle_standing (vehicle_id, rank, as_of, model_version)
      select id, ${NOTHING_PRESSING}, '1970-01-01', 0
      from vehicle
      where id = any($1::uuid[]) and retracted_at is null
     on conflict (vehicle_id) do update set model_version = 0`,
    [vehicleIds],
  );
}
