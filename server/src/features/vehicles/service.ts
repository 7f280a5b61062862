import type { Answer, Changed, MeterReading, ServiceCreate, Vehicle, VehicleCreate, VehicleOutlook, VehicleUpdate } from '@crosspeen/contract';
import { compactKey, dayAtDistance, dayFromIso, distanceAtDay, isoFromDay, usagePath, type UsagePath } from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { ChangeAuthor, ChangeService } from '../changes/journal.ts';
import type { FamilyKnowledge } from '../library/repository.ts';
import type { LibraryService } from '../library/service.ts';
import { answerFor } from '../lookup/answer.ts';
import type { SettingsService } from '../settings/service.ts';
import { VehicleEntity, type VehicleRow } from './entity.ts';
import { partsOfFamily, recordsOf, saveStanding } from './repository.ts';
import { standingOf, sweepStandings } from './standing.ts';

type Fields = Omit<VehicleUpdate, 'version'>;

/** What a change is called in lists: the plate, or the name. */
const calledBy = ({ plate, name }: { plate: string | null; name: string | null }): string => plate ?? name ?? 'vehicle';

const wireVehicle = (row: VehicleRow, knowledge: FamilyKnowledge): Vehicle => ({
  id: row.id as Vehicle['id'], plate: row.plate, name: row.name, model: row.model, familyId: row.familyId as Vehicle['familyId'], variantKey: row.variantKey,
  firstRegistered: row.firstRegistered, odometerUnit: row.odometerUnit, severity: row.severity, note: row.note, version: row.version, engine: knowledge.engine,
});

export class VehicleService {
  constructor(
    private readonly source: DataSource, private readonly changes: ChangeService, private readonly settings: SettingsService, private readonly library: LibraryService, private readonly clock: ShopClock,
  ) {
    changes.onVehicleChange((manager, vehicleId) => this.refreshStanding(manager, vehicleId));
  }

  private async row(manager: EntityManager, id: string): Promise<VehicleRow> {
    const row = await manager.findOneBy(VehicleEntity, { id });
    if (!row || row.retractedAt) throw new Problem('not_found');
    return row;
  }

  private async knowledge(manager: EntityManager, familyId: string, revision?: number): Promise<FamilyKnowledge> {
    const knowledge = await this.library.family(manager, familyId, revision ?? (await this.settings.ground(manager)).libraryRevision);
    if (!knowledge) throw badField('familyId', 'is no engine of the library; choose one from the list');
    return knowledge;
  }

  private async compute(manager: EntityManager, row: VehicleRow): Promise<{ answer: Answer; knowledge: FamilyKnowledge; readings: { id: string; day: string; km: number }[] }> {
    const { settings, libraryRevision } = await this.settings.ground(manager);
    const knowledge = await this.knowledge(manager, row.familyId, libraryRevision);
    const records = await recordsOf(manager, row.id);
    const today = this.clock.today();
    const readings = records.readings.map(({ day, km }) => ({ day: dayFromIso(day)!, km }));
    const registered = row.firstRegistered === null ? null : dayFromIso(row.firstRegistered);
    const answer = answerFor(knowledge, {
      // Without any reading the usual distance stands in for one; the screen says that nothing was read.
      readings, registeredDay: registered ?? (readings.length === 0 ? today : null), registeredExact: true,
      variantKey: row.variantKey, model: row.model, severity: row.severity,
      services: records.services.map((service) => ({ ...service, day: service.day === null ? null : dayFromIso(service.day) })),
      findings: records.findings.map((finding) => ({ ...finding, day: dayFromIso(finding.day)! })),
    }, settings, today);
    return { answer, knowledge, readings: records.readings };
  }

  /** Usage path of a vehicle as it stands, to turn readings into dates and back. */
  async path(manager: EntityManager, id: string): Promise<UsagePath> {
    const row = await this.row(manager, id);
    const { readings } = await recordsOf(manager, id);
    const { settings } = await this.settings.ground(manager);
    const registered = row.firstRegistered === null ? null : dayFromIso(row.firstRegistered);
    return usagePath(readings.map(({ day, km }) => ({ day: dayFromIso(day)!, km })), registered ?? (readings.length === 0 ? this.clock.today() : null), settings.usualKmPerYear / 365.25);
  }

