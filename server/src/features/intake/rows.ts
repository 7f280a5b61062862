import { randomUUID } from 'node:crypto';
import { foundBy } from '../../platform/search.ts';
import { MOST_KM, MOST_SERIAL, UPKEEP_CERTAINTIES, type IntakeFormats, type IntakeKind } from '@crosspeen/contract';
import {
  CERTAINTIES,
  compactKey,
  CONDITIONS,
  dayFromIso,
  GRADES,
  isoFromDay,
  SOURCES,
  toKm,
  type Certainty,
  type DistanceUnit,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import type { BulkRows } from './bulk.ts';
import { unquoted } from './columns.ts';
import { readDate, readFigure, YEARS } from './formats.ts';

/** One row of a file: its line, and its cells by the column they were taken for. */
export interface SheetRow {
  readonly line: number;
  readonly cells: Readonly<Record<string, string>>;
  readonly raw: readonly string[];
}
export interface RowFault {
  readonly line: number;
  readonly raw: readonly string[];
  readonly reason: string;
}
export interface Sorted {
  readonly rows: BulkRows;
  readonly written: number;
  readonly known: number;
  readonly faults: readonly RowFault[];
}
export interface SortGround {
  readonly kind: IntakeKind;
  readonly formats: IntakeFormats;
  readonly today: number;
}

/** Why a row cannot be taken, in words with the mend. */
class Fault extends Error {}
const fault = (reason: string): never => {
  throw new Fault(reason);
};

const LONGEST = {
  plate: 20,
  name: 60,
  model: 60,
  market: 60,
  contact: 120,
  note: 300,
  partNumber: 40,
  revision: 10,
} as const;

/** A column as people say it: cameOut is “came out”. */
const called = (column: string): string => column.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
const text = (row: SheetRow, column: string): string => unquoted((row.cells[column] ?? '').trim());
const short = (row: SheetRow, column: keyof typeof LONGEST): string | null => {
  const value = text(row, column);
  if (value.length > LONGEST[column])
    fault(`${called(column)} has ${value.length} characters; at most ${LONGEST[column]} can be kept`);
  return value === '' ? null : value;
};
function day(row: SheetRow, column: string, { formats, today }: SortGround): string | null {
  const cell = text(row, column);
  if (cell === '') return null;
  const iso =
    readDate(cell, formats.date) ??
    fault(`“${cell}” is no date; write ${{ ymd: '2024-05-31', dmy: '31.5.2024', mdy: '5/31/2024' }[formats.date]}`);
  if (dayFromIso(iso)! > today) fault(`${cell} has not come yet; only what has happened can be imported`);
  return iso;
}
function km(row: SheetRow, column: string, { formats }: SortGround, own: DistanceUnit): number | null {
  const cell = text(row, column);
  if (cell === '') return null;
  const figure =
    readFigure(cell, formats.decimal) ?? fault(`“${cell}” is no figure; write digits only, such as 148000`);
  const said = /mi(les)?$/i.test(cell)
    ? 'mi'
    : /km$/i.test(cell)
      ? 'km'
      : /\dh$/i.test(cell.replace(/\s/g, ''))
        ? 'h'
        : formats.unit === 'own'
          ? own
          : formats.unit;
  const value = toKm(figure, said);
  if (value < 0) fault(`“${cell}” is negative; a meter never is`);
  if (value > MOST_KM) fault(`“${cell}” is more than any vehicle runs; check the number of digits`);
  return value;
}
/** One of a list of words; spaces, hyphens and case do not matter. */
function oneOf<Word extends string>(
  row: SheetRow,
  column: string,
  words: readonly Word[],
  also: Readonly<Record<string, Word>> = {},
): Word | null {
  const cell = text(row, column)
    .toLowerCase()
    .replace(/[\s-]+/g, '_');
  if (cell === '') return null;
  return (
    words.find((word) => word === cell) ??
    also[cell] ??
    fault(
      `“${text(row, column)}” is not understood under ${called(column)}; write ${words.map((word) => word.replaceAll('_', ' ')).join(', ')}`,
    )
  );
}
/** An engine's number: digits, which may be parted by spaces, points or strokes. */
function serialOf(row: SheetRow): number | null {
  const cell = text(row, 'serial');
  if (cell === '') return null;
  const digits = cell.replace(/[\s.,/-]/g, '');
  if (!/^\d+$/.test(digits)) fault(`“${cell}” is no engine serial; write its digits`);
  if (digits.length > 16 || Number(digits) > MOST_SERIAL)
    fault(`“${cell}” has more digits than an engine serial; check them`);
  return Number(digits);
}
/** A day of first registration, or the middle of a bare year. */
function registered(row: SheetRow, ground: SortGround): string | null {
  const cell = text(row, 'firstRegistered');
  if (!/^\d{4}$/.test(cell)) return day(row, 'firstRegistered', ground);
  const thisYear = Number(isoFromDay(ground.today).slice(0, 4));
  if (Number(cell) < YEARS.first || Number(cell) > thisYear)
    fault(`“${cell}” is no year a vehicle was registered in; write a year up to ${thisYear}, or leave it empty`);
  return Number(cell) === thisYear ? `${cell}-01-01` : `${cell}-07-01`;
}
const yes = (row: SheetRow, column: string): boolean => /^(y|yes|true|1|x|ja)$/i.test(text(row, column));

interface OnFile {
  readonly id: string;
  readonly familyId: string;
  readonly unit: DistanceUnit;
}

/** Saved vehicles that the rows name, by plate or name. */
async function vehiclesNamed(manager: EntityManager, rows: readonly SheetRow[]): Promise<(row: SheetRow) => OnFile> {
  const keys = [...new Set(rows.map((row) => compactKey(text(row, 'vehicle'))))].filter(Boolean);
  const found = await manager.query<(OnFile & { plateKey: string | null; nameKey: string | null })[]>(
    `select id, family_id as "familyId", odometer_unit as unit, plate_key as "plateKey", name_key as "nameKey"
      from vehicle
      where retracted_at is null and plate_key = any($1::text[])
     union
     select id, family_id, odometer_unit, plate_key, name_key
     from vehicle
     where retracted_at is null and name_key = any($1::text[])`,
    [keys],
  );
  const byPlate = new Map(
    found.flatMap((vehicle) => (vehicle.plateKey === null ? [] : [[vehicle.plateKey, vehicle] as const])),
  );
  const byName = new Map<string, OnFile | null>();
  for (const vehicle of found)
    if (vehicle.nameKey !== null) byName.set(vehicle.nameKey, byName.has(vehicle.nameKey) ? null : vehicle);
  return (row) => {
    const said = text(row, 'vehicle');
    if (said === '') fault('the vehicle is missing; write its plate or name');
    const key = compactKey(said);
    const named = byPlate.get(key) ?? byName.get(key);
    if (named === null) fault(`several vehicles are called “${said}”; write the plate`);
    return named ?? fault(`no saved vehicle has the plate or name “${said}”; import the vehicles first, or correct it`);
  };
}

interface PointOnFile {
  readonly id: string;
  readonly familyId: string;
  readonly componentId: string;
  readonly names: readonly string[];
}

/** Weak points and components of the engines concerned, by key, title or component. */
async function pointsNamed(
  manager: EntityManager,
  familyIds: readonly string[],
): Promise<(familyId: string, said: string) => readonly PointOnFile[]> {
  const points = await manager.query<PointOnFile[]>(
    `select w.id, w.family_id as "familyId", w.component_id as "componentId",
        array[lower(w.title), lower(w.key), lower(c.name), lower(c.key)] as names
      from weak_point w
      join component c on c.id = w.component_id
     where w.family_id = any($1::uuid[]) and w.state in ('published', 'retired') order by w.position`,
    [familyIds],
  );
  return (familyId, said) => {
    const wanted = said.trim().toLowerCase();
    return points.filter((point) => point.familyId === familyId && point.names.includes(wanted));
  };
}

interface Attempted<Made> {
  readonly made: readonly { readonly made: Made; readonly same: string }[];
  readonly faults: RowFault[];
}

/** Tries to turn each row into its record; `same` tells it from what is on file. */
function attempt<Made extends object>(
  rows: readonly SheetRow[],
  make: (row: SheetRow) => { made: Made; same: string },
): Attempted<Made> {
  const made: { made: Made; same: string }[] = [];
  const faults: RowFault[] = [];
  for (const row of rows) {
    try {
      made.push(make(row));
    } catch (error) {
      if (!(error instanceof Fault)) throw error;
      faults.push({ line: row.line, raw: row.raw, reason: error.message });
    }
  }
  return { made, faults };
}

/** Records that are neither on file nor earlier in the file. */
function fresh<Made>(made: Attempted<Made>['made'], onFile: Iterable<string>): { fresh: Made[]; known: number } {
  const seen = new Set(onFile);
  const left = made.filter(({ same }) => !seen.has(same) && seen.add(same));
  return { fresh: left.map((one) => one.made), known: made.length - left.length };
}

/** Rows of a table on the days that records name, each vehicle's own: what the records may be the same as. */
const onThoseDays = <Row>(
  manager: EntityManager,
  table: 'meter_reading' | 'service_record' | 'finding' | 'upkeep_record',
  columns: string,
  records: readonly { readonly vehicleId: string; readonly day: string | null }[],
): Promise<Row[]> =>
  manager.query<Row[]>(
    `select ${columns}
      from (select distinct vehicle_id, day from jsonb_to_recordset($1::jsonb) as c(vehicle_id uuid, day date)) as c
      join ${table} r on r.vehicle_id = c.vehicle_id and r.day = c.day
      where r.retracted_at is null
   union all
   select ${columns}
   from (
     select distinct vehicle_id from jsonb_to_recordset($1::jsonb) as c(vehicle_id uuid, day date) where day is null
   ) as c
   join ${table} r on r.vehicle_id = c.vehicle_id and r.day is null
   where r.retracted_at is null`,
    [JSON.stringify(records.map(({ vehicleId, day: on }) => ({ vehicle_id: vehicleId, day: on })))],
  );

const joined = (...parts: readonly (string | number | null)[]): string => parts.map((part) => part ?? '').join(' | ');

async function sortVehicles(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const codes = [...new Set(rows.map((row) => compactKey(text(row, 'engine'))))];
  const families = new Map(
    (
      await manager.query<
        { id: string; code: string; codeKey: string; maker: string; variants: { key: string; name: string }[] }[]
      >(
        `select f.id, f.code, f.code_key as "codeKey", m.name as maker,
            (
              select coalesce(jsonb_agg(jsonb_build_object('key', v.key, 'name', v.name)), '[]')
              from engine_variant v
              where v.family_id = f.id
            ) as variants
     from engine_family f join maker m on m.id = f.maker_id where f.code_key = any($1::text[])`,
        [codes],
      )
    ).map((family) => [family.codeKey, family]),
  );
  const keys = rows.flatMap((row) => [compactKey(text(row, 'plate')), compactKey(text(row, 'name'))]).filter(Boolean);
  const seen = new Set(
    (
      await manager.query<{ same: string }[]>(
        `select coalesce('plate ' || plate_key, 'name ' || name_key) as same
          from vehicle
          where retracted_at is null
            and (plate_key = any($1::text[]) or (plate_key is null and name_key = any($1::text[])))`,
        [keys],
      )
    ).map(({ same }) => same),
  );
  const { made: tried, faults } = attempt(rows, (row) => {
    const [plate, name] = [short(row, 'plate'), short(row, 'name')];
    const plateKey = plate === null ? null : compactKey(plate);
    if (plate === null && name === null)
      fault('plate and name are both missing; write one, so that it can be found again');
    if (plateKey === '') fault(`the plate “${plate}” has no letters or digits; write it as it stands on the vehicle`);
    const family =
      families.get(compactKey(text(row, 'engine'))) ??
      fault(
        text(row, 'engine') === ''
          ? 'the engine code is missing; it stands on the block or in the papers'
          : `no engine of the library has the code “${text(row, 'engine')}”; correct it, or import its pack first`,
      );
    const said = text(row, 'variant').toLowerCase();
    const variant =
      said === ''
        ? null
        : (family.variants.find(({ key, name: called }) => key === said || called.toLowerCase() === said) ??
          fault(
            `“${text(row, 'variant')}” is no variant of ${family.code}; leave it empty, or write ${family.variants.map((each) => each.name).join(' or ')}`,
          ));
    const unit =
      oneOf(row, 'unit', ['km', 'mi', 'h'] as const, { miles: 'mi', hours: 'h', kilometres: 'km' }) ??
      (ground.formats.unit === 'own' ? 'km' : ground.formats.unit);
    const serial = serialOf(row);
    const reading = km(row, 'reading', ground, unit);
    return {
      same: plateKey === null ? `name ${compactKey(name!)}` : `plate ${plateKey}`,
      made: {
        reading: reading === null ? null : { km: reading, day: day(row, 'readingDate', ground) },
        vehicle: {
          plate,
          plateKey,
          name,
          nameKey: name === null ? null : compactKey(name),
          model: short(row, 'model'),
          familyId: family.id,
          variantKey: variant?.key ?? null,
          firstRegistered: registered(row, ground),
          firstSeen: null,
          market: short(row, 'market'),
          serial,
          features: {},
          fitted: {},
          duty: {},
          odometerUnit: unit,
          severity: 1,
          contact: short(row, 'contact'),
          planning: null,
          note: short(row, 'note'),
          searchText: foundBy([plate, plateKey, name, family.maker, text(row, 'model'), family.code]),
        },
      },
    };
  });
  const { fresh: made, known } = fresh(tried, seen);
  const all = made.map((one) => ({ ...one, id: randomUUID() }));
  return {
    known,
    faults,
    written: made.length,
    rows: {
      vehicles: all.map(({ id, vehicle }) => ({ id, ...vehicle })),
      readings: all.flatMap(({ id, reading }) =>
        reading === null ? [] : [{ vehicleId: id, km: reading.km, day: reading.day ?? isoFromDay(ground.today) }],
      ),
    },
  };
}

async function sortReadings(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const vehicle = await vehiclesNamed(manager, rows);
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, unit } = vehicle(row);
    const on = day(row, 'date', ground) ?? fault('the date is missing; a reading is what the meter showed on a day');
    const value = km(row, 'reading', ground, unit) ?? fault('the reading is missing; write what the meter showed');
    return { same: joined(id, on, Math.round(value)), made: { vehicleId: id, day: on, km: value } };
  });
  const onFile = await onThoseDays<{ id: string; day: string; km: number }>(
    manager,
    'meter_reading',
    'r.vehicle_id as id, r.day, r.km',
    tried.map(({ made }) => made),
  );
  const { fresh: readings, known } = fresh(
    tried,
    onFile.map((row) => joined(row.id, row.day, Math.round(row.km))),
  );
  return { known, faults, written: readings.length, rows: { readings } };
}

