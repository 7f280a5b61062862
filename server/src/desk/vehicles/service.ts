import type {
  Changed,
  FindingCreate,
  MeterReading,
  ServiceCreate,
  Vehicle,
  VehicleCreate,
  VehicleOutlook,
  VehicleUpdate,
  WireWhy,
} from '@crosspeen/contract';
import {
  compactKey,
  dayAtDistance,
  dayFromIso,
  distanceAtDay,
  isoFromDay,
  meterOffset,
  type School,
  type UsagePath,
} from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { ChangeAuthor, ChangeService, Journal } from '../../ledger/journal.ts';
import { noticesOf, type FamilyKnowledge } from '../../knowledge/family.ts';
import type { LibraryService, RevisedKnowledge } from '../../knowledge/library.ts';
import { answerFor, pathOf } from '../../reckoning/answer.ts';
import { withAnswer } from '../../reckoning/know.ts';
import { whyOf, wireQuestions } from '../../reckoning/why.ts';
import { recordsOf, subjectOf, type VehicleRecords } from '../../reckoning/records.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { VehicleRow } from '../../ledger/vehicle-rows.ts';
import { partsOfFamily } from '../../lists/vehicles.ts';

type Fields = Omit<VehicleUpdate, 'version'>;

/** What a change is called in lists: the plate, or the name. */
const calledBy = ({ plate, name }: { plate: string | null; name: string | null }): string => plate ?? name ?? 'vehicle';

const wireVehicle = (row: VehicleRow, knowledge: FamilyKnowledge): Vehicle => ({
  id: row.id as Vehicle['id'],
  plate: row.plate,
  name: row.name,
  model: row.model,
  familyId: row.familyId as Vehicle['familyId'],
  variantKey: row.variantKey,
  firstRegistered: row.firstRegistered,
  firstSeen: row.firstSeen,
  market: row.market,
  serial: row.serial,
  features: row.features,
  fitted: row.fitted,
  duty: row.duty,
  odometerUnit: row.odometerUnit,
  severity: row.severity,
  note: row.note,
  contact: row.contact,
  version: row.version,
  engine: knowledge.engine,
});

const RESULT_WORDS = { sound: 'looked at, sound', worn: 'looked at, worn', failed: 'failed' } as const;

export class VehicleService {
  constructor(
    private readonly source: DataSource,
    private readonly changes: ChangeService,
    private readonly settings: SettingsService,
    private readonly library: LibraryService,
    private readonly clock: ShopClock,
  ) {}

  private async records(manager: EntityManager, id: string): Promise<VehicleRecords> {
    const records = (await recordsOf(manager, [id])).get(id);
    if (!records) throw new Problem('not_found');
    return records;
  }

  private async knowledge(manager: EntityManager, familyId: string): Promise<RevisedKnowledge> {
    const knowledge = await this.library.family(manager, familyId);
    if (!knowledge) throw badField('familyId', 'is no engine of the library; choose one from the list');
    return knowledge;
  }

  /**
   * Usage path of a vehicle as it stands, km since new, to turn readings into dates and back; and what its dash shows
   * less than that.
   */
  async path(manager: EntityManager, id: string): Promise<{ path: UsagePath; offsetKm: number; changed: boolean }> {
    const subject = subjectOf(await this.records(manager, id), this.clock.today());
    return {
      path: pathOf(subject, await this.settings.now(manager)),
      offsetKm: meterOffset(subject.meterChanges),
      changed: subject.meterChanges.length > 0,
    };
  }

  async get(id: string): Promise<Vehicle> {
    const { row } = await this.records(this.source.manager, id);
    return wireVehicle(row, await this.knowledge(this.source.manager, row.familyId));
  }

  private async ground(id: string) {
    const { manager } = this.source;
    const records = await this.records(manager, id);
    const today = this.clock.today();
    return {
      records,
      knowledge: await this.knowledge(manager, records.row.familyId),
      settings: await this.settings.now(manager),
      subject: subjectOf(records, today),
      today,
    };
  }

