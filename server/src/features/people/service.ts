import {
  FAULTS,
  skeletonOf,
  type PeopleChange,
  type Person,
  type PersonWithLink,
  type Role,
} from '@crosspeen/contract';
import type { DataSource, EntityManager } from 'typeorm';
import { endSignIns, lockPerson, makeLink, notePeople, type PeopleEntry } from '../../ledger/people.ts';
import { OneTimeLinkEntity, UserEntity } from '../../ledger/people-rows.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { isoInstant, paged, pageOf, type PageAsked, type Paged } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { inTransaction } from '../../platform/transaction.ts';

const PERSON = `
  select p.id, p.name, p.display_name as "displayName", p.role, p.active, p.version,
    p.password_hash is not null as "hasPassword", p.pin_hash is not null as "hasPin",
    (select ${isoInstant('max(l.expires_at)')} from one_time_link l where l.person_id = p.id) as "linkUntil",
    (select ${isoInstant('max(s.seen_at)')} from session s where s.person_id = p.id) as "seenAt"
  from app_user p`;

/** More people than any workshop has. */
const MOST_PEOPLE = 500;

async function personOf(manager: EntityManager, id: string): Promise<Person> {
  const [row] = await manager.query<Person[]>(`${PERSON} where p.id = $1`, [id]);
  if (!row) throw new Problem('not_found');
  return row;
}

/** The owners stand in one line: of two who let each other go at once, the second is told. */
async function mustKeepAnOwner(manager: EntityManager, but: string): Promise<void> {
  const others = await manager.query<{ id: string }[]>(
    `select id from app_user where role = 'owner' and active and password_hash is not null order by id for update`,
  );
  if (!others.some(({ id }) => id !== but)) throw new Problem('last_owner');
}

/** The name of somebody here that the eye takes for this one, or null. */
async function lookalikeOf(manager: EntityManager, name: string): Promise<string | null> {
  const people = await manager.query<{ name: string }[]>('select name from app_user');
  return people.find((person) => skeletonOf(person.name) === skeletonOf(name))?.name ?? null;
}

/** Services that PeopleService works with. */
export interface PeopleServiceNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
}

/** Who works here, and what each may do. */
export class PeopleService {
  constructor(private readonly needs: PeopleServiceNeeds) {}

  /** Everybody, those who are here first. */
  list(): Promise<Person[]> {
    return this.needs.source.query<Person[]>(
      `${PERSON} order by p.active desc, p.display_name, p.id limit ${MOST_PEOPLE}`,
    );
  }

  /** What was changed of people and rights, the latest first. */
  async changes(page: PageAsked): Promise<Paged<PeopleChange> & PageAsked> {
    const found = await paged<PeopleChange>(this.needs.source, page, {
      rows: (limits) =>
        `select c.id, ${isoInstant('c.at')} as at, c.kind, c.before, c.after, b.display_name as by,
            p.display_name as person
          from people_change c
          left join app_user b on b.id = c.user_id
          left join app_user p on p.id = c.person_id
          order by c.at desc, c.id desc ${limits}`,
      counted: 'from people_change',
    });
    return pageOf(found, page);
  }

  /** Adds somebody, with the link by which he sets his password. Throws taken where the name is somebody's. */
  add(
    by: string,
    { name, displayName, role }: { readonly name: string; readonly displayName: string; readonly role: Role },
  ): Promise<PersonWithLink> {
    return inTransaction(this.needs.source, async (manager) => {
      await manager.query("select pg_advisory_xact_lock(hashtext('adding a person'))");
      if (await manager.existsBy(UserEntity, { name }))
        throw new Problem('taken', { fields: [{ path: 'name', message: FAULTS.nameTaken }] });
      const alike = await lookalikeOf(manager, name);
      if (alike !== null) throw badField('name', FAULTS.nameLooksAlike(alike));
      const { id } = await manager.save(
        UserEntity,
        manager.create(UserEntity, { name, displayName, role, active: true, version: 1 }),
      );
      const token = await makeLink(manager, this.needs.clock, { personId: id, by });
      await notePeople(manager, this.needs.clock, [
        { by, person: id, kind: 'added', after: role },
        { by, person: id, kind: 'link_made' },
      ]);
      return { person: await personOf(manager, id), token };
    });
  }

  /**
   * Changes name, role, and whether somebody works here; who does not is signed out everywhere. Throws
   * changed_meanwhile with the person as he is now; last_owner.
   */
  update(
    by: string,
    id: string,
    {
      displayName,
      role,
      active,
      version,
    }: { readonly displayName: string; readonly role: Role; readonly active: boolean; readonly version: number },
  ): Promise<Person> {
    return inTransaction(this.needs.source, async (manager) => {
      const leaves = role !== 'owner' || !active;
      const row = await lockPerson(manager, id);
      if (!row) throw new Problem('not_found');
      if (row.version !== version) throw new Problem('changed_meanwhile', { current: await personOf(manager, id) });
      if (row.role === 'owner' && row.active && leaves) await mustKeepAnOwner(manager, id);
      const entries: PeopleEntry[] = [];
      if (row.displayName !== displayName)
        entries.push({ by, person: id, kind: 'renamed', before: row.displayName, after: displayName });
      if (row.role !== role) entries.push({ by, person: id, kind: 'role', before: row.role, after: role });
      if (row.active !== active) entries.push({ by, person: id, kind: active ? 'reactivated' : 'deactivated' });
      if (entries.length === 0) return personOf(manager, id);
      await manager.update(UserEntity, { id }, { displayName, role, active, version: version + 1 });
      if (!active) {
        await endSignIns(manager, id);
        await manager.delete(OneTimeLinkEntity, { personId: id });
      }
      await notePeople(manager, this.needs.clock, entries);
      return personOf(manager, id);
    });
  }

  /**
   * A new one-time link: the password and the PIN that stood are worth nothing from then on, and every sign-in ends.
   * Throws last_owner where nobody else could come in.
   */
  reset(by: string | null, id: string): Promise<PersonWithLink> {
    return inTransaction(this.needs.source, async (manager) => {
      const row = await lockPerson(manager, id);
      if (!row?.active) throw new Problem('not_found');
      if (by !== null && row.role === 'owner') await mustKeepAnOwner(manager, id);
      await manager.update(UserEntity, { id }, { passwordHash: null, pinHash: null, demoPassword: null });
      await endSignIns(manager, id);
      const token = await makeLink(manager, this.needs.clock, { personId: id, by });
      await notePeople(manager, this.needs.clock, [{ by, person: id, kind: 'link_made' }]);
      return { person: await personOf(manager, id), token };
    });
  }
}