const CERTAINTY_ALSO: Readonly<Record<string, Certainty>> = {
  yes: 'done',
  renewed: 'done',
  maybe: 'believed',
  no: 'not_done',
  never: 'not_done',
};

async function sortServices(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const vehicle = await vehiclesNamed(manager, rows);
  const on = rows.flatMap((row) => {
    try {
      return [vehicle(row)];
    } catch {
      return [];
    }
  });
  const points = await pointsNamed(manager, [...new Set(on.map(({ familyId }) => familyId))]);
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, familyId, unit } = vehicle(row);
    const said = text(row, 'component');
    if (said === '') fault('the component is missing; write what was renewed');
    const [point] = points(familyId, said);
    if (!point) fault(`“${said}” is no component or weak point of this vehicle’s engine; write it as the library does`);
    const certainty = oneOf(row, 'certainty', CERTAINTIES, CERTAINTY_ALSO) ?? 'done';
    const dated = certainty === 'done' || certainty === 'believed';
    const date = day(row, 'date', ground);
    if (dated && date === null) fault('the date is missing; write when it was done, or “unknown” under certainty');
    const cameOut = oneOf(row, 'cameOut', CONDITIONS, { good: 'sound', ok: 'sound', broken: 'failed' });
    const made = {
      vehicleId: id,
      componentId: point!.componentId,
      visitId: null,
      certainty,
      day: dated ? date : null,
      km: dated ? km(row, 'reading', ground, unit) : null,
      grade: oneOf(row, 'grade', GRADES, { genuine: 'original', oem: 'original' }) ?? ('original' as const),
      partNumber: short(row, 'partNumber'),
      revision: short(row, 'revision'),
      source: oneOf(row, 'source', SOURCES),
      cameOut: certainty === 'done' ? cameOut : null,
      note: short(row, 'note'),
    };
    return {
      same: joined(id, made.componentId, certainty, made.day, made.partNumber, made.revision),
      made: { ...made, weakPointId: point!.id },
    };
  });
  const onFile = await onThoseDays<{
    vehicleId: string;
    componentId: string;
    certainty: string;
    day: string | null;
    partNumber: string | null;
    revision: string | null;
  }>(
    manager,
    'service_record',
    'r.vehicle_id as "vehicleId", r.component_id as "componentId", r.certainty, r.day, r.part_number as "partNumber", r.revision',
    tried.map(({ made }) => made),
  );
  const { fresh: made, known } = fresh(
    tried,
    onFile.map((row) => joined(row.vehicleId, row.componentId, row.certainty, row.day, row.partNumber, row.revision)),
  );
  return {
    known,
    faults,
    written: made.length,
    rows: {
      services: made.map(({ weakPointId: _, ...service }) => service),
      // What came out worn or failed is a finding too, as when it is typed.
      findings: made.flatMap(({ cameOut, weakPointId, vehicleId, day: found }) =>
        cameOut === 'worn' || cameOut === 'failed'
          ? [
              {
                vehicleId,
                weakPointId,
                visitId: null,
                day: found!,
                result: cameOut,
                broughtIn: false,
                sinceDay: null,
                grade: null,
                measured: null,
                unit: null,
                note: null,
              },
            ]
          : [],
      ),
    },
  };
}

