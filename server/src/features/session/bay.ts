import type { Bay, Role } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { BayTabletEntity, UserEntity } from '../../ledger/people-rows.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { digestOf, fits } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { proofOf, wireUser, type SignedIn } from './service.ts';
import type { Tries } from './throttle.ts';

/** What anybody may do at a bay tablet, whoever it is: a PIN is short. */
export const AT_THE_BAY: Role = 'mechanic';

/** Services that BayDoor works with. */
export interface BayDoorNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly tries: Tries;
}

/** The tablet at the bay: it stays what it is, and people change over with a PIN. */
export class BayDoor {
  constructor(private readonly needs: BayDoorNeeds) {}

  /** The tablet that a browser is, by the secret it keeps, with those who can change over at it; null for another. */
  async of(token: string | undefined): Promise<(Bay & { readonly id: string }) | null> {
    if (token === undefined) return null;
    const tablet = await this.needs.source.manager.findOneBy(BayTabletEntity, { tokenHash: digestOf(token) });
    if (!tablet || tablet.endedAt !== null) return null;
    const people = await this.needs.source.query<Bay['people']>(
      `select id, display_name as "displayName"
        from app_user
        where active and pin_hash is not null
        order by display_name, id
        limit 100`,
    );
    return { id: tablet.id, tablet: tablet.name, people };
  }

  /** Somebody who types a PIN at a tablet, as a mechanic. Throws wrong_pin, too_many_tries, not_found. */
  async enter(
    token: string | undefined,
    personId: string,
    pin: string,
  ): Promise<SignedIn & { readonly tabletId: string }> {
    const bay = await this.of(token);
    if (bay === null) throw new Problem('no_tablet');
    await this.needs.tries.count({ pin: personId });
    const row = await this.needs.source.manager.findOneBy(UserEntity, { id: personId });
    const right = await fits(row?.pinHash ?? null, pin);
    if (!row || !right || !row.active) throw new Problem('wrong_pin');
    await this.needs.tries.forgetPin(personId);
    return { user: { ...wireUser(row), role: AT_THE_BAY }, proof: proofOf(row.pinHash!), tabletId: bay.id };
  }

  /** Somebody has touched the tablet: it asks for no PIN until it has rested again. */
  async awake(sid: string): Promise<void> {
    await this.needs.source.query('update session set awake_at = $2 where sid = $1', [sid, this.needs.clock.now()]);
  }
}