  async outlook(id: string): Promise<Omit<VehicleOutlook, 'visits'>> {
    const { records, knowledge, subject, settings, today } = await this.ground(id);
    return {
      vehicle: wireVehicle(records.row, knowledge),
      answer: answerFor(
        knowledge,
        subject,
        settings,
        today,
        await noticesOf(this.source.manager, records.row.familyId),
      ),
      parts: await partsOfFamily(this.source.manager, records.row.familyId),
      notches: records.services.flatMap(({ componentKey, day, certainty }) =>
        day === null ? [] : [{ componentKey, day: dayFromIso(day)!, certainty }],
      ),
      choices: records.choices.map((choice) => ({
        ...choice,
        weakPointId: choice.weakPointId as VehicleOutlook['choices'][number]['weakPointId'],
      })),
      features: knowledge.features.map(({ key, name, howToTell }) => ({ key, name, howToTell })),
      questions: wireQuestions({ knowledge, subject, settings, today }),
    };
  }

  /** One chance taken apart. */
  async why(id: string, weakPointId: string): Promise<WireWhy> {
    return whyOf(await this.ground(id), weakPointId);
  }

  /** Ids of the readings that fit a forward-running meter. */
  private async fitting(id: string): Promise<Set<string>> {
    const { readings } = await this.records(this.source.manager, id);
    const rejected = new Set((await this.path(this.source.manager, id)).path.rejected);
    return new Set(readings.filter((_, index) => !rejected.has(index)).map((reading) => reading.id));
  }

  private async columns(manager: EntityManager, fields: Fields, id: string | null): Promise<Partial<VehicleRow>> {
    const knowledge = await this.knowledge(manager, fields.familyId);
    if (fields.variantKey !== null && !knowledge.variants.some(({ key }) => key === fields.variantKey))
      throw badField('variantKey', 'is no variant of this engine; choose one from the list');
    if (fields.firstRegistered !== null && dayFromIso(fields.firstRegistered)! > this.clock.today())
      throw badField('firstRegistered', 'has not come yet; write the date of first registration');
    if (fields.firstSeen !== null && dayFromIso(fields.firstSeen)! > this.clock.today())
      throw badField('firstSeen', 'has not come yet; write the day it first came to this workshop');
    for (const key of Object.keys(fields.features))
      if (!knowledge.features.some((feature) => feature.key === key))
        throw badField(`features.${key}`, 'is no feature of this engine; choose one from the list');
    const plateKey = fields.plate ? compactKey(fields.plate) : null;
    if (plateKey === '') throw badField('plate', 'has no letters or digits; write it as it stands on the vehicle');
    if (plateKey !== null) {
      const taken = await manager.query<{ id: string }[]>(
        'select id from vehicle where plate_key = $1 and retracted_at is null and id is distinct from $2',
        [plateKey, id],
      );
      if (taken.length > 0)
        throw new Problem('plate_taken', {
          fields: [{ path: 'plate', message: 'is on file already; open that vehicle, or correct the plate' }],
          current: { id: taken[0]!.id },
        });
    }
    const plate = fields.plate || null;
    const name = fields.name || null;
    return {
      plate,
      plateKey,
      name,
      nameKey: name === null ? null : compactKey(name),
      model: fields.model || null,
      familyId: fields.familyId,
      variantKey: fields.variantKey,
      firstRegistered: fields.firstRegistered,
      firstSeen: fields.firstSeen,
      market: fields.market || null,
      serial: fields.serial,
      features: fields.features,
      fitted: fields.fitted,
      duty: fields.duty,
      odometerUnit: fields.odometerUnit,
      severity: fields.severity,
      note: fields.note || null,
      contact: fields.contact || null,
      searchText: [plate, plateKey, name, knowledge.engine.maker, fields.model, knowledge.engine.code]
        .filter(Boolean)
        .join(' ')
        .toLowerCase(),
    };
  }

