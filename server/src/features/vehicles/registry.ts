import { FAULTS, type Changed, type PlanningUpdate, type VehicleCreate, type VehicleUpdate } from '@crosspeen/contract';
import { foundBy } from '../../platform/search.ts';
import { compactKey, dayFromIso } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import type { LibraryService } from '../../knowledge/library.ts';
import type { ChangeAuthor, ChangeService } from '../../ledger/journal.ts';
import type { VehicleRow } from '../../ledger/vehicle-rows.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { withAnswer } from '../../reckoning/know.ts';
import { engineOnFile } from '../../knowledge/engine.ts';
import { pastReading } from '../../ledger/past-reading.ts';
import { writeHistory } from './worked.ts';

type Fields = Omit<VehicleUpdate, 'version'>;

/** What a change is called in lists: the plate, or the name. */
const calledBy = ({ plate, name }: { plate: string | null; name: string | null }): string => plate ?? name ?? 'vehicle';

/** Services that VehicleRegistry works with. */
export interface VehicleRegistryNeeds {
  readonly changes: ChangeService;
  readonly library: LibraryService;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** Vehicles saved and corrected, and what is answered about them. */
export class VehicleRegistry {
  constructor(private readonly needs: VehicleRegistryNeeds) {}

  private async columns(manager: EntityManager, fields: Fields, id: string | null): Promise<Partial<VehicleRow>> {
    const knowledge = await engineOnFile(this.needs.library, manager, fields.familyId);
    if (fields.variantKey !== null && !knowledge.variants.some(({ key }) => key === fields.variantKey))
      throw badField('variantKey', FAULTS.noVariant);
    if (fields.firstRegistered !== null && dayFromIso(fields.firstRegistered)! > this.needs.clock.today())
      throw badField('firstRegistered', FAULTS.registrationToCome);
    if (fields.firstSeen !== null && dayFromIso(fields.firstSeen)! > this.needs.clock.today())
      throw badField('firstSeen', FAULTS.firstSeenToCome);
    for (const key of Object.keys(fields.features))
      if (!knowledge.features.some((feature) => feature.key === key))
        throw badField(`features.${key}`, FAULTS.noFeature);
    const plateKey = fields.plate ? compactKey(fields.plate) : null;
    if (plateKey === '') throw badField('plate', FAULTS.noLetters);
    if (plateKey !== null) {
      const taken = await manager.query<{ id: string }[]>(
        'select id from vehicle where plate_key = $1 and retracted_at is null and id is distinct from $2',
        [plateKey, id],
      );
      if (taken.length > 0)
        throw new Problem('plate_taken', {
          fields: [{ path: 'plate', message: FAULTS.plateTaken }],
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
      searchText: foundBy([plate, plateKey, name, knowledge.engine.maker, fields.model, knowledge.engine.code]),
    };
  }

  async create(author: ChangeAuthor, { reading, history, ...fields }: VehicleCreate): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const row = await journal.insert('vehicle', {
        ...(await this.columns(journal.manager, fields, null)),
        version: 1,
      });
      if (reading !== null)
        await journal.insert('meter_reading', {
          vehicleId: row.id,
          ...pastReading(this.needs.clock, reading),
          userId: author.userId,
        });
      for (const said of history)
        if ((await writeHistory(journal, { author, vehicle: row }, said, this.needs)) === null)
          throw badField('history', FAULTS.noAnswer);
      return { id: row.id, vehicleId: row.id, summary: `${calledBy(row)} saved` };
    });
  }

  async update(author: ChangeAuthor, id: string, { version, ...fields }: VehicleUpdate): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const row = await journal.update('vehicle', id, await this.columns(journal.manager, fields, id), version);
      return { id, vehicleId: id, summary: `${calledBy(row)} corrected` };
    });
  }

  /** Keeps what a vehicle's visits are planned by, over the version that was read. */
  async planBy(author: ChangeAuthor, id: string, { version, planning }: PlanningUpdate): Promise<Changed> {
    const today = this.needs.clock.today();
    const ahead = {
      keepUntil: planning.keepUntil,
      notBefore: planning.notBefore,
      inspection: planning.inspection,
      'trip.day': planning.trip?.day,
    };
    for (const [path, day] of Object.entries(ahead))
      if (day && dayFromIso(day)! <= today) throw badField(`planning.${path}`, FAULTS.dayPast);
    return this.needs.changes.record(author, async (journal) => {
      const row = await journal.update('vehicle', id, { planning }, version);
      return { id, vehicleId: id, summary: `${calledBy(row)}: what visits are planned by` };
    });
  }

  /** Keeps the answer to an open question on the vehicle. */
  async answerQuestion(
    author: ChangeAuthor,
    id: string,
    { about, answer }: { about: string; answer: string },
  ): Promise<Changed> {
    return this.needs.changes.record(author, async (journal) => {
      const row = await journal.lock('vehicle', id);
      const written = await writeHistory(journal, { author, vehicle: row }, { about, answer }, this.needs);
      if (written !== null) return { ...written, vehicleId: id };
      const { services: _services, ...known } =
        withAnswer({ ...row, services: [] }, about, answer, { today: this.needs.clock.today(), dayAt: null }) ?? {};
      if (Object.keys(known).length === 0) throw badField('answer', FAULTS.noAnswer);
      const { variantKey, model, market, features, fitted } = { ...row, ...known };
      const knowledge = await engineOnFile(this.needs.library, journal.manager, row.familyId);
      if (variantKey !== null && !knowledge.variants.some(({ key }) => key === variantKey))
        throw badField('answer', FAULTS.noVariantAnswer);
      for (const key of Object.keys(features))
        if (!knowledge.features.some((feature) => feature.key === key)) throw badField('about', FAULTS.noFeatureAsked);
      for (const key of Object.keys(fitted))
        if (!knowledge.weakPoints.some(({ componentKey }) => componentKey === key))
          throw badField('about', FAULTS.noPart);
      await journal.update('vehicle', id, { variantKey, model, market, features, fitted });
      return { id, vehicleId: id, summary: `${calledBy(row)}: ${about.split(':')[0]} settled` };
    });
  }
}
