import {
  appliesHere,
  clocksOf,
  averageSpeedKmh,
  experienceOf,
  isoFromDay,
  lifeApart,
  MODEL_VERSION,
  watchedParts,
  type WeakPointFact,
} from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { LibraryService } from '../knowledge/library.ts';
import { questionOf } from '../reckoning/answer.ts';
import { firstSeenDay, recordsOf, subjectOf, type VehicleRecords } from '../reckoning/records.ts';
import type { SettingsService } from '../ledger/settings.ts';
import {
  observationsOfPoint,
  observationsOfVehicle,
  replaceObservations,
  type ObservationRow,
} from './observations.ts';
import { inTransaction } from '../platform/transaction.ts';

type Signature = Map<string, string>;

/** What makes an observation speak anew at once: anything but a survivor that has run a little further. */
const signatures = (rows: readonly ObservationRow[]): Signature => {
  const byPoint: Signature = new Map();
  for (const { weakPointId, kind, broughtIn, installDay, endDay, seen } of rows) {
    const own = kind === 'right' ? `right ${seen.looks?.length ?? 0}` : `${kind} ${broughtIn} ${installDay} ${endDay}`;
    byPoint.set(weakPointId, `${byPoint.get(weakPointId) ?? ''};${own}`);
  }
  return byPoint;
};

/** Services that ExperienceService works with. */
export interface ExperienceServiceNeeds {
  readonly source: DataSource;
  readonly library: LibraryService;
  readonly settings: SettingsService;
  readonly today: () => number;
}

/**
 * The workshop's own experience kept up to date: every part it watched as an observation, and what they make of each
 * published life.
 */
export class ExperienceService {
  constructor(private readonly needs: ExperienceServiceNeeds) {}

  /** The parts of one vehicle that this workshop watched, as rows to keep. */
  private async read(manager: EntityManager, records: VehicleRecords): Promise<ObservationRow[]> {
    const knowledge = await this.needs.library.family(manager, records.row.familyId);
    if (knowledge === null || records.readings.length === 0) return [];
    const today = this.needs.today();
    const { input } = questionOf({
      knowledge,
      subject: subjectOf(records, today),
      settings: await this.needs.settings.now(manager),
      today,
    });
    const speed = averageSpeedKmh(input.duty);
    const own = {
      vehicle: { clocks: clocksOf(input.path, speed), path: input.path, fittedDay: null },
      engine: {
        clocks: clocksOf((input.engine ?? input).path, speed),
        path: (input.engine ?? input).path,
        fittedDay: input.engine?.fittedDay ?? null,
      },
    };
    const first = firstSeenDay(records, today);
    const last = Math.max(...input.path.knots.map(({ day }) => day));
    return knowledge.weakPoints.flatMap((weakPoint): ObservationRow[] => {
      if (appliesHere(weakPoint, input, own[weakPoint.fittedTo].fittedDay).applies !== 'yes') return [];
      const { clocks, path, fittedDay } = own[weakPoint.fittedTo];
      const parts = watchedParts(weakPoint, {
        clocks,
        fittedDay,
        duty: input.duty,
        features: input.facts.features,
        dutyFactors: input.policy.dutyFactors,
        severity: input.severity,
        services: input.services,
        findings: input.findings,
        startDay: path.startDay,
        firstSeenDay: Math.max(first, fittedDay ?? first),
        lastSeenDay: last,
      });
      return parts.map((part, ordinal): ObservationRow => ({
        vehicleId: records.row.id,
        weakPointId: weakPoint.id,
        ordinal,
        kind: part.observation.kind,
        broughtIn: part.broughtIn,
        installDay: isoFromDay(part.installDay),
        endDay: isoFromDay(part.endDay),
        km: Math.max(0, (clocks.distance?.at(part.endDay) ?? 0) - (clocks.distance?.at(part.installDay) ?? 0)),
        seen: part.observation,
      }));
    });
  }

  /**
   * Reads one vehicle's parts anew after a change of its records; figures that a failure, a look or a renewal moves are
   * brought up to date at once.
   */
  async vehicleChanged(manager: EntityManager, vehicleId: string): Promise<void> {
    const records = (await recordsOf(manager, [vehicleId])).get(vehicleId);
    const before = await observationsOfVehicle(manager, vehicleId);
    const after = records ? await this.read(manager, records) : [];
    await replaceObservations(manager, [vehicleId], after);
    const [was, is] = [signatures(before), signatures(after)];
    const touched = [...new Set([...before, ...after].map(({ weakPointId }) => weakPointId))].sort();
    const spoken = (signature: string | undefined): string =>
      (signature ?? '')
        .split(';')
        .filter((part) => part !== '' && part !== 'right 0')
        .join(';');
    const [moved, quiet] = [
      touched.filter((id) => spoken(was.get(id)) !== spoken(is.get(id))),
      touched.filter((id) => spoken(was.get(id)) === spoken(is.get(id))),
    ];
    // Survivors that ran on are reckoned in with the next round; the figures say until then that they are behind.
    await this.due(manager, quiet);
    await this.reckon(manager, moved);
  }

