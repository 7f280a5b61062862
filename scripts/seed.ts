import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { DAYS_PER_YEAR, compactKey, isoFromDay } from '@crosspeen/core';
import {
  DEMO_ACCOUNTS,
  DEMO_VEHICLES,
  DEMO_WORKSHOP,
  demoFleet,
  demoPacks,
  type DemoVehicle,
  type FleetVehicle,
} from '@crosspeen/demo';
import {
  buildServices,
  DEFAULT_SETTINGS,
  foundBy,
  loadPack,
  openDatabase,
  shopClock,
  writeBulk,
  type BulkRows,
  type Services,
} from '@crosspeen/server';

interface Known {
  readonly families: Map<string, string>;
  readonly points: Map<string, string>;
  readonly tasks: Map<string, string>;
}

async function addVehicle(
  { vehicles, records, visits, clock }: Services,
  author: { userId: string },
  known: Known,
  demo: DemoVehicle,
): Promise<void> {
  const today = clock.today();
  const ago = (days: number): string => isoFromDay(today - days);
  const point = (key: string): never => {
    const id = known.points.get(key);
    if (id === undefined) throw new Error(`the demo names a weak point “${key}” that is not in the pack`);
    return id as never;
  };
  const { id } = await vehicles.create(author, {
    plate: demo.plate,
    name: demo.name ?? null,
    model: demo.model,
    familyId: known.families.get(demo.engine) as never,
    variantKey: demo.variant ?? null,
    firstRegistered: demo.ageYears === null ? null : ago(Math.round(demo.ageYears * DAYS_PER_YEAR)),
    history: [],
    odometerUnit: demo.unit ?? 'km',
    severity: demo.severity ?? 1,
    firstSeen: null,
    market: demo.market ?? null,
    serial: demo.serial ?? null,
    features: demo.features ?? {},
    fitted: {},
    duty: demo.duty ?? {},
    contact: demo.contact ?? null,
    note: demo.note ?? null,
    reading: null,
  });
  for (const [days, km] of demo.readings) await records.addReading(author, id, { day: ago(days), km, sure: true });
  for (const service of demo.services ?? []) {
    await records.addService(author, id, {
      weakPointId: point(service.point),
      certainty: service.certainty ?? 'done',
      day: service.daysAgo === undefined ? null : ago(service.daysAgo),
      km: service.km ?? null,
      grade: service.grade ?? 'original',
      partNumber: service.part ?? null,
      revision: service.revision ?? null,
      source: service.source ?? null,
      cameOut: service.cameOut ?? null,
      note: service.note ?? null,
    });
  }
  for (const finding of demo.findings ?? [])
    await records.addFinding(author, id, {
      weakPointId: point(finding.point),
      day: ago(finding.daysAgo),
      result: finding.result,
      broughtIn: finding.broughtIn ?? false,
      note: finding.note ?? null,
    });
  for (const change of demo.meterChanges ?? [])
    await records.changeMeter(author, id, {
      day: ago(change.daysAgo),
      oldKm: change.oldKm,
      newKm: change.newKm,
      sure: true,
      note: change.note ?? null,
    });
  for (const swap of demo.engineSwaps ?? [])
    await records.swapEngine(author, id, { day: ago(swap.daysAgo), engineKm: swap.engineKm, note: swap.note ?? null });
  for (const { task, daysAgo, never, note } of demo.upkeep ?? [])
    for (const days of daysAgo)
      await records.addUpkeep(author, id, {
        taskId: known.tasks.get(task) as never,
        certainty: never ? 'never' : 'done',
        day: ago(days),
        km: null,
        note: note ?? null,
      });
  for (const choice of demo.schools ?? [])
    await records.chooseSchool(author, id, {
      weakPointId: choice.point === undefined ? null : point(choice.point),
      school: choice.school,
      reason: choice.reason,
    });
  for (const visit of demo.visits ?? []) {
    await visits.plan(author, id, {
      day: isoFromDay(today + visit.inDays),
      km: null,
      note: visit.note ?? null,
      tasks: [],
      jobs: visit.jobs.map((job) => ({
        weakPointId: point(job.point),
        action: job.action,
        grade: 'original',
        partNumber: job.part ?? null,
        revision: job.revision ?? null,
      })),
    });
  }
}

/** Vehicles of the demo beside those written by hand. */
const GENERATED = 225;

