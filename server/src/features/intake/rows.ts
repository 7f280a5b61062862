import { randomUUID } from 'node:crypto';
import { foundBy } from '../../platform/search.ts';
import { UPKEEP_CERTAINTIES, type IntakeKind } from '@crosspeen/contract';
import {
  CERTAINTIES,
  compactKey,
  CONDITIONS,
  fromKm,
  GRADES,
  isoFromDay,
  SOURCES,
  type Certainty,
  type DistanceUnit,
} from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import {
  type SheetRow,
  type Sorted,
  type SortGround,
  type Wording,
  fault,
  text,
  short,
  day,
  km,
  oneOf,
  serialOf,
  registered,
  yes,
  unitNamed,
} from './cells.ts';
import {
  vehiclesNamed,
  pointsNamed,
  attempt,
  fresh,
  onThoseDays,
  joined,
  statedOfWhatIsIn,
  type ServiceOnFile,
} from './on-file.ts';

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
    const unit = unitNamed(row) ?? (ground.formats.unit === 'own' ? 'km' : ground.formats.unit);
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

/** A reading as our own lists show it, whole in the vehicle's unit: two that read the same there are one. */
const shownAs = (km: number, unit: DistanceUnit): number => Math.round(fromKm(km, unit));

async function sortReadings(manager: EntityManager, rows: readonly SheetRow[], ground: SortGround): Promise<Sorted> {
  const vehicle = await vehiclesNamed(manager, rows);
  const units = new Map<string, DistanceUnit>();
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, unit } = vehicle(row);
    const on = day(row, 'date', ground) ?? fault('the date is missing; a reading is what the meter showed on a day');
    const value = km(row, 'reading', ground, unit) ?? fault('the reading is missing; write what the meter showed');
    units.set(id, unit);
    return { same: joined(id, on, shownAs(value, unit)), made: { vehicleId: id, day: on, km: value } };
  });
  const onFile = await onThoseDays<{ id: string; day: string; km: number }>(
    manager,
    'meter_reading',
    'r.vehicle_id as id, r.day, r.km',
    tried.map(({ made }) => made),
  );
  const { fresh: readings, known } = fresh(
    tried,
    onFile.map((row) => joined(row.id, row.day, shownAs(row.km, units.get(row.id)!))),
  );
  return { known, faults, written: readings.length, rows: { readings } };
}

/** What a look found, in the words it goes by on the screen and off it. */
const FOUND: Wording<(typeof CONDITIONS)[number]> = {
  also: { good: 'sound', ok: 'sound', clean: 'sound', broken: 'failed', broke: 'failed' },
  called: { sound: 'good' },
};

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
  /** Vehicles of which something is stated without a day. */
  const undated = new Set<string>();
  const { made: tried, faults } = attempt(rows, (row) => {
    const { id, familyId, unit } = vehicle(row);
    const said = text(row, 'component');
    if (said === '') fault('the component is missing; write what was renewed');
    const [point] = points(familyId, said);
    if (!point) fault(`“${said}” is no component or weak point of this vehicle’s engine; write it as the library does`);
    const certainty = oneOf(row, 'certainty', CERTAINTIES, { also: CERTAINTY_ALSO }) ?? 'done';
    const dated = certainty === 'done' || certainty === 'believed';
    const date = day(row, 'date', ground);
    if (dated && date === null) fault('the date is missing; write when it was done, or “unknown” under certainty');
    if (date === null) undated.add(id);
    const cameOut = oneOf(row, 'cameOut', CONDITIONS, FOUND);
    const made = {
      vehicleId: id,
      componentId: point!.componentId,
      visitId: null,
      certainty,
      // That something was never done, or that nobody knows, is said of the part that is in on the day it is said.
      day: date ?? isoFromDay(ground.today),
      km: dated ? km(row, 'reading', ground, unit) : null,
      grade: oneOf(row, 'grade', GRADES, { also: { genuine: 'original', oem: 'original' } }) ?? ('original' as const),
      partNumber: short(row, 'partNumber'),
      revision: short(row, 'revision'),
      source: oneOf(row, 'source', SOURCES),
      cameOut: certainty === 'done' ? cameOut : null,
      note: short(row, 'note'),
    };
    return {
      same: joined(id, made.componentId, certainty, date, made.partNumber, made.revision),
      made: { ...made, weakPointId: point!.id },
    };
  });
  const onFile = await onThoseDays<ServiceOnFile>(
    manager,
    'service_record',
    'r.vehicle_id as "vehicleId", r.component_id as "componentId", r.certainty, r.day, r.part_number as "partNumber", r.revision',
    tried.map(({ made }) => made),
  );
  const stated = undated.size === 0 ? [] : await statedOfWhatIsIn(manager, [...undated]);
  // What is stated without a day is there already, on whatever day it was said of the same part.
  const { fresh: made, known } = fresh(tried, [
    ...onFile.map((row) =>
      joined(row.vehicleId, row.componentId, row.certainty, row.day, row.partNumber, row.revision),
    ),
    ...stated.map((row) => joined(row.vehicleId, row.componentId, row.certainty, null, row.partNumber, row.revision)),
  ]);
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
                day: found,
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
      oneOf(row, 'result', CONDITIONS, FOUND) ?? fault('the result is missing; write good, worn or failed');
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
    const certainty = oneOf(row, 'certainty', UPKEEP_CERTAINTIES, { also: DONE_ALSO }) ?? ('done' as const);
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
