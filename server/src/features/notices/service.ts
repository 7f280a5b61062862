import { FAULTS, SAID, type Changed, type Notice, type NoticeDraft, type NoticeRow } from '@crosspeen/contract';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { holdsAll, searchPatterns } from '../../platform/search.ts';
import { mayBeMadeSql } from '../../reckoning/production.ts';
import { AuthorityEntity, NoticeEntity } from '../../knowledge/rows.ts';
import { WeakPointEntity } from '../../knowledge/weak-point-row.ts';
import { coverColumns, coversText, writeNoticePoints } from '../../knowledge/cover.ts';
import type { Author, LibraryDesk } from '../../knowledge/desk.ts';
import type { LibraryWriter, Row } from '../../knowledge/writer.ts';

// Whom it touches: as the campaign counts them.
const ROW = `n.id, n.kind, a.name as authority, n.number, n.title, n.issued, n.state,
  array(
    select distinct f.code
    from notice_point p
    join weak_point w on w.id = p.weak_point_id
    join engine_family f on f.id = w.family_id
    where p.notice_id = n.id
    order by f.code
  ) as engines,
  (select count(distinct j.vehicle_id)::int from notice_point p join judgement j on j.weak_point_id = p.weak_point_id join vehicle v on v.id = j.vehicle_id and v.retracted_at is null where p.notice_id = n.id
    and ${mayBeMadeSql('v.first_registered', 'n.produced_from', 'n.produced_to')}) as vehicles`;
const FOUND_BY = "lower(n.number || ' ' || n.title || ' ' || n.words)";

/** Services that Notices works with. */
export interface NoticesNeeds {
  readonly source: DataSource;
  readonly desk: LibraryDesk;
}

/**
 * Bulletins and coverages: what came from makers and others, and is answered vehicle by vehicle. What one asks
 * for is part of the decision on its weak points.
 */
export class Notices {
  constructor(private readonly needs: NoticesNeeds) {}

  /** One page of notices, latest first; found by number or words. */
  list({ q, ...asked }: PageAsked & { readonly q: string }): Promise<Paged<NoticeRow>> {
    const values: unknown[] = [];
    const where = holdsAll(FOUND_BY, searchPatterns(q), (value) => `$${values.push(value)}`);
    return paged<NoticeRow>(this.needs.source, asked, {
      values,
      counted: `from notice n where ${where}`,
      rows: (limits) => `select ${ROW}
        from notice n
        join authority a on a.id = n.authority_id
        where ${where}
        order by n.issued desc, n.id ${limits}`,
    });
  }

  /** One notice. Throws not_found. */
  async get(id: string): Promise<Notice> {
    interface Found extends NoticeRow {
      authorityId: Notice['authorityId'];
      authorityKind: Notice['authorityKind'];
      words: string;
      asks: Notice['asks'];
      producedFrom: string | null;
      producedTo: string | null;
      coveredDays: number | null;
      coveredKm: number | null;
      endsOn: string | null;
      models: readonly string[];
      pays: number | null;
      version: number;
      writtenBy: string | null;
      pack: string | null;
      points: Notice['points'];
    }
    const [found] = await this.needs.source.query<Found[]>(
      `select ${ROW}, a.id as "authorityId", a.kind as "authorityKind", n.words, n.asks,
          n.produced_from as "producedFrom", n.produced_to as "producedTo", n.covered_days as "coveredDays",
          n.covered_km as "coveredKm", n.ends_on as "endsOn", n.models, n.pays, n.version,
         u.display_name as "writtenBy", (select title from library_pack where key = n.pack_key) as pack,
         (
           select coalesce(
             jsonb_agg(
               jsonb_build_object('id', w.id, 'title', w.title, 'maker', m.name, 'engineCode', f.code)
               order by f.code, w.title
             ), '[]'
           )
           from notice_point p
           join weak_point w on w.id = p.weak_point_id
           join engine_family f on f.id = w.family_id
           join maker m on m.id = f.maker_id
           where p.notice_id = n.id
         ) as points
       from notice n
       join authority a on a.id = n.authority_id
       left join app_user u on u.id = n.written_by
       where n.id = $1`,
      [id],
    );
    if (!found) throw new Problem(SAID.noticeGone);
    const {
      authorityId,
      authorityKind,
      words,
      asks,
      producedFrom,
      producedTo,
      coveredDays,
      coveredKm,
      endsOn,
      models,
      pays,
      version,
      writtenBy,
      pack,
      points,
      ...row
    } = found;
    return {
      row,
      authorityId,
      authorityKind,
      words,
      asks,
      producedFrom,
      producedTo,
      covers: coversText(coveredDays, coveredKm),
      endsOn,
      models: [...models],
      pays,
      version,
      writtenBy,
      pack,
      points,
    };
  }

