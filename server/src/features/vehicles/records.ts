import {
  FAULTS,
  lookedAtWords,
  type Changed,
  type FindingCreate,
  type ServiceCreate,
  type UpkeepCreate,
} from '@crosspeen/contract';
import type { School } from '@crosspeen/core';
import type { ChangeAuthor, ChangeService } from '../../ledger/journal.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { badField } from '../../platform/problem.ts';
import { taskOfEngine } from '../../knowledge/upkeep.ts';
import { pointOfEngine } from '../../knowledge/engine.ts';
import { pastReading } from '../../ledger/past-reading.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { writeFinding } from '../../ledger/finding.ts';
import { askOnce, type ReadingSaid } from '../../reckoning/doubt.ts';
import { saidToday, workedOn } from './worked.ts';

/** Services that VehicleRecordService works with. */
export interface VehicleRecordServiceNeeds {
  readonly changes: ChangeService;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** What is put on a vehicle's record: readings, renewals, findings, clusters, engines, schools. */
export class VehicleRecordService {
  constructor(private readonly needs: VehicleRecordServiceNeeds) {}

  /** Adds what the meter shows. Throws doubtful where that makes no sense and nobody was asked yet. */
  async addReading(author: ChangeAuthor, id: string, { sure, ...reading }: ReadingSaid): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      await askOnce(journal.manager, id, { ...pastReading(this.needs.clock, reading), sure }, this.needs);
      const row = await journal.insert('meter_reading', {
        vehicleId: id,
        ...pastReading(this.needs.clock, reading),
        userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: 'Reading added' };
    });
  }

  /**
   * Adds a service record for the component of a weak point. Date and reading complete each other through the usage
   * path.
   */
  async addService(author: ChangeAuthor, id: string, service: ServiceCreate): Promise<Changed> {
    const WORDS = {
      done: 'renewed',
      believed: 'believed renewed',
      unknown: 'history unknown',
      not_done: 'known not renewed',
    } as const;
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await pointOfEngine(journal.manager, vehicle.familyId, service.weakPointId);
      const when =
        service.certainty === 'done' || service.certainty === 'believed'
          ? await workedOn(journal.manager, id, service, this.needs)
          : saidToday(this.needs.clock);
      const row = await journal.insert('service_record', {
        vehicleId: id,
        componentId: point.componentId,
        visitId: null,
        certainty: service.certainty,
        ...when,
        grade: service.grade,
        partNumber: service.partNumber || null,
        revision: service.revision || null,
        source: service.source ?? null,
        cameOut: service.certainty === 'done' ? (service.cameOut ?? null) : null,
        note: service.note || null,
        userId: author.userId,
      });
      // What came out worn or failed is a finding of the weak point that was looked for.
      if (row.cameOut !== null && row.cameOut !== 'sound')
        await writeFinding(journal, author, {
          vehicleId: id,
          weakPointId: service.weakPointId,
          day: row.day!,
          result: row.cameOut,
          visitId: null,
        });
      return { id: row.id, vehicleId: id, summary: `${point.component}: ${WORDS[service.certainty]}` };
    });
  }

  async addFinding(author: ChangeAuthor, id: string, finding: FindingCreate): Promise<Changed> {
    const { sinceDay } = finding;
    if (sinceDay && sinceDay >= finding.day) throw badField('sinceDay', FAULTS.sinceBeforeFound);
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await pointOfEngine(journal.manager, vehicle.familyId, finding.weakPointId);
      const { day } = pastReading(this.needs.clock, finding);
      return {
        id: await writeFinding(journal, author, { ...finding, vehicleId: id, day, visitId: null }),
        vehicleId: id,
        summary: `${point.title}: ${lookedAtWords(finding.result)}`,
      };
    });
  }

  /** Records that a recurring task was done, or that it never was until that day. */
  async addUpkeep(author: ChangeAuthor, id: string, upkeep: UpkeepCreate): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const task = await taskOfEngine(journal.manager, vehicle.familyId, upkeep.taskId);
      const { day, km } = await workedOn(journal.manager, id, upkeep, this.needs);
      const row = await journal.insert('upkeep_record', {
        vehicleId: id,
        taskId: task.id,
        visitId: null,
        certainty: upkeep.certainty ?? 'done',
        day: day!,
        km,
        note: upkeep.note || null,
        userId: author.userId,
      });
      const words = row.certainty === 'done' ? 'done' : 'never done until then';
      return { id: row.id, vehicleId: id, summary: `${task.title}: ${words}` };
    });
  }

  /** Records that the cluster was replaced: readings from then on start at what the new one showed. */
  async changeMeter(
    author: ChangeAuthor,
    id: string,
    { sure, ...change }: { day: string; oldKm: number; newKm: number; note: string | null; sure: boolean },
  ): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const last = { day: pastReading(this.needs.clock, change).day, km: change.oldKm, sure };
      await askOnce(journal.manager, id, last, { ...this.needs, field: 'oldKm' });
      const row = await journal.insert('meter_change', {
        vehicleId: id,
        ...pastReading(this.needs.clock, change),
        note: change.note || null,
        userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: 'Instrument cluster replaced' };
    });
  }

  /** Records that another engine was put in: its parts have clocks of their own from then on. */
  async swapEngine(
    author: ChangeAuthor,
    id: string,
    swap: { day: string; engineKm: number | null; note: string | null },
  ): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const row = await journal.insert('engine_swap', {
        vehicleId: id,
        ...pastReading(this.needs.clock, swap),
        note: swap.note || null,
        userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: 'Engine swapped' };
    });
  }

  /** Chooses a school for the vehicle or one row of it, with the reason; none goes back to the shop's. */
  async chooseSchool(
    author: ChangeAuthor,
    id: string,
    { weakPointId, school, reason }: { weakPointId: string | null; school: School | null; reason: string | null },
  ): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const what =
        weakPointId === null
          ? 'the whole vehicle'
          : (await pointOfEngine(journal.manager, vehicle.familyId, weakPointId)).title;
      const before = await journal.manager.query<{ id: string }[]>(
        `select id
          from school_choice
          where vehicle_id = $1 and weak_point_id is not distinct from $2 and retracted_at is null`,
        [id, weakPointId],
      );
      for (const choice of before) await journal.retract('school_choice', choice.id);
      if (school === null) {
        if (before.length === 0) throw badField('school', FAULTS.schoolAlready);
        return { id: before[0]!.id, vehicleId: id, summary: `The workshop’s own school again for ${what}` };
      }
      const row = await journal.insert('school_choice', {
        vehicleId: id,
        weakPointId,
        school,
        reason: reason!,
        userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: `Another school for ${what}` };
    });
  }
}