  async get(id: string): Promise<Vehicle> {
    const row = await this.row(this.source.manager, id);
    return wireVehicle(row, await this.knowledge(this.source.manager, row.familyId));
  }

  async outlook(id: string): Promise<Omit<VehicleOutlook, 'visits'>> {
    const { manager } = this.source;
    const row = await this.row(manager, id);
    const [{ answer, knowledge }, parts, records] = await Promise.all([this.compute(manager, row), partsOfFamily(manager, row.familyId), recordsOf(manager, id)]);
    return {
      vehicle: wireVehicle(row, knowledge), answer, parts,
      notches: records.services.flatMap(({ componentKey, day, certainty }) => (day === null ? [] : [{ componentKey, day: dayFromIso(day)!, certainty }])),
    };
  }

  /** Ids of the readings that fit a forward-running meter. */
  async fitting(id: string): Promise<Set<string>> {
    const { readings } = await recordsOf(this.source.manager, id);
    const path = await this.path(this.source.manager, id);
    const rejected = new Set(path.rejected);
    return new Set(readings.filter((_, index) => !rejected.has(index)).map((reading) => reading.id));
  }

  private async columns(manager: EntityManager, fields: Fields, id: string | null): Promise<Partial<VehicleRow>> {
    const knowledge = await this.knowledge(manager, fields.familyId);
    if (fields.variantKey !== null && !knowledge.variants.some(({ key }) => key === fields.variantKey)) throw badField('variantKey', 'is no variant of this engine; choose one from the list');
    if (fields.firstRegistered !== null && dayFromIso(fields.firstRegistered)! > this.clock.today()) throw badField('firstRegistered', 'has not come yet; write the date of first registration');
    const plateKey = fields.plate ? compactKey(fields.plate) : null;
    if (plateKey === '') throw badField('plate', 'has no letters or digits; write it as it stands on the vehicle');
    if (plateKey !== null) {
      const taken = await manager.query<{ id: string }[]>('select id from vehicle where plate_key = $1 and retracted_at is null and id is distinct from $2', [plateKey, id]);
      if (taken.length > 0) throw new Problem('plate_taken', { fields: [{ path: 'plate', message: 'is on file already; open that vehicle, or correct the plate' }], current: { id: taken[0]!.id } });
    }
    const plate = fields.plate || null;
    const name = fields.name || null;
    return {
      plate, plateKey, name, nameKey: name === null ? null : compactKey(name), model: fields.model || null, familyId: fields.familyId, variantKey: fields.variantKey,
      firstRegistered: fields.firstRegistered, odometerUnit: fields.odometerUnit, severity: fields.severity, note: fields.note || null,
      searchText: [plate, plateKey, name, knowledge.engine.maker, fields.model, knowledge.engine.code].filter(Boolean).join(' ').toLowerCase(),
    };
  }