  private async columns(writer: LibraryWriter, draft: NoticeDraft): Promise<Row> {
    const { manager } = writer;
    let { authorityId }: { authorityId: string | null } = draft;
    if (draft.newAuthority !== null) {
      const { name, kind } = draft.newAuthority;
      const key = await this.needs.desk.freeKey(manager, 'authority', name);
      authorityId = (await writer.upsert('authority', [{ key, name, kind, region: null, pack_key: null }])).get(key)!;
    } else if (!(await manager.existsBy(AuthorityEntity, { id: authorityId! })))
      throw badField('authorityId', FAULTS.noAuthority);
    return {
      kind: draft.kind,
      authority_id: authorityId,
      number: draft.number,
      title: draft.title,
      words: draft.words,
      issued: draft.issued,
      asks: draft.asks,
      produced_from: draft.producedFrom,
      produced_to: draft.producedTo,
      ...coverColumns(draft.covers),
      ends_on: draft.endsOn,
      pack_key: null,
    };
  }

  private async about(writer: LibraryWriter, id: string, points: readonly string[]): Promise<void> {
    const known = new Set(
      (await writer.manager.find(WeakPointEntity, { where: { id: In([...points]) }, select: { id: true } })).map(
        (row) => row.id,
      ),
    );
    points.forEach((point, i) => {
      if (!known.has(point)) throw badField(`points.${i}`, FAULTS.pointGone);
    });
    await writeNoticePoints(writer, id, points);
  }

  /** Writes a new notice; its vehicles are shown from then on. */
  create(author: Author, draft: NoticeDraft): Promise<Changed> {
    return this.needs.desk.change(author, async (writer) => {
      const columns = await this.columns(writer, draft);
      await this.unique(writer.manager, String(columns['authority_id']), draft.number, null);
      const key = await this.needs.desk.freeKey(writer.manager, 'notice', draft.number);
      const id = (
        await writer.upsert('notice', [{ key, ...columns, state: 'current', written_by: author.userId }])
      ).get(key)!;
      await this.about(writer, id, draft.points);
      return { id, familyId: null, summary: `${draft.number} “${draft.title}” saved` };
    });
  }

  /** An authority numbers its notices; the same number again is the same notice. */
  private async unique(manager: EntityManager, authorityId: string, number: string, id: string | null): Promise<void> {
    const taken = await manager.query<unknown[]>(
      'select 1 from notice where authority_id = $1 and lower(number) = lower($2) and id is distinct from $3',
      [authorityId, number, id],
    );
    if (taken.length > 0) throw badField('number', FAULTS.numberTaken);
  }

  /**
   * Corrects a notice; one that came with a pack is the owner's to change. Throws changed_meanwhile with the row as it
   * is now.
   */
  update(author: Author, id: string, draft: NoticeDraft, version: number): Promise<Changed> {
    return this.needs.desk.change(author, async (writer) => {
      await this.mayChange(writer.manager, author, id);
      const columns = await this.columns(writer, draft);
      await this.unique(writer.manager, String(columns['authority_id']), draft.number, id);
      await writer.update('notice', id, columns, version);
      await this.about(writer, id, draft.points);
      return { id, familyId: null, summary: `${draft.number} “${draft.title}” corrected` };
    });
  }

  /** Withdraws a notice, or takes it up again. */
  step(author: Author, id: string, state: 'current' | 'withdrawn', version: number): Promise<Changed> {
    return this.needs.desk.change(author, async (writer) => {
      await this.mayChange(writer.manager, author, id);
      const row = await writer.update('notice', id, { state }, version);
      return {
        id,
        familyId: null,
        summary: `${String(row['number'])} “${String(row['title'])}” ${state === 'withdrawn' ? 'withdrawn' : 'taken up again'}`,
      };
    });
  }

  private async mayChange(manager: EntityManager, { userId, role }: Author, id: string): Promise<void> {
    const now = await manager.findOneBy(NoticeEntity, { id });
    if (!now) throw new Problem(SAID.noticeGone);
    if (role !== 'owner' && now.writtenBy !== userId) throw new Problem(SAID.filedBySomebodyElse);
  }
}
