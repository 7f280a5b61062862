import { askOnce } from '../../reckoning/doubt.ts';
import { FAULTS, type Changed, type VisitCreate, type VisitDone, type VisitsPlanned } from '@crosspeen/contract';
import { dayFromIso, distanceAtDay } from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { ChangeAuthor, ChangeService, Journal } from '../../ledger/journal.ts';
import { pointOfEngine } from '../../knowledge/engine.ts';
import { writeFinding } from '../../ledger/finding.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { vehiclePath } from '../../reckoning/vehicle-path.ts';
import {
  VisitJobEntity,
  VisitTaskEntity,
  type VisitJobRow,
  type VisitRow,
  type VisitTaskRow,
} from '../../ledger/visit-rows.ts';
import { taskOfEngine } from '../../knowledge/upkeep.ts';

type JobInput = VisitCreate['jobs'][number];

/** A visit that work is put on, of a vehicle of an engine family, after so much that is on it. */
interface OnVisit {
  readonly familyId: string;
  readonly visitId: string;
  readonly after?: number;
}

/** Services that VisitService works with. */
export interface VisitServiceNeeds {
  readonly source: DataSource;
  readonly changes: ChangeService;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

export class VisitService {
  constructor(private readonly needs: VisitServiceNeeds) {}

  private async writeJobs(
    journal: Journal,
    { familyId, visitId, after = 0 }: OnVisit,
    jobs: readonly JobInput[],
  ): Promise<void> {
    for (const [position, job] of jobs.entries()) {
      await pointOfEngine(journal.manager, familyId, job.weakPointId);
      await journal.insert('visit_job', {
        visitId,
        weakPointId: job.weakPointId,
        action: job.action,
        grade: job.grade,
        partNumber: job.partNumber || null,
        revision: job.revision || null,
        position: after + position,
      });
    }
  }

  private async writeTasks(
    journal: Journal,
    { familyId, visitId, after = 0 }: OnVisit,
    tasks: readonly string[],
  ): Promise<void> {
    for (const [position, taskId] of tasks.entries()) {
      await taskOfEngine(journal.manager, familyId, taskId);
      await journal.insert('visit_task', { visitId, taskId, position: after + position });
    }
  }

  private async tasksOf(manager: EntityManager, visitId: string): Promise<VisitTaskRow[]> {
    return (await manager.find(VisitTaskEntity, { where: { visitId }, order: { position: 'ASC' } })).filter(
      ({ retractedAt }) => retractedAt === null,
    );
  }

  private async kmOn(manager: EntityManager, vehicleId: string, day: string, km: number | null): Promise<number> {
    if (km !== null) return km;
    const { path, offsetKm } = await vehiclePath(manager, vehicleId, {
      settings: await this.needs.settings.now(manager),
      today: this.needs.clock.today(),
    });
    return Math.max(0, Math.round(distanceAtDay(path, dayFromIso(day)!) - offsetKm));
  }

  private async jobsOf(manager: EntityManager, visitId: string): Promise<VisitJobRow[]> {
    return (await manager.find(VisitJobEntity, { where: { visitId }, order: { position: 'ASC' } })).filter(
      ({ retractedAt }) => retractedAt === null,
    );
  }

  /** Writes a planned visit into a change under way; answers its id. */
  private async writeVisit(
    journal: Journal,
    vehicle: { readonly id: string; readonly familyId: string },
    { day, km, note, jobs, tasks }: VisitCreate,
  ): Promise<string> {
    const row = await journal.insert('visit', {
      vehicleId: vehicle.id,
      state: 'planned',
      day,
      km: await this.kmOn(journal.manager, vehicle.id, day, km),
      note: note || null,
      version: 1,
    });
    await this.writeJobs(journal, { familyId: vehicle.familyId, visitId: row.id }, jobs);
    await this.writeTasks(journal, { familyId: vehicle.familyId, visitId: row.id }, tasks);
    return row.id;
  }

