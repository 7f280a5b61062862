import type { DeskNote, DeskNoteCreate } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { dayMade } from '../../platform/day-made.ts';
import { paged, type PageAsked, type Paged } from '../../platform/paged.ts';
import { Problem } from '../../platform/problem.ts';

const ROWS = `select n.id, n.vehicle_id as "vehicleId", coalesce(v.plate, v.name) as vehicle, n.about, n.words, n.day,
    u.display_name as by, s.display_name as "settledBy"
  from desk_note n
  join vehicle v on v.id = n.vehicle_id
  join app_user u on u.id = n.user_id
  left join app_user s on s.id = n.settled_by`;

/** Services that DeskNotes works with. */
export interface DeskNotesNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Notes that the bay hands to the desk: kept once by the device's own id, open until somebody settles them. */
export class DeskNotes {
  constructor(private readonly needs: DeskNotesNeeds) {}

  list(asked: PageAsked & { which: 'open' | 'all'; vehicleId?: string | undefined }): Promise<Paged<DeskNote>> {
    const where = `where ($1::uuid is null or n.vehicle_id = $1) and (${asked.which === 'all'} or n.settled_at is null)`;
    return paged<DeskNote>(this.needs.source, asked, {
      values: [asked.vehicleId ?? null],
      counted: `from desk_note n ${where}`,
      rows: (limits) => `${ROWS} ${where} order by n.created_at desc, n.id ${limits}`,
    });
  }

  /** Keeps a note. Throws not_found for an unknown vehicle, and taken if the id belongs to another vehicle's note. */
  async add(userId: string, { id, vehicleId, about, words, madeAt }: DeskNoteCreate): Promise<{ id: string }> {
    const { source, clock } = this.needs;
    const [vehicle] = await source.query<unknown[]>('select 1 from vehicle where id = $1', [vehicleId]);
    if (vehicle === undefined) throw new Problem('not_found');
    await source.query(
      `insert into desk_note (id, vehicle_id, day, about, words, user_id, made_at)
        values ($1, $2, $3, $4, $5, $6, $7)
        on conflict do nothing`,
      [id, vehicleId, dayMade(clock, madeAt), about ?? null, words.trim(), userId, madeAt],
    );
    const [kept] = await source.query<{ of: string }[]>('select vehicle_id as of from desk_note where id = $1', [id]);
    if (kept!.of !== vehicleId) throw new Problem('taken');
    return { id };
  }

  /** Settles a note or opens it again. Throws not_found. */
  async settle(userId: string, id: string, isSettled: boolean): Promise<DeskNote> {
    const { source } = this.needs;
    await source.query(
      `update desk_note
        set settled_at = case when $2 then coalesce(settled_at, now()) end,
          settled_by = case when $2 then coalesce(settled_by, $3) end
        where id = $1`,
      [id, isSettled, userId],
    );
    const [row] = await source.query<DeskNote[]>(`${ROWS} where n.id = $1`, [id]);
    if (row === undefined) throw new Problem('not_found');
    return row;
  }
}
