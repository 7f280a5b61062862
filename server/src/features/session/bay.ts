import { WRONG_PINS, type Bay, type bayEnter, type Role } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { z } from 'zod';
import { notePeople } from '../../ledger/people.ts';
import { BayTabletEntity, UserEntity, type BayTabletRow } from '../../ledger/people-rows.ts';
import { signedAtTablet, WRONG_PINS_OF_T } from '../../ledger/tablet-keys.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { digestOf, fits, newToken } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';
import { proofOf, wireUser, type SignedIn } from './service.ts';
import type { Tries } from './throttle.ts';

/** What anybody may do at a bay tablet, whoever it is: a PIN is short. */
export const AT_THE_BAY: Role = 'mechanic';

/** Minutes for which a tablet may sign what it was asked to sign. */
const CHALLENGE_MINUTES = 2;

/** Services that BayDoor works with. */
export interface BayDoorNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly tries: Tries;
}

/** Whether too many wrong PINs were typed at a tablet. */
const isLocked = ({ wrongPins }: BayTabletRow): boolean =>
  Object.values(wrongPins).reduce((sum, tries) => sum + tries, 0) >= WRONG_PINS;

/** The tablet at the bay: it stays what it is, and people change over with a PIN. */
export class BayDoor {
  constructor(private readonly needs: BayDoorNeeds) {}

  /** The tablet that a browser is, by the secret it keeps, with those who can change over at it; null for another. */
  async of(token: string | undefined): Promise<Bay | null> {
    const tablet = await this.tabletOf(token);
    if (tablet === null) return null;
    const people = await this.needs.source.query<Bay['people']>(
      `select id, display_name as "displayName"
        from app_user
        where active and pin_hash is not null
        order by display_name, id
        limit 100`,
    );
    return { tablet: tablet.name, people, locked: isLocked(tablet) };
  }

  private async tabletOf(token: string | undefined): Promise<BayTabletRow | null> {
    if (token === undefined) return null;
    const tablet = await this.needs.source.manager.findOneBy(BayTabletEntity, { tokenHash: digestOf(token) });
    return tablet === null || tablet.endedAt !== null ? null : tablet;
  }

  /** The tablet that may try a PIN. Throws no_tablet, tablet_locked. */
  private async openTablet(token: string | undefined): Promise<BayTabletRow> {
    const tablet = await this.tabletOf(token);
    if (tablet === null) throw new Problem('no_tablet');
    if (isLocked(tablet)) throw new Problem('tablet_locked');
    return tablet;
  }

  /** A text for the tablet to sign once; the one before it is worth nothing. Throws no_tablet, tablet_locked. */
  async challenge(token: string | undefined): Promise<string> {
    const { id } = await this.openTablet(token);
    const challenge = newToken();
    await this.needs.source.manager.update(BayTabletEntity, { id }, { challenge, challengeAt: this.needs.clock.now() });
    return challenge;
  }

  /**
   * Somebody who types a PIN at a tablet, as a mechanic. The tablet signs for each try, and a try is counted before the
   * PIN is looked at. Throws no_tablet, tablet_locked, stale_page, wrong_pin, too_many_tries.
   */
  async enter(
    token: string | undefined,
    told: z.infer<typeof bayEnter>,
  ): Promise<SignedIn & { readonly tabletId: string }> {
    const tablet = await this.openTablet(token);
    if (!(await signedAtTablet(tablet.publicKey, told))) throw new Problem('no_tablet');
    await this.needs.tries.count({ pin: told.personId });
    const wrong = await this.countTry(tablet.id, told);
    const row = await this.needs.source.manager.findOneBy(UserEntity, { id: told.personId });
    const right = await fits(row?.pinHash ?? null, told.pin);
    if (!row || !right || !row.active) throw await this.wrongPin(tablet, wrong);
    await this.needs.tries.forgetPin(told.personId);
    await this.needs.source.query('update bay_tablet set wrong_pins = wrong_pins - $2 where id = $1', [
      tablet.id,
      told.personId,
    ]);
    return { user: { ...wireUser(row), role: AT_THE_BAY }, proof: proofOf(row.pinHash!), tabletId: tablet.id };
  }

  /** Uses a challenge up and counts the try with it; answers the tries so far. Throws stale_page. */
  private async countTry(id: string, { challenge, personId }: z.infer<typeof bayEnter>): Promise<number> {
    const since = new Date(this.needs.clock.now().getTime() - CHALLENGE_MINUTES * 60_000);
    const [rows] = await this.needs.source.query<[{ wrong: number }[], number]>(
      `update bay_tablet t
        set challenge = null,
          wrong_pins = t.wrong_pins || jsonb_build_object($2::text, coalesce((t.wrong_pins ->> $2::text)::int, 0) + 1)
        where t.id = $1 and t.challenge = $3 and t.challenge_at > $4 and ${WRONG_PINS_OF_T} < $5
        returning ${WRONG_PINS_OF_T} as wrong`,
      [id, personId, challenge, since, WRONG_PINS],
    );
    if (rows.length === 0) throw new Problem('stale_page');
    return rows[0]!.wrong;
  }

  /** The refusal of a wrong PIN; the one that locks the tablet is noted in the trail. */
  private async wrongPin({ name }: BayTabletRow, wrong: number): Promise<Problem> {
    if (wrong < WRONG_PINS) return new Problem('wrong_pin');
    await inTransaction(this.needs.source, (manager) =>
      notePeople(manager, this.needs.clock, [{ by: null, person: null, kind: 'tablet_locked', before: name }]),
    );
    return new Problem('tablet_locked');
  }

  /** Somebody signed in with a password on this browser: a tablet that wrong PINs have locked is open again. */
  async open(token: string | undefined, by: string): Promise<void> {
    const tablet = await this.tabletOf(token);
    if (tablet === null || !isLocked(tablet)) return;
    await inTransaction(this.needs.source, async (manager) => {
      await manager.update(BayTabletEntity, { id: tablet.id }, { wrongPins: {} });
      await notePeople(manager, this.needs.clock, [{ by, person: null, kind: 'tablet_opened', after: tablet.name }]);
    });
  }

  /** Somebody has touched the tablet: it asks for no PIN until it has rested again. */
  async awake(sid: string): Promise<void> {
    await this.needs.source.query('update session set awake_at = $2 where sid = $1', [sid, this.needs.clock.now()]);
  }
}
