import {
  lookedAtWords,
  walkSubject,
  type HELD_BECAUSE,
  type WalkEntryCreate,
  type WalkSynced,
  type WalkView,
} from '@crosspeen/contract';
import { isoFromDay } from '@crosspeen/core';
import { IsNull, type EntityManager } from 'typeorm';
import { engineOnFile, pointOfEngine } from '../../knowledge/engine.ts';
import { taskOfEngine } from '../../knowledge/upkeep.ts';
import { writeFinding } from '../../ledger/finding.ts';
import type { ChangeAuthor, Journal } from '../../ledger/journal.ts';
import { WalkEntity, WalkEntryEntity, type WalkEntryRow, type WalkRow } from '../../ledger/walk-rows.ts';
import { dayMade } from '../../platform/day-made.ts';
import { Problem } from '../../platform/problem.ts';
import { answerFor } from '../../reckoning/answer.ts';
import { DeskService } from '../../reckoning/desk.ts';
import { subjectOnFile } from '../../reckoning/complaint.ts';
import { recordsOfVehicle } from '../../reckoning/records.ts';
import { walkRound, type WalkGrounds } from '../../reckoning/walk.ts';
import { keyOf, ENTRIES, type EntryOut, photosWhere, type PhotoOut, wirePhoto } from './rows.ts';

/** What an entry comes to once it is held against what stands. */
type Decided =
  | { readonly how: 'applies'; readonly instead: WalkEntryRow | null }
  | { readonly how: 'same'; readonly as: WalkEntryRow }
  | { readonly how: 'held'; readonly because: (typeof HELD_BECAUSE)[number] };

/** A walk round a vehicle: its sheet, what is entered on it from any device, and what that comes to. */
export class WalkService extends DeskService {
  private async grounds(
    manager: EntityManager,
    vehicleId: string,
  ): Promise<WalkGrounds & { readonly vehicle: Awaited<ReturnType<typeof recordsOfVehicle>>['row'] }> {
    const records = await recordsOfVehicle(manager, vehicleId);
    const knowledge = await engineOnFile(this.library, manager, records.row.familyId);
    const settings = await this.settings.now(manager);
    const today = this.clock.today();
    const answer = answerFor(
      { knowledge, subject: await subjectOnFile(manager, records, { knowledge, settings, today }), settings, today },
      { drawn: false },
    );
    return { answer, knowledge, settings, vehicle: records.row };
  }

  /** The walk that is under way round a vehicle, the one named, or what a new one would be. Throws not_found. */
  async view(
    vehicleId: string,
    { minutes = null, walkId = null }: { readonly minutes?: number | null; readonly walkId?: string | null } = {},
  ): Promise<WalkView> {
    const { manager } = this.source;
    const grounds = await this.grounds(manager, vehicleId);
    const { answer, knowledge, vehicle } = grounds;
    const walk = await manager.findOneBy(
      WalkEntity,
      walkId === null ? { vehicleId, endedAt: IsNull() } : { id: walkId, vehicleId },
    );
    const entries = walk === null ? [] : await manager.query<EntryOut[]>(ENTRIES, [walk.id]);
    const bad = new Set(
      entries.flatMap(({ weakPointId, result, state }) =>
        weakPointId !== null && state === 'stands' && (result === 'worn' || result === 'failed') ? [weakPointId] : [],
      ),
    );
    const photos = await manager.query<PhotoOut[]>(photosWhere('p.vehicle_id = $1 and p.day >= $2'), [
      vehicleId,
      walk?.day ?? isoFromDay(answer.today),
    ]);
    const by =
      walk === null
        ? []
        : await manager.query<{ name: string }[]>('select display_name as name from app_user where id = $1', [
            walk.userId,
          ]);
    return {
      engine: answer.engine,
      vehicle: { id: vehicle.id as never, plate: vehicle.plate, name: vehicle.name, model: vehicle.model },
      odometerUnit: vehicle.odometerUnit,
      today: answer.today,
      now: answer.now,
      layout: knowledge.layout,
      budgetMinutes: walk === null ? minutes : walk.budgetMinutes,
      ...walkRound(grounds, { budgetMinutes: minutes, begun: walk && { items: walk.items, bad } }),
      walk: walk && {
        id: walk.id,
        day: walk.day,
        by: by[0]!.name,
        startedAt: walk.createdAt.toISOString(),
        endedAt: walk.endedAt?.toISOString() ?? null,
      },
      entries: entries.map(({ weakPointId, taskId, madeAt, ...entry }) => ({
        ...entry,
        key: keyOf({ weakPointId, taskId }),
        madeAt: madeAt.toISOString(),
      })),
      photos: photos.map(wirePhoto),
    };
  }

