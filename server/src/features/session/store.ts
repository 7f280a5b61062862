import type { SessionStore } from '@fastify/session';
import type { FastifySessionObject } from '@fastify/session';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { SessionEntity } from './entity.ts';

export const SESSION_DAYS = 14;

/** Sessions in the database, so that any server process knows them and a restart forgets none. */
export class DatabaseSessionStore implements SessionStore {
  constructor(private readonly source: DataSource, private readonly clock: ShopClock) {}

  set(sid: string, session: FastifySessionObject, done: (error?: unknown) => void): void {
    const expiresAt = new Date(this.clock.now().getTime() + SESSION_DAYS * 86_400_000);
    this.source.manager.upsert(SessionEntity, { sid, data: JSON.parse(JSON.stringify(session)) as Record<string, never>, expiresAt }, ['sid']).then(() => done(), done);
  }

  get(sid: string, done: (error: unknown, session?: FastifySessionObject | null) => void): void {
    this.source.manager.findOneBy(SessionEntity, { sid }).then(
      (row) => done(null, row && row.expiresAt > this.clock.now() ? (row.data as unknown as FastifySessionObject) : null), done);
  }

  destroy(sid: string, done: (error?: unknown) => void): void {
    this.source.manager.delete(SessionEntity, { sid }).then(() => done(), done);
  }
}
