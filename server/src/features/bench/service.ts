import { SAID, type BenchDetail, type BenchPart, type BenchRow } from '@crosspeen/contract';
import { experienceCurve, failuresAlone, MODEL_VERSION, type ExperienceSummary } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { LibraryService } from '../../knowledge/library.ts';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';
import { holdsAll, searchPatterns } from '../../platform/search.ts';
import { observationsOfPoint } from '../../standings/observations.ts';

const FOUND_BY = "lower(w.title || ' ' || c.name || ' ' || f.code || ' ' || m.name)";
const SEEN_OF = `experience e
  join weak_point w on w.id = e.weak_point_id
  join component c on c.id = w.component_id
  join engine_family f on f.id = w.family_id
  join maker m on m.id = f.maker_id`;
const SEEN = `select w.id as "weakPointId", w.title, c.name as component, c.grp as "group", w.consequence,
    w.family_id as "familyId", f.code as "engineCode", m.name as maker, w.causes, c.class as "componentClass",
    w.nature, w.share, e.vehicles, e.parts, e.failures, e.worn, e.parts - e.failures - e.worn as "stillFine",
    e.brought_in as "broughtIn", e.summary,
    e.model_version <> ${MODEL_VERSION}
      or exists (select 1 from experience_due d where d.weak_point_id = e.weak_point_id) as stale
  from ${SEEN_OF}`;

/** Services that BenchService works with. */
export interface BenchServiceNeeds {
  readonly source: DataSource;
  readonly library: LibraryService;
}

/** What the workshop has seen of each weak point, for reading. */
export class BenchService {
  constructor(private readonly needs: BenchServiceNeeds) {}

  /** One page of weak points this workshop has seen something of. */
  async list({
    q,
    order,
    ...asked
  }: PageAsked & { readonly q: string; readonly order: 'failures' | 'apart' | 'parts' }): Promise<Paged<BenchRow>> {
    const values: unknown[] = [];
    const bound = (value: unknown): string => `$${values.push(value)}`;
    const where = `e.parts + e.brought_in > 0 and ${holdsAll(FOUND_BY, searchPatterns(q), bound)}`;
    const by = { failures: 'e.failures desc, e.parts desc', apart: 'e.apart desc', parts: 'e.parts desc' } as const;
    const { rows, total } = await paged<SummaryRow>(this.needs.source, asked, {
      values,
      counted: `from ${SEEN_OF} where ${where}`,
      rows: (limits) => `${SEEN} where ${where} order by ${by[order]}, e.weak_point_id ${limits}`,
    });
    return { rows: rows.map(wireRow), total };
  }

  /** One weak point with its curves. Throws not_found while nothing was seen of it. */
  async detail(weakPointId: string): Promise<BenchDetail> {
    const [row] = await this.needs.source.query<SummaryRow[]>(`${SEEN} where e.weak_point_id = $1`, [weakPointId]);
    const weakPoint =
      row &&
      (await this.needs.library.family(this.needs.source.manager, row.familyId))?.weakPoints.find(
        ({ id }) => id === weakPointId,
      );
    if (!row || !weakPoint) throw new Problem(SAID.nothingSeen);
    const failures = (await observationsOfPoint(this.needs.source.manager, weakPointId))
      .filter(({ kind, broughtIn }) => !broughtIn && (kind === 'exact' || kind === 'interval'))
      .map(({ seen }) => seen.at);
    return {
      row: wireRow(row),
      curve: experienceCurve(weakPoint, row.summary),
      statements: weakPoint.statements.map(({ authority, kind, words }) => ({ authority, kind, words })),
      failuresAlone: failuresAlone(weakPoint, failures),
    };
  }

  /** One page of the parts that the figures of a weak point rest on, failures first. */
  parts(weakPointId: string, asked: PageAsked): Promise<Paged<BenchPart>> {
    return paged<BenchPart>(this.needs.source, asked, {
      values: [weakPointId],
      counted: 'from observation where weak_point_id = $1',
      rows: (limits) => `select o.vehicle_id as "vehicleId", v.plate, v.name, o.kind, not o.brought_in as counted,
          o.brought_in as "broughtIn", o.install_day as "installDay", o.end_day as "endDay", o.km,
          coalesce(jsonb_array_length(o.seen -> 'looks'), 0) as looks
        from observation o
        join vehicle v on v.id = o.vehicle_id
        where o.weak_point_id = $1
        order by o.kind = 'right', o.km desc, o.vehicle_id, o.ordinal ${limits}`,
    });
  }
}

type SummaryRow = Omit<BenchRow, 'publishedLife' | 'ownLife' | 'publishedShare' | 'ownShare' | 'enough'> & {
  readonly summary: ExperienceSummary;
};

const wireRow = ({ summary, ...row }: SummaryRow): BenchRow => ({
  ...row,
  publishedLife: summary.publishedLife,
  ownLife: summary.ownLife,
  publishedShare: summary.publishedShare,
  ownShare: summary.ownShare,
  enough: summary.enough,
});
