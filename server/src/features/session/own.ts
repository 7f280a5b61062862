import { FAULTS, type SessionUser, type SignedInAt } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { endSignIns, lockPerson, notePeople } from '../../ledger/people.ts';
import { OneTimeLinkEntity, SessionEntity, UserEntity, type UserRow } from '../../ledger/people-rows.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { isoInstant } from '../../platform/paged.ts';
import { digestOf, fits, hashed, weaknessOf } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';
import { wireUser } from './service.ts';
import { countersOf, type Tries } from './throttle.ts';

/** Somebody who acts for himself: who, by which sign-in, from where. */
export interface Own {
  readonly userId: string;
  readonly sid: string;
  readonly address: string;
}

/** Services that OwnAccount works with. */
export interface OwnAccountNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly tries: Tries;
}

/** What everybody does with his own account, and the link by which he gets it. */
export class OwnAccount {
  constructor(private readonly needs: OwnAccountNeeds) {}

  /** Somebody who acts for himself, with the password that proves it. Throws bad_input where that is not his. */
  private async proven(userId: string, current: string, address: string): Promise<UserRow> {
    const row = await this.needs.source.manager.findOneBy(UserEntity, { id: userId });
    if (!row) throw new Problem('sign_in_required');
    const counters = countersOf(row.name, address);
    await this.needs.tries.count(counters);
    if (!(await fits(row.passwordHash, current)))
      throw new Problem('bad_input', { fields: [{ path: 'current', message: FAULTS.notYourPassword }] });
    await this.needs.tries.forget(counters);
    return row;
  }

  /**
   * Changes one's own password; every other sign-in of that person ends. Throws bad_input where the old one is not his,
   * or the new one is soon guessed.
   */
  async changePassword(
    { userId, sid, address }: Own,
    { current, password }: { readonly current: string; readonly password: string },
  ): Promise<void> {
    const row = await this.proven(userId, current, address);
    const weakness = await weaknessOf(password, [row.name, row.displayName]);
    if (weakness !== null) throw new Problem('bad_input', { fields: [{ path: 'password', message: weakness }] });
    const passwordHash = await hashed(password);
    await inTransaction(this.needs.source, async (manager) => {
      await manager.update(UserEntity, { id: userId }, { passwordHash, demoPassword: null });
      await endSignIns(manager, userId, sid);
      await notePeople(manager, this.needs.clock, [{ by: userId, person: userId, kind: 'password_changed' }]);
    });
  }

  /** Sets one's own PIN for the bay tablets, or takes it away. Throws bad_input where the password is not his. */
  async setPin(
    { userId, address }: Own,
    { current, pin }: { readonly current: string; readonly pin: string | null },
  ): Promise<void> {
    await this.proven(userId, current, address);
    const pinHash = pin === null ? null : await hashed(pin);
    await this.needs.tries.forgetPin(userId);
    await inTransaction(this.needs.source, async (manager) => {
      await manager.update(UserEntity, { id: userId }, { pinHash });
      await notePeople(manager, this.needs.clock, [
        { by: userId, person: userId, kind: pin === null ? 'pin_removed' : 'pin_set' },
      ]);
    });
  }

  /** Where somebody is signed in, the latest first. What tells one from another is no secret of it. */
  async signIns({ userId, sid }: Pick<Own, 'userId' | 'sid'>): Promise<SignedInAt[]> {
    const rows = await this.needs.source.query<(Omit<SignedInAt, 'id' | 'here'> & { sid: string })[]>(
      `select s.sid, s.agent, t.name as tablet, ${isoInstant('s.began_at')} as "beganAt",
          ${isoInstant('s.seen_at')} as "seenAt"
        from session s
        left join bay_tablet t on t.id = s.tablet_id
        where s.person_id = $1 and s.expires_at > $2
        order by s.seen_at desc, s.sid
        limit 100`,
      [userId, this.needs.clock.now()],
    );
    return rows.map(({ sid: own, ...row }) => ({ ...row, id: digestOf(own), here: own === sid }));
  }

  /** Ends one of one's own sign-ins, or with `others` all but this one. Throws not_found. */
  async endSignIn({ userId, sid }: Pick<Own, 'userId' | 'sid'>, id: string): Promise<void> {
    await inTransaction(this.needs.source, async (manager) => {
      if (id === 'others') await endSignIns(manager, userId, sid);
      else {
        const rows = await manager.find(SessionEntity, { where: { personId: userId }, select: { sid: true } });
        const found = rows.find((row) => digestOf(row.sid) === id);
        if (!found) throw new Problem('not_found');
        await manager.delete(SessionEntity, { sid: found.sid });
      }
      await notePeople(manager, this.needs.clock, [{ by: userId, person: userId, kind: 'signed_out' }]);
    });
  }

  /** Whom a one-time link is for. Throws link_used where it was used, replaced, or is over. */
  async linkMeaning(token: string, address: string): Promise<{ readonly row: UserRow; readonly until: Date }> {
    const counters = { pair: `link ${address}`, address };
    await this.needs.tries.count(counters);
    const link = await this.needs.source.manager.findOneBy(OneTimeLinkEntity, { tokenHash: digestOf(token) });
    const row = link && (await this.needs.source.manager.findOneBy(UserEntity, { id: link.personId }));
    if (!link || !row?.active || link.expiresAt < this.needs.clock.now()) throw new Problem('link_used');
    // A right link is no guess: a whole crew may come in by one address.
    await this.needs.tries.forget({ ...counters, name: '' });
    return { row, until: link.expiresAt };
  }

  /** Sets a password by a one-time link, which is worth nothing from then on. Throws link_used, bad_input. */
  async useLink(token: string, password: string, address: string): Promise<SessionUser> {
    const { row } = await this.linkMeaning(token, address);
    const weakness = await weaknessOf(password, [row.name, row.displayName]);
    if (weakness !== null) throw new Problem('bad_input', { fields: [{ path: 'password', message: weakness }] });
    const passwordHash = await hashed(password);
    return inTransaction(this.needs.source, async (manager) => {
      const person = await lockPerson(manager, row.id);
      const { affected } = await manager.delete(OneTimeLinkEntity, { tokenHash: digestOf(token) });
      if (affected !== 1 || !person?.active) throw new Problem('link_used');
      await manager.update(UserEntity, { id: row.id }, { passwordHash });
      await endSignIns(manager, row.id);
      await notePeople(manager, this.needs.clock, [{ by: null, person: row.id, kind: 'password_set' }]);
      return wireUser(person);
    });
  }
}
