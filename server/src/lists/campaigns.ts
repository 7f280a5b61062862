import { SAID, type CampaignRow, type NoticeCampaignRow } from '@crosspeen/contract';
import { asksForWork, VERDICTS } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../platform/clock.ts';
import { paged, type PageAsked, type Paged } from '../platform/paged.ts';
import { Problem } from '../platform/problem.ts';
import { mayBeMadeSql } from '../reckoning/production.ts';

interface Page extends PageAsked {
  readonly left: 'all' | 'left';
}

/** What was done about it on vehicle `v`: `component` and `point` are SQL sets of ids, `about` names the calls. */
const doneAbout = (component: string, point: string, about: string): string => {
  const renewed = (column: string): string =>
    `(
        select r.${column}
        from service_record r
        where r.vehicle_id = v.id
          and r.component_id in ${component}
          and r.certainty = 'done'
          and r.retracted_at is null
        order by r.day desc
        limit 1
      )`;
  const look = (column: string): string =>
    `(
        select n.${column}
        from finding n
        where n.vehicle_id = v.id and n.weak_point_id in ${point} and n.retracted_at is null
        order by n.day desc, n.created_at desc
        limit 1
      )`;
  return `${look('day')} as "lastLook", ${look('result')} as "lastResult", ${renewed('day')} as renewed,
      ${renewed('revision')} as revision,
    (
      select min(x.day)
      from visit x
      join visit_job b on b.visit_id = x.id and b.retracted_at is null
      where x.vehicle_id = v.id and x.state = 'planned' and x.retracted_at is null and b.weak_point_id in ${point}
    ) as planned,
    (
      select jsonb_build_object('day', c.day, 'outcome', c.outcome, 'note', c.note)
      from campaign_call c
      where c.vehicle_id = v.id and ${about} and c.retracted_at is null
      order by c.day desc, c.created_at desc
      limit 1
    ) as "lastCall"`;
};
/** `$2` is today. */
const VEHICLE = `v.id as "vehicleId", v.plate, v.name, m.name as maker, v.model, s.km, v.odometer_unit as "odometerUnit", v.note,
    v.contact, coalesce(s.as_of, $2::date) as "asOf"`;
/** What a vehicle `v` is shown with. */
const OF_VEHICLE = `join engine_family f on f.id = v.family_id
    join maker m on m.id = f.maker_id
    left join vehicle_standing s on s.vehicle_id = v.id`;
const ASKS_FOR_WORK = `verdict in (${VERDICTS.filter(asksForWork)
  .map((verdict) => `'${verdict}'`)
  .join(', ')})`;
/** Whoever said yes or no need not be called again. */
const OPEN = `planned is null and coalesce("lastCall" ->> 'outcome', '') not in ('coming', 'declined')`;

/** A list to call from: its rows, which of them, in what order. */
interface Calls {
  readonly rows: string;
  readonly where: string;
  readonly order: string;
  readonly values: readonly unknown[];
}

/** Whom a weak point, a bulletin or a coverage touches, what was done about each, and who is left to call. */
export class Campaigns {
  private readonly source: DataSource;
  private readonly clock: ShopClock;

  constructor({ source, clock }: { readonly source: DataSource; readonly clock: ShopClock }) {
    this.source = source;
    this.clock = clock;
  }

  private page<Row>(asked: PageAsked, { rows, where, order, values }: Calls): Promise<Paged<Row>> {
    const counted = `from (${rows}) as c where ${where}`;
    return paged<Row>(this.source, asked, {
      values,
      counted,
      rows: (limits) => `select * ${counted} order by ${order} ${limits}`,
    });
  }

  /** Vehicles that a weak point touches, likeliest first. Throws not_found. */
  async ofPoint(id: string, asked: Page): Promise<Paged<CampaignRow>> {
    if ((await this.source.query<unknown[]>('select 1 from weak_point where id = $1', [id])).length === 0)
      throw new Problem(SAID.weakPointGone);
    const rows = `select ${VEHICLE}, j.verdict, j.chance, j.due_day as "dueDay",
        ${doneAbout('(select component_id from weak_point where id = $1)', '($1)', 'c.weak_point_id = $1')}
      from judgement j
      join vehicle v on v.id = j.vehicle_id
      ${OF_VEHICLE}
      where j.weak_point_id = $1 and v.retracted_at is null`;
    return this.page(asked, {
      rows,
      where: asked.left === 'left' ? `${ASKS_FOR_WORK} and ${OPEN}` : 'true',
      order: 'chance desc, "vehicleId"',
      values: [id, this.clock.todayIso()],
    });
  }

  /**
   * Vehicles that a notice touches: those its weak points apply to, made within its production dates. It is answered by
   * what it asks for, done since it was issued; a coverage runs out at the nearest of its limits, the one in km at the
   * vehicle's forecast use. Throws not_found.
   */
  async ofNotice(id: string, asked: Page): Promise<Paged<NoticeCampaignRow>> {
    const [notice] = await this.source.query<{ kind: string }[]>('select kind from notice where id = $1', [id]);
    if (!notice) throw new Problem(SAID.noticeGone);
    const points = '(select weak_point_id from notice_point where notice_id = $1)';
    const rows = `
      select t.*, t.answering >= t.issued as answered,
        case
          when t.kind = 'coverage' then coalesce(t."coveredUntil" >= $2::date, true)
            and (t.covered_km is null or t.km is null or t.km < t.covered_km)
        end as covered
      from (
        select d.*, greatest(d.renewed, case when d.asks = 'look' then d."lastLook" end) as answering from (
          select ${VEHICLE}, touched.verdict, touched.chance, touched."dueDay", n.kind, n.asks, n.issued, n.covered_km,
            ${doneAbout(`(select component_id from weak_point where id in ${points})`, points, 'c.notice_id = $1')},
            least(
              n.ends_on, v.first_registered + n.covered_days,
                case
                  when s.km < n.covered_km
                    and s.km_per_day > 0 then s.as_of + least(36500, floor((n.covered_km - s.km) / s.km_per_day))::int
                  when s.km >= n.covered_km then s.as_of
                end
            ) as "coveredUntil"
          from (
            select vehicle_id, max(chance) as chance, min(due_day) as "dueDay",
              (array_agg(verdict order by verdict = 'behind_it', chance desc))[1] as verdict
            from judgement
            where weak_point_id in ${points}
            group by vehicle_id
          ) as touched
          join notice n on n.id = $1
          join vehicle v on v.id = touched.vehicle_id
          ${OF_VEHICLE}
          where v.retracted_at is null and ${mayBeMadeSql('v.first_registered', 'n.produced_from', 'n.produced_to')}
            and (n.models = '[]' or v.model is null or n.models ? v.model)
        ) as d
      ) as t`;
    const left = `not coalesce(answered, false) and verdict <> 'behind_it' and coalesce(covered, true) and ${OPEN}`;
    const found = await this.page<NoticeCampaignRow & { answered: boolean | null }>(asked, {
      rows,
      where: asked.left === 'left' ? left : 'true',
      order:
        notice.kind === 'coverage' ? '"coveredUntil" nulls last, chance desc, "vehicleId"' : 'chance desc, "vehicleId"',
      values: [id, this.clock.todayIso()],
    });
    return { rows: found.rows.map((row) => ({ ...row, answered: row.answered === true })), total: found.total };
  }
}
