import { BAY_REST_MINUTES, type SessionUser } from '@crosspeen/contract';
import type { FastifySessionObject, SessionStore } from '@fastify/session';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { SessionEntity } from '../../ledger/people-rows.ts';
import { Problem } from '../../platform/problem.ts';
import { AT_THE_BAY } from './bay.ts';

export const SESSION_DAYS = 14;
/** A sign-in is noted as seen once in so many seconds, not at every request. */
const SEEN_EVERY_SECONDS = 60;
/** Longest name of a browser that is kept. */
const MOST_AGENT = 200;

/** Services that DatabaseSessionStore works with. */
export interface DatabaseSessionStoreNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Sessions in the database, so that any server process knows them and a restart forgets none. */
export class DatabaseSessionStore implements SessionStore {
  constructor(private readonly needs: DatabaseSessionStoreNeeds) {}

  set(sid: string, session: FastifySessionObject, done: (error?: unknown) => void): void {
    this.write(sid, session).then(() => done(), done);
  }

  /** Stores a session: one that begins is new, another is brought up to date; one that was ended stays ended. */
  private write(sid: string, { begins, ...data }: FastifySessionObject): Promise<void> {
    return begins === undefined ? this.update(sid, data) : this.insert(sid, begins.proof, data);
  }

  private async update(sid: string, data: Omit<FastifySessionObject, 'begins'>): Promise<void> {
    await this.needs.source.query('update session set data = $2, expires_at = $3 where sid = $1', [
      sid,
      JSON.stringify(data),
      this.expiry(),
    ]);
  }

  private expiry(): Date {
    return new Date(this.needs.clock.now().getTime() + SESSION_DAYS * 86_400_000);
  }

  /**
   * Stores a new session only while its person is active and the hash that was checked stands. The person is locked
   * against a change in the same statement: a reset either ends the session or keeps it from beginning. Throws
   * wrong_sign_in where neither holds.
   */
  private async insert(sid: string, proof: string | null, data: Omit<FastifySessionObject, 'begins'>): Promise<void> {
    const { user, tabletId, agent } = data;
    const stored = await this.needs.source.query<unknown[]>(
      `with person as (
          select id
          from app_user
          where id = $3 and active
            and (
              $4::text is null
                or $4 in (
                  encode(sha256(convert_to(password_hash, 'UTF8')), 'hex'),
                  encode(sha256(convert_to(pin_hash, 'UTF8')), 'hex')
                )
            )
          for share
        )
        insert into session (sid, data, person_id, tablet_id, expires_at, began_at, seen_at, awake_at, agent)
        select $1, $2, id, $5, $6, $7, $7, $7, $8
        from person
        returning 1`,
      [
        sid,
        JSON.stringify(data),
        user?.id ?? null,
        proof,
        tabletId ?? null,
        this.expiry(),
        this.needs.clock.now(),
        agent?.slice(0, MOST_AGENT) ?? null,
      ],
    );
    if (stored.length === 0) throw new Problem('wrong_sign_in');
  }

  get(sid: string, done: (error: unknown, session?: FastifySessionObject | null) => void): void {
    this.read(sid).then((session) => done(null, session), done);
  }

  /**
   * A session with its user as that stands now: who was given another role, or is no user any more, is so at once; a
   * tablet that has rested, or was put away, knows nobody.
   */
  private async read(sid: string): Promise<FastifySessionObject | null> {
    const now = this.needs.clock.now();
    const [row] = await this.needs.source.query<
      { data: FastifySessionObject; user: SessionUser | null; seenLongAgo: boolean }[]
    >(
      `select s.data, s.seen_at < $2::timestamptz - make_interval(secs => $3) as "seenLongAgo",
          case
            when u.id is null or not u.active then null
            when s.tablet_id is not null
              and (t.ended_at is not null or s.awake_at < $2::timestamptz - make_interval(mins => $4)) then null
            else jsonb_build_object(
              'id', u.id, 'name', u.name, 'displayName', u.display_name,
              'role', case when s.tablet_id is null then u.role else $5 end
            )
          end as user
       from session s
       left join app_user u on u.id = s.person_id
       left join bay_tablet t on t.id = s.tablet_id
       where s.sid = $1 and s.expires_at > $2`,
      [sid, now, SEEN_EVERY_SECONDS, BAY_REST_MINUTES, AT_THE_BAY],
    );
    if (!row) return null;
    if (row.seenLongAgo) await this.needs.source.query('update session set seen_at = $2 where sid = $1', [sid, now]);
    const { user: _asItWas, ...rest } = row.data;
    return row.user === null ? rest : { ...rest, user: row.user };
  }

  destroy(sid: string, done: (error?: unknown) => void): void {
    this.needs.source.manager.delete(SessionEntity, { sid }).then(() => done(), done);
  }
}