/** Puts the generated saved vehicles, all at once. */
async function addFleet(source: DataSource, userIds: readonly string[], fleet: readonly FleetVehicle[]): Promise<void> {
  const families = new Map(
    (
      await source.query<{ code: string; id: string; maker: string }[]>(
        'select f.code, f.id, m.name as maker from engine_family f join maker m on m.id = f.maker_id',
      )
    ).map((row) => [row.code, row]),
  );
  const points = new Map(
    (
      await source.query<{ key: string; id: string; componentId: string }[]>(
        'select key, id, component_id as "componentId" from weak_point',
      )
    ).map((row) => [row.key, row]),
  );
  const tasks = new Map(
    (await source.query<{ key: string; id: string }[]>('select key, id from upkeep_task')).map(({ key, id }) => [
      key,
      id,
    ]),
  );
  const iso = (day: number | null): string | null => (day === null ? null : isoFromDay(day));
  const rowsOf = (vehicles: readonly FleetVehicle[]): BulkRows => {
    const all = vehicles.map((vehicle) => ({ id: randomUUID(), vehicle }));
    const visits = all.flatMap(({ id, vehicle }) =>
      vehicle.visits.map((visit) => ({ id: randomUUID(), vehicleId: id, visit })),
    );
    const visitOn = new Map(visits.map(({ id, vehicleId, visit }) => [`${vehicleId} ${visit.day}`, id]));
    return {
      vehicles: all.map(({ id, vehicle }) => {
        const { id: familyId, maker } = families.get(vehicle.engine)!;
        return {
          id,
          plate: vehicle.plate,
          plateKey: compactKey(vehicle.plate),
          name: null,
          nameKey: null,
          model: vehicle.model,
          familyId,
          variantKey: vehicle.variant,
          firstRegistered: iso(vehicle.registeredDay),
          firstSeen: iso(vehicle.firstSeenDay),
          market: null,
          serial: null,
          features: {},
          fitted: {},
          duty: {},
          odometerUnit: vehicle.unit,
          severity: 1,
          contact: vehicle.contact,
          planning: null,
          note: vehicle.note,
          searchText: foundBy([vehicle.plate, compactKey(vehicle.plate), maker, vehicle.model, vehicle.engine]),
        };
      }),
      readings: all.flatMap(({ id, vehicle }) =>
        vehicle.readings.map(({ day, km }) => ({ vehicleId: id, day: isoFromDay(day), km })),
      ),
      visits: visits.map(({ id, vehicleId, visit: { day, km, done } }) => ({
        id,
        vehicleId,
        state: done ? ('done' as const) : ('planned' as const),
        day: isoFromDay(day),
        km,
        note: null,
        doneDay: done ? isoFromDay(day) : null,
        doneKm: done ? km : null,
      })),
      jobs: visits.flatMap(({ id, vehicleId, visit }) =>
        visit.jobs.map(({ point, action }, position) => ({
          vehicleId,
          visitId: id,
          weakPointId: points.get(point)!.id,
          action,
          grade: 'original' as const,
          partNumber: null,
          revision: null,
          position,
        })),
      ),
      services: all.flatMap(({ id, vehicle }) =>
        vehicle.services.map(({ point, part, day, ...service }) => ({
          ...service,
          vehicleId: id,
          componentId: points.get(point)!.componentId,
          visitId: service.source === 'own' ? (visitOn.get(`${id} ${day}`) ?? null) : null,
          day: iso(day),
          partNumber: part,
          note: null,
        })),
      ),
      upkeep: all.flatMap(({ id, vehicle }) =>
        vehicle.upkeep.map(({ task, day, km }) => ({
          vehicleId: id,
          taskId: tasks.get(task)!,
          visitId: null,
          certainty: 'done' as const,
          day: isoFromDay(day),
          km,
          note: null,
        })),
      ),
      findings: all.flatMap(({ id, vehicle }) =>
        vehicle.findings.map(({ point, day, sinceDay, ...finding }) => ({
          ...finding,
          vehicleId: id,
          weakPointId: points.get(point)!.id,
          visitId: visitOn.get(`${id} ${day}`) ?? null,
          day: isoFromDay(day),
          sinceDay: iso(sinceDay),
          grade: null,
          measured: null,
          unit: null,
          note: null,
        })),
      ),
    };
  };
  // One person's share of the file each, so that the trail names all three.
  for (const [i, userId] of userIds.entries())
    await source.transaction((manager) =>
      writeBulk(manager, rowsOf(fleet.filter((_, n) => n % userIds.length === i)), {
        userId,
        summary: () => 'Saved with the demo data',
      }),
    );
}

/**
 * Brings a database up to date and fills it with the demo workshop where it is empty. Runs again without adding
 * anything twice.
 */
export async function seedDemo(url: string, now: string | undefined): Promise<void> {
  const source = await openDatabase(url, 4);
  try {
    const services = buildServices(source, shopClock(now), { judged: 'next round' });
    await services.settings.ensure({ ...DEFAULT_SETTINGS, workshopName: DEMO_WORKSHOP });
    const packs = demoPacks();
    for (const pack of packs) {
      const loaded = await source.query<{ version: string }[]>('select version from library_pack where key = $1', [
        pack.key,
      ]);
      if (loaded[0]?.version !== pack.version) await source.transaction((manager) => loadPack(manager, pack));
    }
    const ids = await Promise.all(
      DEMO_ACCOUNTS.map((account) => services.sessions.ensureUser({ ...account, demo: true })),
    );
    const present = await source.query<unknown[]>('select 1 from vehicle limit 1');
    if (present.length > 0) return;
    const pairs = async (sql: string): Promise<Map<string, string>> =>
      new Map((await source.query<{ key: string; id: string }[]>(sql)).map(({ key, id }) => [key, id]));
    const known = {
      families: await pairs('select code as key, id from engine_family'),
      points: await pairs('select key, id from weak_point'),
      tasks: await pairs('select key, id from upkeep_task'),
    };
    for (const [i, vehicle] of DEMO_VEHICLES.entries())
      await addVehicle(services, { userId: ids[i % ids.length]! }, known, vehicle);
    // All at once after those written by hand: the figures are worked out when everything is there.
    await addFleet(source, ids, demoFleet(packs, GENERATED, services.clock.today()));
    await services.judging.run('the demo data');
  } finally {
    await source.destroy();
  }
}
