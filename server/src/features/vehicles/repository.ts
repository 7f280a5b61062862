import type { HistoryEntry, PartOptionByComponent, VehicleListRow, ChangeRow } from '@crosspeen/contract';
import type { Certainty, Grade } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { StandingEntity, type StandingRow } from './entity.ts';

const likePattern = (word: string): string => `%${word.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`;

/** One page of vehicles, worst first or by plate, searched by every word of `q`. */
export async function listVehicles(
  manager: EntityManager, { q, order, page, pageSize }: { q: string; order: 'pressing' | 'plate'; page: number; pageSize: number },
): Promise<{ rows: VehicleListRow[]; total: number }> {
  const words = q.trim().split(/\s+/).filter(Boolean).slice(0, 8).map(likePattern);
  const searched = words.length > 0 ? 'and v.search_text like all($1::text[])' : 'and $1::text[] is not null';
  // The page is found on ids alone; only its own rows are joined to what is shown. A vehicle has a standing exactly while it is not taken back.
  const ids = order === 'plate'
    ? `select v.id, row_number() over (order by coalesce(v.plate_key, v.name_key), v.id) as place from vehicle v where v.retracted_at is null ${searched} order by place limit $2 offset $3`
    : words.length > 0
      ? `select v.id, row_number() over (order by s.rank, v.id) as place from vehicle v join vehicle_standing s on s.vehicle_id = v.id where v.retracted_at is null ${searched} order by place limit $2 offset $3`
      : `select s.vehicle_id as id, row_number() over (order by s.rank, s.vehicle_id) as place from vehicle_standing s where $1::text[] is not null order by s.rank, s.vehicle_id limit $2 offset $3`;
  const [rows, counted] = await Promise.all([
    manager.query<(Record<string, unknown> & { title: string | null })[]>(
      `select v.id, v.plate, v.name, v.model, v.odometer_unit as "odometerUnit", m.name as maker, f.code as "engineCode",
         s.title, s.verdict, s.chance, s.due_day as "dueDay", s.due_km as "dueKm", s.others, s.km, s.as_of as "asOf",
         (select min(day) from visit where vehicle_id = v.id and state = 'planned' and retracted_at is null) as "nextVisit"
       from (${ids}) as found join vehicle v on v.id = found.id join vehicle_standing s on s.vehicle_id = v.id
       join engine_family f on f.id = v.family_id join maker m on m.id = f.maker_id
       order by found.place`, [words, pageSize, (page - 1) * pageSize]),
    manager.query<{ total: number }[]>(`select count(*) as total from vehicle v where v.retracted_at is null ${searched}`, [words]),
  ]);
  return {
    total: Number(counted[0]!.total),
    rows: rows.map(({ title, verdict, chance, dueDay, dueKm, others, asOf, ...vehicle }) => ({
      ...vehicle, pressing: title === null ? null : { title, verdict, chance, dueDay, dueKm, others, asOf },
    })) as unknown as VehicleListRow[],
  };
}

export interface ServiceJoined { componentKey: string; certainty: Certainty; day: string | null; grade: Grade; revision: string | null }

/** Readings, service records and findings that count for one vehicle, oldest first. */
export async function recordsOf(manager: EntityManager, vehicleId: string): Promise<{
  readings: { id: string; day: string; km: number }[]; services: ServiceJoined[]; findings: { weakPointId: string; day: string; worn: boolean }[];
}> {
  // One after the other: inside a transaction they share one connection.
  const readings = await manager.query<{ id: string; day: string; km: number }[]>('select id, day, km from meter_reading where vehicle_id = $1 and retracted_at is null order by day, km', [vehicleId]);
  const services = await manager.query<ServiceJoined[]>(
    `select c.key as "componentKey", r.certainty, r.day, r.grade, r.revision from service_record r join component c on c.id = r.component_id
     where r.vehicle_id = $1 and r.retracted_at is null order by r.created_at, r.id`, [vehicleId]);
  const findings = await manager.query<{ weakPointId: string; day: string; worn: boolean }[]>(
    'select weak_point_id as "weakPointId", day, worn from finding where vehicle_id = $1 and retracted_at is null order by day, created_at', [vehicleId]);
  return { readings, services, findings };
}