  private async due(manager: EntityManager, weakPointIds: readonly string[]): Promise<void> {
    await manager.query('insert into experience_due select unnest($1::uuid[]) on conflict do nothing', [weakPointIds]);
  }

  /**
   * Works out the experience of weak points from all their observations. Rows are locked in one order, so that two
   * writers wait and never block each other.
   */
  private async reckon(manager: EntityManager, weakPointIds: readonly string[]): Promise<void> {
    // What is due goes first, before any figure is held: whoever took it up to reckon it waits for a figure, and must
    // never be waited for by the one that holds it. What falls due again meanwhile stays due.
    await manager.query(
      `delete from experience_due
        where weak_point_id in (
          select weak_point_id
          from experience_due
          where weak_point_id = any($1::uuid[])
          order by weak_point_id for update
        )`,
      [weakPointIds],
    );
    const points = await manager.query<{ id: string; familyId: string }[]>(
      'select id, family_id as "familyId" from weak_point where id = any($1::uuid[]) order by id',
      [weakPointIds],
    );
    const known = new Map<string, WeakPointFact>();
    for (const familyId of new Set(points.map((point) => point.familyId))) {
      for (const weakPoint of (await this.needs.library.family(manager, familyId))?.weakPoints ?? [])
        known.set(weakPoint.id, weakPoint);
    }
    for (const { id } of points) {
      await manager.query('select pg_advisory_xact_lock(hashtextextended($1, 7))', [id]);
      const weakPoint = known.get(id);
      if (!weakPoint) continue;
      const rows = await observationsOfPoint(manager, id);
      const counted = rows.filter(({ broughtIn }) => !broughtIn);
      const { nodes, ...figures } = experienceOf(
        weakPoint,
        counted.map(({ seen }) => seen),
      );
      await manager.query(
        `insert into experience (
            weak_point_id, vehicles, parts, failures, worn, brought_in, apart, summary, model_version, computed_at
          )
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, clock_timestamp())
         on conflict (weak_point_id) do update set vehicles = excluded.vehicles, parts = excluded.parts,
           failures = excluded.failures, worn = excluded.worn, brought_in = excluded.brought_in,
           apart = excluded.apart, summary = excluded.summary, model_version = excluded.model_version,
             computed_at = excluded.computed_at`,
        [
          id,
          new Set(counted.map(({ vehicleId }) => vehicleId)).size,
          figures.parts,
          figures.failures,
          figures.worn,
          rows.length - counted.length,
          lifeApart(figures),
          JSON.stringify({ ...figures, nodes }),
          MODEL_VERSION,
        ],
      );
    }
  }

  /**
   * Brings the next stale figures up to date, some of one engine family at a time, so that it is read once; returns
   * whether there were any. Another process's work is skipped.
   */
  async reckonNext(size = 12): Promise<boolean> {
    return inTransaction(this.needs.source, async (manager) => {
      const [first] = await manager.query<{ id: string }[]>(
        'select weak_point_id as id from experience_due order by weak_point_id limit 1 for update skip locked',
      );
      if (!first) return false;
      const rows = await manager.query<{ id: string }[]>(
        `select d.weak_point_id as id from experience_due d join weak_point w on w.id = d.weak_point_id
         where w.family_id = (select family_id from weak_point where id = $1)
         order by d.weak_point_id = $1 desc, d.weak_point_id
         limit $2 for update of d skip locked`,
        [first.id, size],
      );
      await this.reckon(
        manager,
        rows.map(({ id }) => id),
      );
      return true;
    });
  }

  /**
   * Reads the parts of the next vehicles whose records were written many at a time; returns whether there were any.
   * Another process's are skipped.
   */
  async readNext(size = 200): Promise<boolean> {
    return inTransaction(this.needs.source, async (manager) => {
      const due = await manager.query<[{ id: string }[], number]>(
        `delete from observation_due
          where vehicle_id in (
            select vehicle_id from observation_due order by vehicle_id limit $1 for update skip locked
          )
          returning vehicle_id as id`,
        [size],
      );
      const ids = due[0].map(({ id }) => id);
      if (ids.length === 0) return false;
      const before = await manager.query<{ id: string }[]>(
        'select distinct weak_point_id as id from observation where vehicle_id = any($1::uuid[])',
        [ids],
      );
      const rows: ObservationRow[] = [];
      for (const records of (await recordsOf(manager, ids)).values()) rows.push(...(await this.read(manager, records)));
      await replaceObservations(manager, ids, rows);
      await this.due(
        manager,
        [...new Set([...before.map(({ id }) => id), ...rows.map(({ weakPointId }) => weakPointId)])].sort(),
      );
      return true;
    });
  }

  /**
   * Brings up to date all that is behind, or until it is `enough`: the parts of vehicles first, then the figures that
   * rest on them.
   */
  async catchUp(enough: () => boolean = () => false): Promise<void> {
    while (!enough() && (await this.readNext())) {
      /* some vehicles a turn */
    }
    while (!enough() && (await this.reckonNext())) {
      /* some weak points a turn */
    }
  }
}
