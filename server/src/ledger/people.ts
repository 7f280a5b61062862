import type { PeopleChangeKind } from '@crosspeen/contract';
import type { EntityManager } from 'typeorm';
import { digestOf, newToken } from '../platform/passwords.ts';
import type { ShopClock } from '../platform/clock.ts';
import { OneTimeLinkEntity, PeopleChangeEntity, SessionEntity, UserEntity, type UserRow } from './people-rows.ts';

/** Days for which a one-time link is good. */
const LINK_DAYS = 7;

/** One entry of the trail of people and rights. */
export interface PeopleEntry {
  /** Who did it; null where a code or a link stood for them. */
  readonly by: string | null;
  readonly person: string | null;
  readonly kind: PeopleChangeKind;
  readonly before?: string | null;
  readonly after?: string | null;
}

/** Writes what was changed of people and rights, in the transaction that changes it. */
export async function notePeople(
  manager: EntityManager,
  clock: ShopClock,
  entries: readonly PeopleEntry[],
): Promise<void> {
  await manager.insert(
    PeopleChangeEntity,
    entries.map(({ by, person, kind, before = null, after = null }) => ({
      at: clock.now(),
      userId: by,
      personId: person,
      kind,
      before,
      after,
    })),
  );
}

/** A row of a person, locked until the transaction ends; null when there is none. */
export const lockPerson = (manager: EntityManager, id: string): Promise<UserRow | null> =>
  manager.findOne(UserEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });

/** Makes the one link by which somebody sets a password; earlier ones are worth nothing from then on. */
export async function makeLink(
  manager: EntityManager,
  clock: ShopClock,
  { personId, by }: { readonly personId: string; readonly by: string | null },
): Promise<string> {
  const token = newToken();
  await manager.delete(OneTimeLinkEntity, { personId });
  await manager.insert(OneTimeLinkEntity, {
    personId,
    tokenHash: digestOf(token),
    writtenBy: by,
    expiresAt: new Date(clock.now().getTime() + LINK_DAYS * 86_400_000),
  });
  return token;
}

/** Ends every sign-in of somebody, but for one that is named. */
export async function endSignIns(
  manager: EntityManager,
  personId: string,
  except: string | null = null,
): Promise<void> {
  const sessions = manager
    .createQueryBuilder()
    .delete()
    .from(SessionEntity)
    .where('person_id = :personId', { personId });
  if (except !== null) sessions.andWhere('sid <> :except', { except });
  await sessions.execute();
}