  async create(author: ChangeAuthor, { reading, ...fields }: VehicleCreate): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const row = await journal.insert('vehicle', { ...(await this.columns(journal.manager, fields, null)), version: 1 });
      if (reading !== null) await journal.insert('meter_reading', { vehicleId: row.id, ...this.pastReading(reading), userId: author.userId });
      return { id: row.id, vehicleId: row.id, summary: `${calledBy(row)} put on file` };
    });
  }

  async update(author: ChangeAuthor, id: string, { version, ...fields }: VehicleUpdate): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const row = await journal.update('vehicle', id, await this.columns(journal.manager, fields, id), version);
      return { id, vehicleId: id, summary: `${calledBy(row)} corrected` };
    });
  }

  private pastReading<T extends { day: string }>(reading: T): T {
    if (dayFromIso(reading.day)! > this.clock.today()) throw badField('day', 'has not come yet; a reading is what a meter has shown');
    return reading;
  }

  async addReading(author: ChangeAuthor, id: string, reading: { day: string; km: number }): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const row = await journal.insert('meter_reading', { vehicleId: id, ...this.pastReading(reading), userId: author.userId });
      return { id: row.id, vehicleId: id, summary: 'Reading added' };
    });
  }

  /** Adds a service record for the component of a weak point. Date and reading complete each other through the usage path. */
  async addService(author: ChangeAuthor, id: string, service: ServiceCreate): Promise<Changed> {
    const WORDS = { done: 'renewed', believed: 'believed renewed', unknown: 'history unknown', not_done: 'known not renewed' } as const;
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await this.weakPoint(journal.manager, vehicle.familyId, service.weakPointId);
      const { day, km } = await this.completed(journal.manager, id, service.day, service.km);
      const dated = service.certainty === 'done' || service.certainty === 'believed';
      const row = await journal.insert('service_record', {
        vehicleId: id, componentId: point.componentId, visitId: null, certainty: service.certainty, day: dated ? day : null, km: dated ? km : null, grade: service.grade,
        partNumber: service.partNumber || null, revision: service.revision || null, note: service.note || null, userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: `${point.component}: ${WORDS[service.certainty]}` };
    });
  }

  /** A weak point of the vehicle's own engine, with its component. Throws bad_input for another engine's. */
  async weakPoint(manager: EntityManager, familyId: string, weakPointId: string): Promise<{ title: string; component: string; componentId: string; renewMinutes: number }> {
    const rows = await manager.query<{ title: string; component: string; componentId: string; renewMinutes: number; family_id: string }[]>(
      `select w.title, c.name as component, c.id as "componentId", w.renew_minutes as "renewMinutes", w.family_id
       from weak_point w join component c on c.id = w.component_id where w.id = $1`, [weakPointId]);
    if (rows[0]?.family_id !== familyId) throw badField('weakPointId', 'is no weak point of this engine; pick one from its list');
    return rows[0];
  }

  private async completed(manager: EntityManager, id: string, day: string | null, km: number | null): Promise<{ day: string | null; km: number | null }> {
    if (day === null && km === null) return { day, km };
    const path = await this.path(manager, id);
    const today = this.clock.today();
    if (day !== null) {
      const number = dayFromIso(day)!;
      if (number > today) throw badField('day', 'has not come yet; plan a visit for work to come');
      return { day, km: km ?? Math.round(distanceAtDay(path, number)) };
    }
    if (km! > distanceAtDay(path, today) + 500) throw badField('km', 'is more than the meter shows today; add the new reading first, or correct the figure');
    return { day: isoFromDay(Math.min(today, Math.round(dayAtDistance(path, km!)))), km };
  }

  async addFinding(author: ChangeAuthor, id: string, finding: { weakPointId: string; day: string; worn: boolean; note: string | null }): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await this.weakPoint(journal.manager, vehicle.familyId, finding.weakPointId);
      const row = await journal.insert('finding', { vehicleId: id, visitId: null, ...this.pastReading(finding), note: finding.note || null, userId: author.userId });
      return { id: row.id, vehicleId: id, summary: `${point.title}: looked at, ${finding.worn ? 'worn' : 'sound'}` };
    });
  }

  /** Marks the readings of a history page that do not fit. */
  async markFitting<T extends { kind: string; id: string }>(id: string, entries: T[]): Promise<T[]> {
    const fitting = await this.fitting(id);
    return entries.map((entry) => (entry.kind === 'reading' ? { ...entry, fits: fitting.has(entry.id) } satisfies T & Pick<MeterReading, 'fits'> : entry));
  }

  private async refreshStanding(manager: EntityManager, id: string): Promise<void> {
    const row = await manager.findOneBy(VehicleEntity, { id });
    if (!row || row.retractedAt) {
      await manager.query('delete from vehicle_standing where vehicle_id = $1', [id]);
      return;
    }
    const { answer } = await this.compute(manager, row);
    await saveStanding(manager, standingOf(id, answer));
  }

  /** Brings one batch of out-of-date standings up to date; returns how many there were. */
  sweep(): Promise<number> {
    return sweepStandings(this.source, this.clock.todayIso(), (manager, id) => this.refreshStanding(manager, id));
  }

  /** Sweeps until no standing is out of date. */
  async sweepAll(): Promise<void> {
    while ((await this.sweep()) > 0) { /* a batch a turn */ }
  }
}