  /** Plans a visit. A visit lies today or later: what was done before is a service record. */
  async plan(author: ChangeAuthor, vehicleId: string, visit: VisitCreate): Promise<Changed> {
    if (dayFromIso(visit.day)! < this.needs.clock.today()) throw badField('day', FAULTS.dayPast);
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', vehicleId);
      const count = visit.jobs.length + visit.tasks.length;
      return {
        id: await this.writeVisit(journal, vehicle, visit),
        vehicleId,
        summary: `Visit planned for ${visit.day}, ${count === 1 ? '1 job' : `${count} jobs`}`,
      };
    });
  }

  /** Puts jobs and tasks on a visit that stands beside those that are on it, over the version that was read. */
  private async join(
    journal: Journal,
    vehicle: { readonly id: string; readonly familyId: string },
    { id, version, jobs, tasks }: VisitsPlanned['joins'][number],
  ): Promise<void> {
    const { vehicleId, day } = await this.open(journal, id);
    if (vehicleId !== vehicle.id) throw new Problem('not_found');
    // Its version moves on, so that who has it open elsewhere is told.
    await journal.update('visit', id, { day }, version);
    const standing = new Set((await this.jobsOf(journal.manager, id)).map(({ weakPointId }) => weakPointId));
    const kept = new Set((await this.tasksOf(journal.manager, id)).map(({ taskId }) => taskId));
    const more = jobs.filter(({ weakPointId }) => !standing.has(weakPointId));
    const moreTasks = tasks.filter((taskId) => !kept.has(taskId));
    await this.writeJobs(journal, { familyId: vehicle.familyId, visitId: id, after: standing.size }, more);
    await this.writeTasks(journal, { familyId: vehicle.familyId, visitId: id, after: kept.size }, moreTasks);
  }

  /** Plans several visits, and what joins others, as one change: one undo takes all of it back. */
  async planAll(author: ChangeAuthor, vehicleId: string, { visits, joins }: VisitsPlanned): Promise<Changed> {
    visits.forEach(({ day }, i) => {
      if (dayFromIso(day)! < this.needs.clock.today()) throw badField(`visits.${i}.day`, FAULTS.dayPast);
    });
    return this.needs.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', vehicleId);
      let id = vehicleId;
      for (const visit of visits) id = await this.writeVisit(journal, vehicle, visit);
      for (const joined of joins) await this.join(journal, vehicle, joined);
      const said = [
        visits.length === 0 ? '' : `${visits.length === 1 ? '1 visit' : `${visits.length} visits`} planned`,
        joins.length === 0 ? '' : `${joins.length === 1 ? '1 visit' : `${joins.length} visits`} added to`,
      ];
      return { id, vehicleId, summary: said.filter(Boolean).join(', ') };
    });
  }

  private async open(journal: Journal, visitId: string): Promise<VisitRow> {
    const row = await journal.lock('visit', visitId);
    if (row.state !== 'planned') throw new Problem('visit_closed');
    return row;
  }

  /** Moves a planned visit or changes its jobs, over the version that was read. */
  async change(
    author: ChangeAuthor,
    visitId: string,
    { version, day, km, note, jobs, tasks }: VisitCreate & { version: number },
  ): Promise<Changed> {
    if (dayFromIso(day)! < this.needs.clock.today()) throw badField('day', FAULTS.dayPast);
    return this.needs.changes.record(author, async (journal) => {
      const { vehicleId } = await this.open(journal, visitId);
      const vehicle = await journal.lock('vehicle', vehicleId);
      await journal.update(
        'visit',
        visitId,
        { day, km: await this.kmOn(journal.manager, vehicleId, day, km), note: note || null },
        version,
      );
      const before = await this.jobsOf(journal.manager, visitId);
      const shape = (list: readonly JobInput[]): string =>
        JSON.stringify(
          list.map((job) => [job.weakPointId, job.action, job.grade, job.partNumber || null, job.revision || null]),
        );
      if (shape(before as unknown as JobInput[]) !== shape(jobs)) {
        for (const job of before) await journal.retract('visit_job', job.id);
        await this.writeJobs(journal, { familyId: vehicle.familyId, visitId }, jobs);
      }
      const standing = await this.tasksOf(journal.manager, visitId);
      if (standing.map(({ taskId }) => taskId).join() !== tasks.join()) {
        for (const task of standing) await journal.retract('visit_task', task.id);
        await this.writeTasks(journal, { familyId: vehicle.familyId, visitId }, tasks);
      }
      return { id: visitId, vehicleId, summary: `Visit of ${day} changed` };
    });
  }

  async callOff(author: ChangeAuthor, visitId: string, version: number): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const { vehicleId, day } = await this.open(journal, visitId);
      await journal.update('visit', visitId, { state: 'called_off' }, version);
      return { id: visitId, vehicleId, summary: `Visit of ${day} cancelled` };
    });
  }

  /**
   * Marks a visit done: a reading, a service record for each renewal and a finding for each look are written in one
   * change. A look without a finding counts as not done. Exactly the renewed components' clocks start again.
   */
  async done(
    author: ChangeAuthor,
    visitId: string,
    { version, day, km, sure, findings, cameOut, skipped, skippedTasks }: VisitDone,
  ): Promise<Changed> {
    if (dayFromIso(day)! > this.needs.clock.today()) throw badField('day', FAULTS.doneToCome);
    return this.needs.changes.record(author, async (journal) => {
      const { vehicleId } = await this.open(journal, visitId);
      const vehicle = await journal.lock('vehicle', vehicleId);
      await askOnce(journal.manager, vehicleId, { day, km, sure }, this.needs);
      await journal.update('visit', visitId, { state: 'done', doneDay: day, doneKm: km }, version);
      await journal.insert('meter_reading', { vehicleId, day, km, userId: author.userId });
      const found = new Map(findings.map((finding) => [finding.weakPointId as string, finding.result]));
      const out = new Map(cameOut.map((finding) => [finding.weakPointId as string, finding.result]));
      const left = new Set<string>(skipped);
      const renewed = new Set<string>();
      for (const job of await this.jobsOf(journal.manager, visitId)) {
        const result = found.get(job.weakPointId);
        if (left.has(job.weakPointId) || (job.action === 'look' && result === undefined)) {
          // Left out, or nobody said what was found: it was not looked at, and does not stand there as if it had been.
          await journal.retract('visit_job', job.id);
        } else if (job.action === 'renew') {
          const { componentId } = await pointOfEngine(journal.manager, vehicle.familyId, job.weakPointId);
          const condition = out.get(job.weakPointId) ?? null;
          if (condition !== null && condition !== 'sound')
            await writeFinding(journal, author, {
              vehicleId,
              weakPointId: job.weakPointId,
              day,
              result: condition,
              visitId,
            });
          // Two weak points of one component are renewed by one part.
          if (renewed.has(componentId)) continue;
          renewed.add(componentId);
          await journal.insert('service_record', {
            vehicleId,
            componentId,
            visitId,
            certainty: 'done',
            day,
            km,
            grade: job.grade,
            partNumber: job.partNumber,
            revision: job.revision,
            source: 'own',
            cameOut: condition,
            note: null,
            userId: author.userId,
          });
        } else {
          await writeFinding(journal, author, {
            vehicleId,
            weakPointId: job.weakPointId,
            day,
            result: result!,
            visitId,
          });
        }
      }
      const leftTasks = new Set<string>(skippedTasks);
      for (const task of await this.tasksOf(journal.manager, visitId)) {
        if (leftTasks.has(task.taskId)) await journal.retract('visit_task', task.id);
        else
          await journal.insert('upkeep_record', {
            vehicleId,
            taskId: task.taskId,
            visitId,
            certainty: 'done',
            day,
            km,
            note: null,
            userId: author.userId,
          });
      }
      return { id: visitId, vehicleId, summary: `Visit of ${day} done` };
    });
  }
}
