import type { BenchDetail, BenchPart, BenchRow } from '@crosspeen/contract';
import {
  applicability,
  clocksOf,
  averageSpeedKmh,
  experienceOf,
  isoFromDay,
  MODEL_VERSION,
  natureOf,
  susceptibleShare,
  toldShape,
  watchedParts,
  type ExperienceSummary,
  type LifeNode,
  type WeakPointFact,
} from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Problem } from '../../platform/problem.ts';
import { holdsAll, searchPatterns } from '../../platform/search.ts';
import type { LibraryService } from '../library/service.ts';
import { questionOf } from '../lookup/answer.ts';
import { firstSeenDay, recordsOf, subjectOf, type VehicleRecords } from '../records/service.ts';
import type { SettingsService } from '../settings/service.ts';
import { observationsOfPoint, observationsOfVehicle, replaceObservations, type ObservationRow } from './repository.ts';

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

/**
 * The workshop's own experience: every part it watched as an observation, and what they make of each published life.
 */
export class BenchService {
  constructor(
    private readonly source: DataSource,
    private readonly library: LibraryService,
    private readonly settings: SettingsService,
    private readonly today: () => number,
  ) {}

  /** The parts of one vehicle that this workshop watched, as rows to keep. */
  private async read(manager: EntityManager, records: VehicleRecords): Promise<ObservationRow[]> {
    const knowledge = await this.library.family(manager, records.row.familyId);
    if (knowledge === null || records.readings.length === 0) return [];
    const today = this.today();
    const { input } = questionOf(knowledge, subjectOf(records, today), await this.settings.now(manager), today);
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
      if (applicability(weakPoint.appliesTo, input.facts).applies !== 'yes') return [];
      const { clocks, path, fittedDay } = own[weakPoint.fittedTo];
      const parts = watchedParts(weakPoint, {
        clocks,
        fittedDay,
        duty: input.duty,
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
      for (const weakPoint of (await this.library.family(manager, familyId))?.weakPoints ?? [])
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
      const apart = Math.abs(Math.log(figures.ownLife.middle)) / Math.log(figures.publishedLife.high);
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
          apart,
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
    return this.source.transaction(async (manager) => {
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
    return this.source.transaction(async (manager) => {
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

  private rowSql(where: string, order: string): string {
    return `select w.id as "weakPointId", w.title, c.name as component, c.grp as "group", w.consequence,
        w.family_id as "familyId", f.code as "engineCode", m.name as maker, w.causes, c.class as "componentClass",
        w.share,
        e.vehicles, e.parts, e.failures, e.worn, e.parts - e.failures - e.worn as "stillFine",
          e.brought_in as "broughtIn", e.summary,
        e.model_version <> ${MODEL_VERSION}
          or exists (select 1 from experience_due d where d.weak_point_id = e.weak_point_id) as stale
      from experience e
      join weak_point w on w.id = e.weak_point_id
      join component c on c.id = w.component_id
      join engine_family f on f.id = w.family_id
      join maker m on m.id = f.maker_id
      where ${where} ${order}`;
  }

  /** One page of weak points this workshop has seen something of. */
  async list({
    q,
    order,
    page,
    pageSize,
  }: {
    q: string;
    order: 'failures' | 'apart' | 'parts';
    page: number;
    pageSize: number;
  }): Promise<{ rows: BenchRow[]; total: number }> {
    const values: unknown[] = [];
    const bound = (value: unknown): string => `$${values.push(value)}`;
    const where = `e.parts + e.brought_in > 0 and ${holdsAll("lower(w.title || ' ' || c.name || ' ' || f.code || ' ' || m.name)", searchPatterns(q), bound)}`;
    const counting = values.slice();
    const by = { failures: 'e.failures desc, e.parts desc', apart: 'e.apart desc', parts: 'e.parts desc' } as const;
    const [rows, counted] = await Promise.all([
      this.source.query<SummaryRow[]>(
        this.rowSql(
          where,
          `order by ${by[order]}, e.weak_point_id limit ${bound(pageSize)} offset ${bound((page - 1) * pageSize)}`,
        ),
        values,
      ),
      this.source.query<{ total: number }[]>(
        `select count(*) as total
          from experience e
          join weak_point w on w.id = e.weak_point_id
          join component c on c.id = w.component_id
          join engine_family f on f.id = w.family_id
          join maker m on m.id = f.maker_id
          where ${where}`,
        counting,
      ),
    ]);
    return { rows: rows.map(wireRow), total: Number(counted[0]!.total) };
  }

  /** One weak point with its curves. Throws not_found while nothing was seen of it. */
  async detail(weakPointId: string): Promise<BenchDetail> {
    const [row] = await this.source.query<SummaryRow[]>(this.rowSql('e.weak_point_id = $1', ''), [weakPointId]);
    const weakPoint =
      row &&
      (await this.library.family(this.source.manager, row.familyId))?.weakPoints.find(({ id }) => id === weakPointId);
    if (!row || !weakPoint)
      throw new Problem('not_found', { detail: 'Nothing has been seen of this weak point on our own vehicles yet.' });
    const failures = (await observationsOfPoint(this.source.manager, weakPointId))
      .filter(({ kind, broughtIn }) => !broughtIn && (kind === 'exact' || kind === 'interval'))
      .map(({ seen }) => seen.at)
      .sort((a, b) => a - b);
    return {
      row: wireRow(row),
      curve: curvesOf(weakPoint, row.summary),
      statements: weakPoint.statements.map(({ authority, kind, words }) => ({ authority, kind, words })),
      failuresAlone:
        failures.length === 0
          ? null
          : failures[Math.floor((failures.length - 1) / 2)]! / Math.LN2 ** (1 / toldShape(weakPoint)),
    };
  }

  /** One page of the parts that the figures of a weak point rest on, failures first. */
  async parts(weakPointId: string, page: number, pageSize: number): Promise<{ rows: BenchPart[]; total: number }> {
    const [rows, counted] = await Promise.all([
      this.source.query<BenchPart[]>(
        `select o.vehicle_id as "vehicleId", v.plate, v.name, o.kind, not o.brought_in as counted,
            o.brought_in as "broughtIn", o.install_day as "installDay", o.end_day as "endDay", o.km,
           coalesce(jsonb_array_length(o.seen -> 'looks'), 0) as looks
         from observation o
         join vehicle v on v.id = o.vehicle_id
         where o.weak_point_id = $1
         order by o.kind = 'right', o.km desc, o.vehicle_id, o.ordinal
         limit $2 offset $3`,
        [weakPointId, pageSize, (page - 1) * pageSize],
      ),
      this.source.query<{ total: number }[]>('select count(*) as total from observation where weak_point_id = $1', [
        weakPointId,
      ]),
    ]);
    return { rows, total: Number(counted[0]!.total) };
  }
}

type SummaryRow = Omit<BenchRow, 'nature' | 'publishedLife' | 'ownLife' | 'publishedShare' | 'ownShare' | 'enough'> & {
  readonly summary: ExperienceSummary;
};

const wireRow = ({ summary, ...row }: SummaryRow): BenchRow => ({
  ...row,
  nature: natureOf(row),
  publishedLife: summary.publishedLife,
  ownLife: summary.ownLife,
  publishedShare: summary.publishedShare,
  ownShare: summary.ownShare,
  enough: summary.enough,
});

const failedBy = ({ scale, shape, share }: Pick<LifeNode, 'scale' | 'shape' | 'share'>, used: number): number =>
  used <= 0 ? 0 : -share * Math.expm1(-Math.exp(shape * Math.log(used / scale)));

/** Share failed against the life used, in parts of the published typical life. */
function curvesOf(weakPoint: WeakPointFact, summary: ExperienceSummary): BenchDetail['curve'] {
  const shape = toldShape(weakPoint);
  const typical = Math.LN2 ** (1 / shape);
  const points = 48;
  return Array.from({ length: points + 1 }, (_, i) => {
    const part = (2 * i) / points;
    const used = part * typical;
    const each = summary.nodes.map((node) => failedBy(node, used));
    const own = summary.nodes.reduce((sum, node, k) => sum + node.weight * each[k]!, 0);
    const at = (life: number, share: number): number => failedBy({ scale: life, shape, share }, used);
    return {
      used: part,
      own,
      published: at(1, susceptibleShare(weakPoint)),
      low: Math.min(own, at(summary.ownLife.high, summary.ownShare.low)),
      high: Math.max(own, at(summary.ownLife.low, summary.ownShare.high)),
    };
  });
}