  async create(author: ChangeAuthor, { reading, ...fields }: VehicleCreate): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const row = await journal.insert('vehicle', {
        ...(await this.columns(journal.manager, fields, null)),
        version: 1,
      });
      if (reading !== null)
        await journal.insert('meter_reading', {
          vehicleId: row.id,
          ...this.pastReading(reading),
          userId: author.userId,
        });
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
    if (dayFromIso(reading.day)! > this.clock.today())
      throw badField('day', 'has not come yet; a reading is what a meter has shown');
    return reading;
  }

  async addReading(author: ChangeAuthor, id: string, reading: { day: string; km: number }): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const row = await journal.insert('meter_reading', {
        vehicleId: id,
        ...this.pastReading(reading),
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
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await this.weakPoint(journal.manager, vehicle.familyId, service.weakPointId);
      const { day, km } = await this.completed(journal.manager, id, service.day, service.km);
      const dated = service.certainty === 'done' || service.certainty === 'believed';
      const row = await journal.insert('service_record', {
        vehicleId: id,
        componentId: point.componentId,
        visitId: null,
        certainty: service.certainty,
        day: dated ? day : null,
        km: dated ? km : null,
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
        await this.found(journal, author, id, service.weakPointId, row.day!, row.cameOut, null);
      return { id: row.id, vehicleId: id, summary: `${point.component}: ${WORDS[service.certainty]}` };
    });
  }

  /** A weak point of the vehicle's own engine, with its component. Throws bad_input for another engine's. */
  async weakPoint(
    manager: EntityManager,
    familyId: string,
    weakPointId: string,
  ): Promise<{ title: string; component: string; componentId: string; renewMinutes: number }> {
    const rows = await manager.query<
      { title: string; component: string; componentId: string; renewMinutes: number; family_id: string }[]
    >(
      `select w.title, c.name as component, c.id as "componentId", w.renew_minutes as "renewMinutes", w.family_id
       from weak_point w join component c on c.id = w.component_id where w.id = $1`,
      [weakPointId],
    );
    if (rows[0]?.family_id !== familyId)
      throw badField('weakPointId', 'is no weak point of this engine; pick one from its list');
    return rows[0];
  }

  private async completed(
    manager: EntityManager,
    id: string,
    day: string | null,
    km: number | null,
  ): Promise<{ day: string | null; km: number | null }> {
    if (day === null && km === null) return { day, km };
    const { path, offsetKm, changed } = await this.path(manager, id);
    const today = this.clock.today();
    if (day !== null) {
      const number = dayFromIso(day)!;
      if (number > today) throw badField('day', 'has not come yet; plan a visit for work to come');
      return { day, km: km ?? Math.max(0, Math.round(distanceAtDay(path, number) - offsetKm)) };
    }
    // A figure that two clusters have shown belongs to two dates.
    if (changed)
      throw badField('day', 'is needed here: the cluster was replaced, and the reading alone does not tell when');
    if (km! > distanceAtDay(path, today) + 500)
      throw badField('km', 'is more than the meter shows today; add the new reading first, or correct the figure');
    return { day: isoFromDay(Math.min(today, Math.round(dayAtDistance(path, km!)))), km };
  }

  /** Writes one finding into a change that is under way. */
  async found(
    journal: Journal,
    author: ChangeAuthor,
    vehicleId: string,
    weakPointId: string,
    day: string,
    result: FindingCreate['result'],
    visitId: string | null,
    more: Partial<Pick<FindingCreate, 'broughtIn' | 'sinceDay' | 'note'>> = {},
  ): Promise<string> {
    const failed = result === 'failed';
    const row = await journal.insert('finding', {
      vehicleId,
      weakPointId,
      visitId,
      day,
      result,
      broughtIn: failed && more.broughtIn === true,
      sinceDay: failed ? (more.sinceDay ?? null) : null,
      note: more.note || null,
      userId: author.userId,
    });
    return row.id;
  }

  async addFinding(author: ChangeAuthor, id: string, finding: FindingCreate): Promise<Changed> {
    const { sinceDay } = finding;
    if (sinceDay && sinceDay >= finding.day)
      throw badField('sinceDay', 'must lie before the day it was found; it was running then');
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const point = await this.weakPoint(journal.manager, vehicle.familyId, finding.weakPointId);
      const { day } = this.pastReading(finding);
      return {
        id: await this.found(journal, author, id, finding.weakPointId, day, finding.result, null, finding),
        vehicleId: id,
        summary: `${point.title}: ${RESULT_WORDS[finding.result]}`,
      };
    });
  }

  /** Records that the cluster was replaced: readings from then on start at what the new one showed. */
  async changeMeter(
    author: ChangeAuthor,
    id: string,
    change: { day: string; oldKm: number; newKm: number; note: string | null },
  ): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const row = await journal.insert('meter_change', {
        vehicleId: id,
        ...this.pastReading(change),
        note: change.note || null,
        userId: author.userId,
      });
      return { id: row.id, vehicleId: id, summary: 'Cluster replaced' };
    });
  }

  /** Records that another engine was put in: its parts have clocks of their own from then on. */
  async swapEngine(
    author: ChangeAuthor,
    id: string,
    swap: { day: string; engineKm: number | null; note: string | null },
  ): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', id);
      const row = await journal.insert('engine_swap', {
        vehicleId: id,
        ...this.pastReading(swap),
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
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', id);
      const what =
        weakPointId === null
          ? 'the whole vehicle'
          : (await this.weakPoint(journal.manager, vehicle.familyId, weakPointId)).title;
      const before = await journal.manager.query<{ id: string }[]>(
        `select id
          from school_choice
          where vehicle_id = $1 and weak_point_id is not distinct from $2 and retracted_at is null`,
        [id, weakPointId],
      );
      for (const choice of before) await journal.retract('school_choice', choice.id);
      if (school === null) {
        if (before.length === 0) throw badField('school', 'is the shop’s own already');
        return { id: before[0]!.id, vehicleId: id, summary: `The shop’s own school again for ${what}` };
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

  /** Keeps the answer to an open question on the vehicle. */
  async answerQuestion(
    author: ChangeAuthor,
    id: string,
    { about, answer }: { about: string; answer: string },
  ): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const row = await journal.lock('vehicle', id);
      const { services: _services, ...known } = withAnswer({ ...row, services: [] }, about, answer) ?? {};
      if (about.startsWith('history:') && answer === 'never') {
        const [component] = await journal.manager.query<{ id: string; name: string }[]>(
          `select c.id, c.name
            from component c
            where c.key = $2 and exists (select 1 from weak_point w where w.component_id = c.id and w.family_id = $1)`,
          [row.familyId, about.slice(8)],
        );
        if (!component) throw badField('about', 'names no part of this engine; pick a question from the list');
        const record = await journal.insert('service_record', {
          vehicleId: id,
          componentId: component.id,
          visitId: null,
          certainty: 'not_done',
          day: null,
          km: null,
          grade: 'original',
          partNumber: null,
          revision: null,
          source: null,
          cameOut: null,
          note: null,
          userId: author.userId,
        });
        return { id: record.id, vehicleId: id, summary: `${component.name}: known not renewed` };
      }
      if (Object.keys(known).length === 0)
        throw badField('answer', 'does not answer this question; pick one of its answers');
      const { variantKey, model, market, features, fitted } = { ...row, ...known };
      const knowledge = await this.knowledge(journal.manager, row.familyId);
      if (variantKey !== null && !knowledge.variants.some(({ key }) => key === variantKey))
        throw badField('answer', 'is no variant of this engine; pick one from the list');
      for (const key of Object.keys(features))
        if (!knowledge.features.some((feature) => feature.key === key))
          throw badField('about', 'names no feature of this engine; pick a question from the list');
      for (const key of Object.keys(fitted))
        if (!knowledge.weakPoints.some(({ componentKey }) => componentKey === key))
          throw badField('about', 'names no part of this engine; pick a question from the list');
      await journal.update('vehicle', id, { variantKey, model, market, features, fitted });
      return { id, vehicleId: id, summary: `${calledBy(row)}: ${about.split(':')[0]} settled` };
    });
  }

  /** Marks the readings of a history page that do not fit. */
  async markFitting<T extends { kind: string; id: string }>(id: string, entries: T[]): Promise<T[]> {
    const fitting = await this.fitting(id);
    return entries.map((entry) =>
      entry.kind === 'reading'
        ? ({ ...entry, fits: fitting.has(entry.id) } satisfies T & Pick<MeterReading, 'fits'>)
        : entry,
    );
  }
}
