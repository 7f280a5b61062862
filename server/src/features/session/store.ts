import { BAY_REST_MINUTES, type SessionUser } from '@crosspeen/contract';
import type { FastifySessionObject, SessionStore } from '@fastify/session';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { SessionEntity } from '../../ledger/people-rows.ts';
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
    const now = this.needs.clock.now();
    const { user, tabletId, agent } = session;
    this.needs.source.manager
      .createQueryBuilder()
      .insert()
      .into(SessionEntity)
      .values({
        sid,
        data: JSON.parse(JSON.stringify(session)) as Record<string, never>,
        expiresAt: new Date(now.getTime() + SESSION_DAYS * 86_400_000),
        personId: user?.id ?? null,
        tabletId: tabletId ?? null,
        beganAt: now,
        seenAt: now,
        awakeAt: now,
        agent: agent?.slice(0, MOST_AGENT) ?? null,
      })
      .orUpdate(['data', 'expires_at', 'person_id', 'tablet_id', 'agent'], ['sid'])
      .execute()
      .then(() => done(), done);
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
