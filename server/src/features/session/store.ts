import type { SessionStore } from '@fastify/session';
import type { FastifySessionObject } from '@fastify/session';
import type { SessionUser } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { SessionEntity } from '../../ledger/people-rows.ts';

export const SESSION_DAYS = 14;

/** Sessions in the database, so that any server process knows them and a restart forgets none. */
export class DatabaseSessionStore implements SessionStore {
  constructor(
    private readonly source: DataSource,
    private readonly clock: ShopClock,
  ) {}

  set(sid: string, session: FastifySessionObject, done: (error?: unknown) => void): void {
    const expiresAt = new Date(this.clock.now().getTime() + SESSION_DAYS * 86_400_000);
    this.source.manager
      .upsert(SessionEntity, { sid, data: JSON.parse(JSON.stringify(session)) as Record<string, never>, expiresAt }, [
        'sid',
      ])
      .then(() => done(), done);
  }

  get(sid: string, done: (error: unknown, session?: FastifySessionObject | null) => void): void {
    this.read(sid).then((session) => done(null, session), done);
  }

  /** A session with its user as that stands now: who was given another role, or is no user any more, is so at once. */
  private async read(sid: string): Promise<FastifySessionObject | null> {
    const [row] = await this.source.query<{ data: FastifySessionObject; user: SessionUser | null }[]>(
      `select s.data,
          case
            when u.id is null then null
            else jsonb_build_object('id', u.id, 'name', u.name, 'displayName', u.display_name, 'role', u.role)
          end as user
       from session s
       left join app_user u on u.id = (s.data #>> '{user,id}')::uuid
       where s.sid = $1 and s.expires_at > $2`,
      [sid, this.clock.now()],
    );
    if (!row) return null;
    const { user: _asItWas, ...rest } = row.data;
    return row.user === null ? rest : { ...rest, user: row.user };
  }

  destroy(sid: string, done: (error?: unknown) => void): void {
    this.source.manager.delete(SessionEntity, { sid }).then(() => done(), done);
  }
}
