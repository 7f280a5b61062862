import { SAID } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { Problem } from '../../platform/problem.ts';
import { Turns } from '../../platform/turns.ts';

/**
 * Tries that are let through at once before each further one has to wait, and the longest wait, in seconds: for one
 * name from one address, for all names from one address, for one name from wherever, and for one person's PIN. A wait
 * doubles with every try and is never a lock. Guessing at a name does not keep out its owner: an address that has done
 * nothing wrong is not held by the count of the name.
 */
export const THROTTLE = {
  pair: { free: 5, longestSeconds: 60 },
  address: { free: 30, longestSeconds: 60 },
  name: { free: 50, longestSeconds: 5 },
  /** A PIN is short: after a few wrong ones its guesser waits long, at whichever tablet. */
  pin: { free: 4, longestSeconds: 600 },
} as const;
type Counted = keyof typeof THROTTLE;

/** Seconds without a try after which nothing is held against anybody any more. */
const FORGOTTEN_SECONDS = 900;

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
 * Seconds that a try has to wait, by the count that holds it longest. The count of a name does not hold an address
 * without a wrong try.
 */
function longestWait(
  before: readonly TryRow[],
  after: readonly { readonly what: Counted; readonly waitSeconds: number }[],
): number {
  const address = before.find(({ what }) => what === 'address');
  const clean = address !== undefined && address.tries === 0;
  return Math.max(...after.map(({ what, waitSeconds }) => (what === 'name' && clean ? 0 : waitSeconds)));
}

/** What a try at a password is counted under. */
export type Counters = Readonly<Record<'pair' | 'address' | 'name', string>>;
export const countersOf = (name: string, address: string): Counters => {
  const key = name.trim().toLowerCase();
  return { pair: `${key} ${address}`, address, name: key };
};

/** Services that Tries works with. */
export interface TriesNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Connections to the database that counting takes at most; hundreds who guess at once leave the others to readers. */
const COUNTED_AT_ONCE = 2;
const MOST_WAITING = 500;

/** Counts tries at passwords, PINs, codes and links, in the database: for every server process alike. */
export class Tries {
  private readonly turns = new Turns(COUNTED_AT_ONCE, MOST_WAITING);

  constructor(private readonly needs: TriesNeeds) {}

  /**
   * Counts a try under everything it is counted under, before it is looked at: many at once are many. A try that is
   * refused counts nowhere. Throws too_many_tries where one of them has to wait, and busy while too many are counted.
   */
  async count(whose: Readonly<Partial<Record<Counted, string>>>): Promise<void> {
    const seconds = Math.ceil(await this.turns.run(() => this.waitOf(whose)));
    if (seconds > 0) throw new Problem(SAID.waitSeconds(seconds), { retryAfterSeconds: seconds });
  }

  /** Counts a try, or answers the seconds it has to wait and counts nothing. */
  private waitOf(whose: Readonly<Partial<Record<Counted, string>>>): Promise<number> {
    const given = Object.entries(whose).map(([what, who]) => ({ what, who }));
    return this.needs.source.transaction(async (manager) => {
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
      const now = this.needs.clock.now();
      const counted = rows.map((row) => afterTry(row, now));
      const wait = longestWait(rows, counted);
      if (wait > 0) return wait;
      await manager.query(
        `update sign_in_try t set tries = g.tries, last_at = g."lastAt", next_at = g."nextAt"
         from jsonb_to_recordset($1::jsonb) as g(
           what text, who text, tries int, "lastAt" timestamptz, "nextAt" timestamptz
         )
         where g.what = t.what and g.who = t.who`,
        [JSON.stringify(counted)],
      );
      return 0;
    });
  }

  /** A right password is held against nobody, nor against the others who sign in from there. */
  async forget({ pair, address, name }: Counters): Promise<void> {
    await this.needs.source.query(
      "delete from sign_in_try where (what = 'pair' and who = $1) or (what = 'name' and who = $2)",
      [pair, name],
    );
    await this.needs.source.query(
      "update sign_in_try set tries = greatest(0, tries - 1) where what = 'address' and who = $1",
      [address],
    );
  }

  /** A right PIN clears what was counted against it. */
  async forgetPin(personId: string): Promise<void> {
    await this.needs.source.query("delete from sign_in_try where what = 'pin' and who = $1", [personId]);
  }

  /** Forgets tries that nobody holds against anybody any more. */
  async purge(): Promise<void> {
    await this.needs.source.query(
      'delete from sign_in_try where last_at < $1::timestamptz - make_interval(secs => $2) or last_at > $1',
      [this.needs.clock.now(), FORGOTTEN_SECONDS],
    );
  }
}
