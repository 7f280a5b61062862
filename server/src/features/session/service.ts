import { hash, verify } from '@node-rs/argon2';
import { SAID, ROLES, type Role, type SessionState, type SessionUser } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { Problem } from '../../platform/problem.ts';
import { UserEntity, type UserRow } from '../../ledger/people-rows.ts';
import { Turns } from '../../platform/turns.ts';

/**
 * Tries that are let through at once before each further one has to wait, and the longest wait, in seconds: for one
 * name from one address, for all names from one address, and for one name from wherever. A wait doubles with every try
 * and is never a lock: nobody can keep somebody else out for longer than it.
 */
export const THROTTLE = {
  pair: { free: 5, longestSeconds: 60 },
  address: { free: 30, longestSeconds: 60 },
  name: { free: 50, longestSeconds: 5 },
} as const;
type Counted = keyof typeof THROTTLE;

/** Seconds without a try after which nothing is held against anybody any more. */
const FORGOTTEN_SECONDS = 900;
/** Passwords checked at once: a hash is slow by intent, and others want the processor too. */
const HASHES_AT_ONCE = 2;
/** Sign-ins that may wait for their hash; who comes then is asked to come again. */
const MOST_WAITING = 40;

interface TryRow {
  readonly what: Counted;
  readonly who: string;
  readonly tries: number;
  readonly lastAt: Date;
  readonly nextAt: Date;
}

const later = (from: Date, seconds: number): Date => new Date(from.getTime() + seconds * 1000);

/**
 * A count of tries after one more, and how many seconds that one has to wait: 0 lets it through. One that comes too
 * early is refused and changes nothing, so that hammering does not make a wait longer. A clock that was set back holds
 * nobody: a last try that lies ahead counts as long ago.
 */
export function afterTry(row: TryRow, now: Date): TryRow & { readonly waitSeconds: number } {
  const { free, longestSeconds } = THROTTLE[row.what];
  if (row.lastAt > now || later(row.lastAt, FORGOTTEN_SECONDS) < now)
    return { ...row, tries: 1, lastAt: now, nextAt: now, waitSeconds: 0 };
  if (row.nextAt > now) return { ...row, waitSeconds: (row.nextAt.getTime() - now.getTime()) / 1000 };
  const tries = row.tries + 1;
  const over = tries - free;
  return {
    ...row,
    tries,
    lastAt: now,
    nextAt: over < 0 ? now : later(now, Math.min(longestSeconds, 2 ** Math.min(over, 10))),
    waitSeconds: 0,
  };
}

/**
 * A hash nobody's password has: checking it takes as long as a real one, so that a name cannot be guessed by the clock.
 */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$RdescudvJCsgt3ub+b27R0PpE4K2QFVaIHkOTlLm9dI';

const wireUser = ({ id, name, displayName, role }: UserRow): SessionUser => ({ id, name, displayName, role });

export class SessionService {
  private readonly hashing = new Turns(HASHES_AT_ONCE, MOST_WAITING);

  constructor(
    private readonly source: DataSource,
    private readonly clock: ShopClock,
  ) {}

  async user(id: string): Promise<SessionUser | null> {
    const row = await this.source.manager.findOneBy(UserEntity, { id });
    return row && wireUser(row);
  }

  async demoAccounts(): Promise<SessionState['demoAccounts']> {
    const rows = await this.source.query<SessionState['demoAccounts']>(
      `select name, display_name as \"displayName\", role, demo_password as password
        from app_user
        where demo_password is not null
        order by array_position($1::text[], role), name`,
      [ROLES],
    );
    return rows;
  }

  /**
   * Checks a name and password. Every try is counted before it is looked at, so that many at once are many. Throws
   * wrong_sign_in; too_many_tries with the seconds to wait; busy while too many passwords are being checked.
   */
  async signIn(name: string, password: string, address: string): Promise<SessionUser> {
    const key = name.trim().toLowerCase();
    const pair = `${key} ${address}`;
    await this.countTry({ pair, address, name: key });
    const row = await this.source.manager.findOneBy(UserEntity, { name: key });
    const matches = await this.hashing.run(() => verify(row?.passwordHash ?? NOBODY, password).catch(() => false));
    if (!row || !matches) throw new Problem('wrong_sign_in');
    await this.source.query(
      "delete from sign_in_try where (what = 'pair' and who = $1) or (what = 'name' and who = $2)",
      [pair, key],
    );
    // A right one is not held against the others who sign in from there.
    await this.source.query(
      "update sign_in_try set tries = greatest(0, tries - 1) where what = 'address' and who = $1",
      [address],
    );
    return wireUser(row);
  }

  /** Counts a try under everything it is counted under. Throws too_many_tries where one of them has to wait. */
  private async countTry(whose: Readonly<Record<Counted, string>>): Promise<void> {
    const given = (Object.keys(THROTTLE) as Counted[]).map((what) => ({ what, who: whose[what] }));
    const waits = await this.source.transaction(async (manager) => {
      // In one order for everybody, and each row held until it is counted: a hundred at once are counted one after the
      // other.
      await manager.query(
        `insert into sign_in_try (what, who, tries, last_at, next_at)
          select what, who, 0, 'epoch', 'epoch'
          from jsonb_to_recordset($1::jsonb) as g(what text, who text)
         order by what on conflict do nothing`,
        [JSON.stringify(given)],
      );
      const rows = await manager.query<TryRow[]>(
        `select what, who, tries, last_at as "lastAt", next_at as "nextAt" from sign_in_try
         where (what, who) in (select what, who from jsonb_to_recordset($1::jsonb) as g(what text, who text))
         order by what for update`,
        [JSON.stringify(given)],
      );
      // Read while they are held: of many at once, the time of one that was counted later must not lie before that of
      // the one before it.
      const now = this.clock.now();
      const counted = rows.map((row) => afterTry(row, now));
      await manager.query(
        `update sign_in_try t set tries = g.tries, last_at = g."lastAt", next_at = g."nextAt"
         from jsonb_to_recordset($1::jsonb) as g(
           what text, who text, tries int, "lastAt" timestamptz, "nextAt" timestamptz
         )
         where g.what = t.what and g.who = t.who`,
        [JSON.stringify(counted)],
      );
      return counted.map(({ waitSeconds }) => waitSeconds);
    });
    const seconds = Math.ceil(Math.max(...waits));
    if (seconds <= 0) return;
    throw new Problem(SAID.waitSeconds(seconds), { retryAfterSeconds: seconds });
  }

  /** Lets go of what has ended: sessions that are over, and tries that nobody holds against anybody any more. */
  async purge(): Promise<void> {
    await this.source.query('delete from session where expires_at < $1', [this.clock.now()]);
    await this.source.query(
      'delete from sign_in_try where last_at < $1::timestamptz - make_interval(secs => $2) or last_at > $1',
      [this.clock.now(), FORGOTTEN_SECONDS],
    );
  }

  /** Creates an account, or leaves the one of that name as it is. Passwords are kept as argon2id hashes. */
  async ensureUser(account: {
    name: string;
    displayName: string;
    role: Role;
    password: string;
    demo: boolean;
  }): Promise<string> {
    const known = await this.source.manager.findOneBy(UserEntity, { name: account.name });
    if (known) return known.id;
    const row = await this.source.manager.save(UserEntity, {
      name: account.name,
      displayName: account.displayName,
      role: account.role,
      passwordHash: await hash(account.password),
      demoPassword: account.demo ? account.password : null,
    });
    return row.id;
  }
}