async function sortFindings(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const vehicle = await vehiclesNamed(manager, rows);
  const on = rows.flatMap((row) => {
    try {
      return [vehicle(row)];
    } catch {
      return [];
    }
  });
  const points = await pointsNamed(manager, [...new Set(on.map(({ familyId }) => familyId))]);
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, familyId } = vehicle(row);
    const said = text(row, 'weakPoint');
    const found = points(familyId, said);
    if (found.length === 0)
      fault(
        said === ''
          ? 'the weak point is missing; write what was looked at'
          : `“${said}” is no weak point of this vehicle’s engine; write it as the library does`,
      );
    if (found.length > 1) fault(`“${said}” may be ${found.map(({ names }) => names[0]).join(' or ')}; write which`);
    const date = day(row, 'date', ground) ?? fault('the date is missing; write when it was found');
    const result =
      oneOf(row, 'result', CONDITIONS, {
        good: 'sound',
        ok: 'sound',
        clean: 'sound',
        broken: 'failed',
        broke: 'failed',
      }) ?? fault('the result is missing; write sound, worn or failed');
    return {
      same: joined(id, found[0]!.id, date, result),
      made: {
        vehicleId: id,
        weakPointId: found[0]!.id,
        visitId: null,
        day: date,
        result,
        broughtIn: result === 'failed' && yes(row, 'broughtIn'),
        sinceDay: null,
        grade: null,
        measured: null,
        unit: null,
        note: short(row, 'note'),
      },
    };
  });
  const onFile = await onThoseDays<{ vehicleId: string; weakPointId: string; day: string; result: string }>(
    manager,
    'finding',
    'r.vehicle_id as "vehicleId", r.weak_point_id as "weakPointId", r.day, r.result',
    tried.map(({ made }) => made),
  );
  const { fresh: findings, known } = fresh(
    tried,
    onFile.map((row) => joined(row.vehicleId, row.weakPointId, row.day, row.result)),
  );
  return { known, faults, written: findings.length, rows: { findings } };
}

