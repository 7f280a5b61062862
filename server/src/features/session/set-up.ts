import { FAULTS, limitsOf, type SessionUser, type SetUp } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { notePeople } from '../../ledger/people.ts';
import { UserEntity } from '../../ledger/people-rows.ts';
import { DEFAULT_SETTINGS, type SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { bareCode, digestOf, hashed, newCode, weaknessOf } from '../../platform/passwords.ts';
import { Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';
import { wireUser } from './service.ts';
import type { Tries } from './throttle.ts';

/**
 * Makes the code that sets a workshop up; the one before is worth nothing from then on. Null where somebody is here
 * already.
 */
export const makeSetUpCode = (source: DataSource): Promise<string | null> =>
  source.transaction(async (manager) => {
    if (await manager.existsBy(UserEntity, {})) return null;
    const code = newCode();
    await manager.query(
      `insert into set_up_code (id, code_hash) values (1, $1)
        on conflict (id) do update set code_hash = excluded.code_hash, made_at = clock_timestamp()`,
      [digestOf(bareCode(code))],
    );
    return code;
  });

/** Services that SettingUp works with. */
export interface SettingUpNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly tries: Tries;
  readonly settings: SettingsService;
}

/** Sets a workshop up: its settings and its owner, once. */
export class SettingUp {
  constructor(private readonly needs: SettingUpNeeds) {}

  /**
   * Writes settings and owner in one transaction; the code is worth nothing afterwards. Throws set_up_already where
   * somebody was here first; wrong_code; bad_input where the password is soon guessed.
   */
  async setUp({ code, shop, owner }: SetUp, address: string): Promise<SessionUser> {
    await this.needs.tries.count({ pair: `set-up ${address}`, address });
    const weakness = await weaknessOf(owner.password, [owner.name, owner.displayName, shop.workshopName]);
    if (await this.needs.source.manager.existsBy(UserEntity, {})) throw new Problem('set_up_already');
    if (weakness !== null) throw new Problem('bad_input', { fields: [{ path: 'owner.password', message: weakness }] });
    const passwordHash = await hashed(owner.password);
    const { caution, ...values } = shop;
    const user = await inTransaction(this.needs.source, async (manager) => {
      const [known] = await manager.query<{ hash: string }[]>('select code_hash as hash from set_up_code for update');
      if (await manager.existsBy(UserEntity, {})) throw new Problem('set_up_already');
      if (known?.hash !== digestOf(bareCode(code)))
        throw new Problem('wrong_code', { fields: [{ path: 'code', message: FAULTS.wrongCode }] });
      const row = await manager.save(
        UserEntity,
        manager.create(UserEntity, {
          name: owner.name,
          displayName: owner.displayName,
          role: 'owner',
          passwordHash,
          active: true,
          version: 1,
        }),
      );
      await manager.query(
        `insert into setting (id, "values") values (1, $1)
          on conflict (id) do update set "values" = excluded."values", version = setting.version + 1`,
        [JSON.stringify({ ...DEFAULT_SETTINGS, ...values, ...limitsOf(caution) })],
      );
      await manager.query('delete from set_up_code');
      await notePeople(manager, this.needs.clock, [{ by: null, person: row.id, kind: 'set_up', after: 'owner' }]);
      return wireUser(row);
    });
    // What the workshop's day is follows from its time zone, from now on.
    await this.needs.settings.current();
    return user;
  }
}
