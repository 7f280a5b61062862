import { hash, verify } from '@node-rs/argon2';
import type { Role, SessionState, SessionUser } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { Problem } from '../../platform/problem.ts';
import { SignInTryEntity, UserEntity, type UserRow } from './entity.ts';

/** Wrong passwords for one name before it has to wait, and for how long. */
export const THROTTLE = { tries: 5, waitSeconds: 60 } as const;

/** A hash nobody's password has: checking it takes as long as a real one, so that a name cannot be guessed by the clock. */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$RdescudvJCsgt3ub+b27R0PpE4K2QFVaIHkOTlLm9dI';

const wireUser = ({ id, name, displayName, role }: UserRow): SessionUser => ({ id, name, displayName, role });

export class SessionService {
  constructor(private readonly source: DataSource, private readonly clock: ShopClock) {}

  async user(id: string): Promise<SessionUser | null> {
    const row = await this.source.manager.findOneBy(UserEntity, { id });
    return row && wireUser(row);
  }

  async demoAccounts(): Promise<SessionState['demoAccounts']> {
    const rows = await this.source.query<SessionState['demoAccounts']>(
      'select name, display_name as "displayName", role, demo_password as password from app_user where demo_password is not null order by array_position(array[\'mechanic\', \'adviser\', \'owner\'], role), name');
    return rows;
  }

  /** Checks a name and password. Throws wrong_sign_in, or too_many_tries after THROTTLE.tries failures in a row. */
  async signIn(name: string, password: string): Promise<SessionUser> {
    const key = name.trim().toLowerCase();
    const tries = await this.source.manager.findOneBy(SignInTryEntity, { name: key });
    const waited = tries ? (this.clock.now().getTime() - tries.lastAt.getTime()) / 1000 : Infinity;
    if (tries && tries.failures >= THROTTLE.tries && waited < THROTTLE.waitSeconds) throw new Problem('too_many_tries');
    const row = await this.source.manager.findOneBy(UserEntity, { name: key });
    const matches = await verify(row?.passwordHash ?? NOBODY, password).catch(() => false);
    if (!row || !matches) {
      await this.source.query(
        `insert into sign_in_try (name, failures, last_at) values ($1, 1, $2)
         on conflict (name) do update set failures = case when sign_in_try.last_at < $3 then 1 else sign_in_try.failures + 1 end, last_at = excluded.last_at`,
        [key, this.clock.now(), new Date(this.clock.now().getTime() - THROTTLE.waitSeconds * 1000)]);
      throw new Problem('wrong_sign_in');
    }
    if (tries) await this.source.manager.delete(SignInTryEntity, { name: key });
    return wireUser(row);
  }

  /** Creates an account, or leaves the one of that name as it is. Passwords are kept as argon2id hashes. */
  async ensureUser(account: { name: string; displayName: string; role: Role; password: string; demo: boolean }): Promise<string> {
    const known = await this.source.manager.findOneBy(UserEntity, { name: account.name });
    if (known) return known.id;
    const row = await this.source.manager.save(UserEntity, {
      name: account.name, displayName: account.displayName, role: account.role, passwordHash: await hash(account.password), demoPassword: account.demo ? account.password : null,
    });
    return row.id;
  }
}