const DONE_ALSO = { yes: 'done', renewed: 'done', ok: 'done', no: 'never', not_done: 'never' } as const;

async function sortUpkeep(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const vehicle = await vehiclesNamed(manager, rows);
  const tasks = await manager.query<{ id: string; familyId: string; names: string[] }[]>(
    `select t.id, t.family_id as "familyId", array[lower(t.title), lower(t.key)] as names
      from upkeep_task t
      where t.state = 'current' and (lower(t.title) = any($1::text[]) or lower(t.key) = any($1::text[]))`,
    [rows.map((row) => text(row, 'task').toLowerCase())],
  );
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, familyId, unit } = vehicle(row);
    const said = text(row, 'task');
    const task =
      tasks.find((one) => one.familyId === familyId && one.names.includes(said.toLowerCase())) ??
      fault(
        said === ''
          ? 'the task is missing; write what was done, such as an oil change, as the library does'
          : `“${said}” is no upkeep task of this vehicle’s engine; write it as the library does`,
      );
    const date = day(row, 'date', ground) ?? fault('the date is missing; write when it was done');
    const certainty = oneOf(row, 'certainty', UPKEEP_CERTAINTIES, DONE_ALSO) ?? ('done' as const);
    return {
      same: joined(id, task.id, certainty, date),
      made: {
        vehicleId: id,
        taskId: task.id,
        visitId: null,
        certainty,
        day: date,
        km: km(row, 'reading', ground, unit),
        note: short(row, 'note'),
      },
    };
  });
  const onFile = await onThoseDays<{ vehicleId: string; taskId: string; certainty: string; day: string }>(
    manager,
    'upkeep_record',
    'r.vehicle_id as "vehicleId", r.task_id as "taskId", r.certainty, r.day',
    tried.map(({ made }) => made),
  );
  const { fresh: upkeep, known } = fresh(
    tried,
    onFile.map((row) => joined(row.vehicleId, row.taskId, row.certainty, row.day)),
  );
  return { known, faults, written: upkeep.length, rows: { upkeep } };
}

const SORTERS = {
  vehicles: sortVehicles,
  readings: sortReadings,
  services: sortServices,
  findings: sortFindings,
  upkeep: sortUpkeep,
} as const satisfies Record<IntakeKind, unknown>;

/**
 * Checks some rows of a file against what is on file: what can be written, what is there already, and what has to be
 * mended, row by row.
 */
export const sortRows = (manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> =>
  SORTERS[ground.kind](manager, rows, ground);