/** One page of what happened to a vehicle, latest first; records without a date come last. */
export async function historyOf(manager: EntityManager, vehicleId: string, page: number, pageSize: number): Promise<{ rows: HistoryEntry[]; total: number }> {
  const union = `
    select 'service' as kind, r.id, r.day, r.km, c.name as title, r.certainty, r.grade, r.part_number, r.revision, null::boolean as worn, r.note, u.display_name as by, r.created_at
      from service_record r join component c on c.id = r.component_id join app_user u on u.id = r.user_id where r.vehicle_id = $1 and r.retracted_at is null
    union all
    select 'finding', n.id, n.day, null, w.title, null, null, null, null, n.worn, n.note, u.display_name, n.created_at
      from finding n join weak_point w on w.id = n.weak_point_id join app_user u on u.id = n.user_id where n.vehicle_id = $1 and n.retracted_at is null
    union all
    select 'reading', g.id, g.day, g.km, null, null, null, null, null, null, null, u.display_name, g.created_at
      from meter_reading g join app_user u on u.id = g.user_id where g.vehicle_id = $1 and g.retracted_at is null`;
  interface Row { kind: string; id: string; day: string | null; km: number | null; title: string; certainty: Certainty; grade: Grade; part_number: string | null; revision: string | null; worn: boolean; note: string | null; by: string }
  const [rows, counted] = await Promise.all([
    manager.query<Row[]>(`select * from (${union}) as entry order by day desc nulls last, created_at desc, id limit $2 offset $3`, [vehicleId, pageSize, (page - 1) * pageSize]),
    manager.query<{ total: number }[]>(`select count(*) as total from (${union}) as entry`, [vehicleId]),
  ]);
  return {
    total: Number(counted[0]!.total),
    rows: rows.map((row): HistoryEntry => {
      if (row.kind === 'service') return { kind: 'service', id: row.id, day: row.day, km: row.km, component: row.title, certainty: row.certainty, grade: row.grade, partNumber: row.part_number, revision: row.revision, note: row.note, by: row.by };
      if (row.kind === 'finding') return { kind: 'finding', id: row.id, day: row.day!, km: row.km, title: row.title, worn: row.worn, note: row.note, by: row.by };
      return { kind: 'reading', id: row.id, day: row.day!, km: row.km!, fits: true, by: row.by };
    }),
  };
}

/** One page of the changes to a vehicle, latest first, each with its rows before and after. */
export async function changesOf(manager: EntityManager, vehicleId: string, page: number, pageSize: number): Promise<{ rows: ChangeRow[]; total: number }> {
  const [rows, counted] = await Promise.all([
    manager.query<ChangeRow[]>(
      `select c.id, to_char(c.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at, u.display_name as by, c.summary,
         exists (select 1 from change z where z.undoes = c.id) as undone,
         c.undoes is null and not exists (select 1 from change z where z.undoes = c.id) as undoable,
         (select coalesce(jsonb_agg(jsonb_build_object('entity', i.entity, 'before', i.before, 'after', i.after) order by i.id), '[]') from change_item i where i.change_id = c.id) as items
       from change c join app_user u on u.id = c.user_id where c.vehicle_id = $1 order by c.at desc, c.id limit $2 offset $3`, [vehicleId, pageSize, (page - 1) * pageSize]),
    manager.query<{ total: number }[]>('select count(*) as total from change where vehicle_id = $1', [vehicleId]),
  ]);
  return { rows, total: Number(counted[0]!.total) };
}

/** Parts on offer by component key, for the components of one engine family. */
export async function partsOfFamily(manager: EntityManager, familyId: string): Promise<PartOptionByComponent> {
  const rows = await manager.query<{ key: string; options: PartOptionByComponent[string] }[]>(
    `select c.key, jsonb_agg(jsonb_build_object('number', p.number, 'name', p.name, 'grade', p.grade, 'revision', p.revision, 'howToTell', p.how_to_tell) order by p.grade = 'original' desc, p.number desc) as options
     from component c join part p on p.component_id = c.id where c.id in (select component_id from weak_point where family_id = $1) group by c.key`, [familyId]);
  return Object.fromEntries(rows.map(({ key, options }) => [key, options]));
}

export async function saveStanding(manager: EntityManager, row: StandingRow): Promise<void> {
  await manager.upsert(StandingEntity, row, ['vehicleId']);
}