  /** Begins the walk of that id, or joins the one under way; one that was ended takes what comes late all the same. */
  private async begin(
    author: ChangeAuthor,
    vehicleId: string,
    { id, day, budgetMinutes }: Pick<WalkRow, 'id' | 'day' | 'budgetMinutes'>,
  ): Promise<WalkRow> {
    const { manager } = this.source;
    const standing =
      (await manager.findOneBy(WalkEntity, { id, vehicleId })) ??
      (await manager.findOneBy(WalkEntity, { vehicleId, endedAt: IsNull() }));
    if (standing !== null) return standing;
    const grounds = await this.grounds(manager, vehicleId);
    const { steps } = walkRound(grounds, { budgetMinutes, begun: null });
    // Of two that begin at once, one begins and the other joins.
    await manager.query(
      `insert into walk (id, vehicle_id, user_id, day, budget_minutes, items)
        values ($1, $2, $3, $4, $5, $6)
        on conflict do nothing`,
      [
        id,
        vehicleId,
        author.userId,
        day,
        budgetMinutes,
        JSON.stringify(steps.map(({ key, chance }) => ({ key, chance }))),
      ],
    );
    const begun = await manager.findOneBy(WalkEntity, { vehicleId, endedAt: IsNull() });
    if (begun === null) throw new Problem('not_found');
    return begun;
  }

  /** The entry of a walk that counts for one thing. */
  private async last(
    manager: EntityManager,
    walkId: string,
    { weakPointId, taskId }: Pick<WalkEntryRow, 'weakPointId' | 'taskId'>,
  ): Promise<WalkEntryRow | undefined> {
    const rows = await manager.query<WalkEntryRow[]>(
      `select e.id, e.result, e.grade, e.measured, e.finding_id as "findingId", e.upkeep_id as "upkeepId"
        from walk_entry e
        left join finding f on f.id = e.finding_id
        left join upkeep_record k on k.id = e.upkeep_id
        where e.walk_id = $1 and e.state = 'stands'
          and e.weak_point_id is not distinct from $2 and e.task_id is not distinct from $3
          and coalesce(f.retracted_at, k.retracted_at) is null
        order by e.created_at desc
        limit 1`,
      [walkId, weakPointId, taskId],
    );
    return rows[0];
  }

  /** Takes back what an entry wrote; where it wrote something, it is put aside with that, and comes back with it. */
  private async takeBack(
    journal: Journal,
    { id, findingId, upkeepId }: Pick<WalkEntryRow, 'id' | 'findingId' | 'upkeepId'>,
  ): Promise<void> {
    if (findingId !== null) await journal.retract('finding', findingId);
    if (upkeepId !== null) await journal.retract('upkeep_record', upkeepId);
    if (findingId === null && upkeepId === null)
      await journal.manager.update(WalkEntryEntity, { id }, { state: 'dropped' });
  }

  /** What stands against an entry: another one that its device had not seen, or a renewal that came between. */
  private async decide(
    manager: EntityManager,
    walk: WalkRow,
    entry: WalkEntryCreate,
    of: { readonly weakPointId: string | null; readonly taskId: string | null },
  ): Promise<Decided> {
    const last = await this.last(manager, walk.id, of);
    if (last !== undefined && last.id !== (entry.seen ?? null)) {
      const same =
        last.result === entry.result &&
        last.measured === (entry.measured ?? null) &&
        last.grade === (entry.grade ?? null);
      return same ? { how: 'same', as: last } : { how: 'held', because: 'another_entry' };
    }
    if (of.weakPointId !== null) {
      const renewed = await manager.query<unknown[]>(
        `select 1
          from service_record s
          join weak_point w on w.component_id = s.component_id
          where s.vehicle_id = $1 and w.id = $2 and s.certainty = 'done' and s.retracted_at is null
            and s.day >= $3 and s.created_at > $4
          limit 1`,
        [walk.vehicleId, of.weakPointId, dayMade(this.clock, entry.madeAt), entry.madeAt],
      );
      if (renewed.length > 0) return { how: 'held', because: 'renewed_meanwhile' };
    }
    return { how: 'applies', instead: last ?? null };
  }

