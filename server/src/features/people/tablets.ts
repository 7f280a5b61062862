import { FAULTS, WRONG_PINS, type BayTablet } from '@crosspeen/contract';
import { IsNull, type DataSource } from 'typeorm';
import { notePeople } from '../../ledger/people.ts';
import { BayTabletEntity } from '../../ledger/people-rows.ts';
import { WRONG_PINS_OF_T, tabletKey } from '../../ledger/tablet-keys.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { isoInstant } from '../../platform/paged.ts';
import { digestOf, newToken } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';

/** Services that TabletShelf works with. */
export interface TabletShelfNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** The tablets that stay at the bays. */
export class TabletShelf {
  constructor(private readonly needs: TabletShelfNeeds) {}

  /** Those in use; `token` is what the asking browser keeps, where it is one of them. */
  async list(token: string | undefined): Promise<BayTablet[]> {
    return this.needs.source.query<BayTablet[]>(
      `select t.id, t.name, ${isoInstant('t.made_at')} as "madeAt", t.token_hash = $1 as here,
          ${WRONG_PINS_OF_T} >= ${WRONG_PINS} as locked,
          (select ${isoInstant('max(s.seen_at)')} from session s where s.tablet_id = t.id) as "seenAt"
        from bay_tablet t
        where t.ended_at is null
        order by t.name, t.id
        limit 100`,
      [token === undefined ? '' : digestOf(token)],
    );
  }

  /** Makes the asking browser a bay tablet; answers its secret. Throws bad_input for a key that is none. */
  async add(by: string, name: string, publicKey: string): Promise<string> {
    if ((await tabletKey(publicKey)) === null)
      throw new Problem('bad_input', { fields: [{ path: 'publicKey', message: FAULTS.tabletKey }] });
    const token = newToken();
    return inTransaction(this.needs.source, async (manager) => {
      await manager.insert(BayTabletEntity, {
        name,
        tokenHash: digestOf(token),
        writtenBy: by,
        publicKey,
        wrongPins: {},
      });
      await notePeople(manager, this.needs.clock, [{ by, person: null, kind: 'tablet_added', after: name }]);
      return token;
    });
  }

  /** Puts a tablet away: who is signed in at it is signed out. Throws not_found. */
  end(by: string, id: string): Promise<void> {
    return inTransaction(this.needs.source, async (manager) => {
      const tablet = await manager.findOne(BayTabletEntity, {
        where: { id, endedAt: IsNull() },
        lock: { mode: 'pessimistic_write' },
      });
      if (!tablet) throw new Problem('not_found');
      await manager.update(BayTabletEntity, { id }, { endedAt: this.needs.clock.now() });
      await manager.query('delete from session where tablet_id = $1', [id]);
      await notePeople(manager, this.needs.clock, [{ by, person: null, kind: 'tablet_ended', before: tablet.name }]);
    });
  }
}
