import { createHash } from 'node:crypto';
import { ROLES, type Role, type SessionState, type SessionUser } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { UserEntity, type UserRow } from '../../ledger/people-rows.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { fits, hashed } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { countersOf, Tries } from './throttle.ts';

/** Somebody as the session knows him. */
export const wireUser = ({ id, name, displayName, role }: UserRow): SessionUser => ({ id, name, displayName, role });

/** Somebody who has come in, with a digest of the hash that was checked. */
export interface SignedIn {
  readonly user: SessionUser;
  readonly proof: string;
}

/** Digest of a password's or PIN's hash: it tells whether that is still the one that was checked. Hex, as in SQL. */
export const proofOf = (hash: string): string => createHash('sha256').update(hash).digest('hex');

/** Services that SessionService works with. */
export interface SessionServiceNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Signing in with name and password. */
export class SessionService {
  readonly tries: Tries;

  constructor(private readonly needs: SessionServiceNeeds) {
    this.tries = new Tries(needs);
  }

  /** Whether nobody is here yet: then the workshop is set up first. */
  async isEmpty(): Promise<boolean> {
    return !(await this.needs.source.manager.existsBy(UserEntity, {}));
  }

  async demoAccounts(): Promise<SessionState['demoAccounts']> {
    const rows = await this.needs.source.query<SessionState['demoAccounts']>(
      `select name, display_name as \"displayName\", role, demo_password as password
        from app_user
        where demo_password is not null and active
        order by array_position($1::text[], role), name`,
      [ROLES],
    );
    return rows;
  }

  /**
   * Checks a name and password. Every try is counted before it is looked at, so that many at once are many. Throws
   * wrong_sign_in; too_many_tries with the seconds to wait; busy while too many passwords are being checked.
   */
  async signIn(name: string, password: string, address: string): Promise<SignedIn> {
    const counters = countersOf(name, address);
    await this.tries.count(counters);
    const row = await this.needs.source.manager.findOneBy(UserEntity, { name: counters.name });
    const matches = await fits(row?.passwordHash ?? null, password);
    if (!row || !matches || !row.active) throw new Problem('wrong_sign_in');
    await this.tries.forget(counters);
    return { user: wireUser(row), proof: proofOf(row.passwordHash!) };
  }

  /** Lets go of what has ended: sessions and links that are over, and tries that nobody holds against anybody. */
  async purge(): Promise<void> {
    for (const table of ['session', 'one_time_link'])
      await this.needs.source.query(`delete from ${table} where expires_at < $1`, [this.needs.clock.now()]);
    await this.tries.purge();
  }

  /** Creates an account, or leaves the one of that name as it is. Passwords are kept as argon2id hashes. */
  async ensureUser(account: {
    name: string;
    displayName: string;
    role: Role;
    password: string;
    demo: boolean;
  }): Promise<string> {
    const known = await this.needs.source.manager.findOneBy(UserEntity, { name: account.name });
    if (known) return known.id;
    const row = await this.needs.source.manager.save(UserEntity, {
      name: account.name,
      displayName: account.displayName,
      role: account.role,
      passwordHash: await hashed(account.password),
      demoPassword: account.demo ? account.password : null,
      active: true,
      version: 1,
    });
    return row.id;
  }
}