  /** Writes what an entry says into the vehicle's record. */
  private async write(
    journal: Journal,
    author: ChangeAuthor,
    { walk, entry, of }: { walk: WalkRow; entry: WalkEntryCreate; of: Pick<WalkEntryRow, 'weakPointId' | 'taskId'> },
  ): Promise<{ findingId: string | null; upkeepId: string | null }> {
    const { result } = entry;
    if (result === 'unseen') return { findingId: null, upkeepId: null };
    if (of.weakPointId !== null) {
      const findingId = await writeFinding(journal, author, {
        vehicleId: walk.vehicleId,
        weakPointId: of.weakPointId,
        visitId: null,
        day: dayMade(this.clock, entry.madeAt),
        result: result as 'sound' | 'worn' | 'failed',
        grade: entry.grade ?? null,
        measured: entry.measured ?? null,
        unit: entry.unit ?? null,
        note: entry.note ?? null,
      });
      return { findingId, upkeepId: null };
    }
    const words = result === 'done' || result === 'sound' ? null : `Found ${result}.`;
    const row = await journal.insert('upkeep_record', {
      vehicleId: walk.vehicleId,
      taskId: of.taskId!,
      visitId: null,
      certainty: 'done',
      day: dayMade(this.clock, entry.madeAt),
      km: null,
      note: [words, entry.note].filter(Boolean).join(' ') || null,
      userId: author.userId,
    });
    return { findingId: null, upkeepId: row.id };
  }

  /** Takes one entry, once however often it is sent. */
  private async take(
    author: ChangeAuthor,
    walk: WalkRow,
    entry: WalkEntryCreate,
  ): Promise<Pick<WalkEntryRow, 'state' | 'changeId'>> {
    const known = await this.source.manager.findOneBy(WalkEntryEntity, { id: entry.id });
    if (known !== null) {
      const of = await this.source.manager.findOneBy(WalkEntity, { id: known.walkId });
      if (of?.vehicleId !== walk.vehicleId) throw new Problem('taken');
      return known;
    }
    const subject = walkSubject(entry.key);
    const of = {
      weakPointId: 'weakPointId' in subject ? subject.weakPointId : null,
      taskId: 'taskId' in subject ? subject.taskId : null,
    };
    let state: WalkEntryRow['state'] = 'stands';
    const done = await this.changes
      .record({ userId: author.userId }, async (journal) => {
        const { manager } = journal;
        const vehicle = await journal.lock('vehicle', walk.vehicleId);
        const { title } =
          of.weakPointId === null
            ? await taskOfEngine(manager, vehicle.familyId, of.taskId!)
            : await pointOfEngine(manager, vehicle.familyId, of.weakPointId);
        // Sent twice at once, the second waits for the vehicle and finds the first.
        const twice = await manager.findOneBy(WalkEntryEntity, { id: entry.id });
        if (twice !== null) throw new SentTwice(twice);
        const decided = await this.decide(manager, walk, entry, of);
        if (decided.how === 'applies' && decided.instead !== null) {
          await this.takeBack(journal, decided.instead);
        }
        const written =
          decided.how === 'applies'
            ? await this.write(journal, author, { walk, entry, of })
            : decided.how === 'same'
              ? { findingId: decided.as.findingId, upkeepId: decided.as.upkeepId }
              : { findingId: null, upkeepId: null };
        state = decided.how === 'held' ? 'held' : 'stands';
        await manager.insert(WalkEntryEntity, {
          ...of,
          ...written,
          id: entry.id,
          walkId: walk.id,
          result: entry.result,
          grade: entry.grade ?? null,
          measured: entry.measured ?? null,
          unit: entry.unit ?? null,
          note: entry.note ?? null,
          madeAt: new Date(entry.madeAt),
          seen: entry.seen ?? null,
          userId: author.userId,
          state,
          heldBecause: decided.how === 'held' ? decided.because : null,
          changeId: null,
        });
        const words =
          state === 'held'
            ? 'entered, and waits for a decision'
            : entry.result === 'unseen'
              ? 'could not be seen'
              : entry.result === 'done' || of.taskId !== null
                ? 'done'
                : lookedAtWords(entry.result);
        return { id: entry.id, vehicleId: walk.vehicleId, summary: `${title}: ${words}` };
      })
      .catch((error: unknown) => {
        if (error instanceof SentTwice) return error.entry;
        throw error;
      });
    if (done instanceof Object && 'state' in done) return done;
    await this.source.manager.update(WalkEntryEntity, { id: entry.id }, { changeId: done.changeId });
    return { state, changeId: done.changeId };
  }

  /**
   * Takes what a device has: begins or joins the walk and writes each entry once. What one entry has wrong does not
   * keep the others back.
   */
  async sync(
    author: ChangeAuthor,
    vehicleId: string,
    {
      walk: asked,
      entries,
    }: { walk: Pick<WalkRow, 'id' | 'day' | 'budgetMinutes'>; entries: readonly WalkEntryCreate[] },
  ): Promise<WalkSynced> {
    const walk = await this.begin(author, vehicleId, asked);
    const taken: WalkSynced['entries'] = [];
    for (const entry of entries) {
      try {
        const { state, changeId } = await this.take(author, walk, entry);
        taken.push({ id: entry.id, state, refused: null, changeId: changeId as never });
      } catch (error) {
        if (!(error instanceof Problem) || error.status >= 500) throw error;
        taken.push({ id: entry.id, state: null, refused: error.message, changeId: null });
      }
    }
    return { view: await this.view(vehicleId, { walkId: walk.id }), entries: taken };
  }

  /** Decides about an entry that waits: it counts instead of what stands, or it is put aside. */
  async settle(author: ChangeAuthor, vehicleId: string, entryId: string, isTaken: boolean): Promise<WalkView> {
    let walkId = '';
    const done = await this.changes.record(author, async (journal) => {
      const { manager } = journal;
      await journal.lock('vehicle', vehicleId);
      const row = await manager.findOneBy(WalkEntryEntity, { id: entryId });
      const walk = row && (await manager.findOneBy(WalkEntity, { id: row.walkId, vehicleId }));
      if (!row || !walk || row.state !== 'held') throw new Problem('not_found');
      walkId = walk.id;
      if (!isTaken) {
        await manager.update(WalkEntryEntity, { id: entryId }, { state: 'dropped', heldBecause: null });
        return { id: entryId, vehicleId, summary: 'An entry of the walk was put aside' };
      }
      const entry: WalkEntryCreate = { ...row, key: keyOf(row), madeAt: row.madeAt.toISOString() };
      const last = await this.last(manager, walk.id, row);
      if (last !== undefined) await this.takeBack(journal, last);
      const written = await this.write(journal, { userId: row.userId }, { walk, entry, of: row });
      await manager.update(WalkEntryEntity, { id: entryId }, { ...written, state: 'stands', heldBecause: null });
      return { id: entryId, vehicleId, summary: 'An entry of the walk counts now' };
    });
    if (isTaken) await this.source.manager.update(WalkEntryEntity, { id: entryId }, { changeId: done.changeId });
    return this.view(vehicleId, { walkId });
  }

  /** Ends a walk; what devices still hold of it is taken when it comes. */
  async end(vehicleId: string, walkId: string): Promise<WalkView> {
    const ended = await this.source.manager.query<[unknown[], number]>(
      'update walk set ended_at = coalesce(ended_at, $3), version = version + 1 where id = $1 and vehicle_id = $2',
      [walkId, vehicleId, this.clock.now()],
    );
    if (ended[1] === 0) throw new Problem('not_found');
    return this.view(vehicleId, { walkId });
  }
}

/** An entry that came a second time while the first was being written. */
class SentTwice extends Error {
  constructor(readonly entry: WalkEntryRow) {
    super('sent twice');
  }
}
