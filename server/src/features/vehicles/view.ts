import {
  USUAL_PLANNING,
  type MeterReading,
  type Vehicle,
  type VehicleOutlook,
  type WireWhy,
} from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { FamilyKnowledge } from '../../knowledge/family.ts';
import type { LibraryService } from '../../knowledge/library.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { VehicleRow } from '../../ledger/vehicle-rows.ts';
import { partsOfFamily } from '../../lists/vehicles.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { answerFor, pathOf, type Grounds } from '../../reckoning/answer.ts';
import { subjectOnFile } from '../../reckoning/complaint.ts';
import { recordsOfVehicle, type VehicleRecords } from '../../reckoning/records.ts';
import { whyOf, wireQuestions } from '../../reckoning/why.ts';
import { engineOnFile } from '../../knowledge/engine.ts';

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
  // What was told before something was added to it has no say on that.
  planning: row.planning && { ...USUAL_PLANNING, ...row.planning },
  version: row.version,
  engine: knowledge.engine,
});

/** Services that VehicleView works with. */
export interface VehicleViewNeeds {
  readonly source: DataSource;
  readonly settings: SettingsService;
  readonly library: LibraryService;
  readonly clock: ShopClock;
}

/** A vehicle as it is looked at: its answer, its questions, and what its meter means. */
export class VehicleView {
  constructor(private readonly needs: VehicleViewNeeds) {}

  async get(id: string): Promise<Vehicle> {
    const { row } = await recordsOfVehicle(this.needs.source.manager, id);
    return wireVehicle(row, await engineOnFile(this.needs.library, this.needs.source.manager, row.familyId));
  }

  private async ground(id: string): Promise<Grounds & { readonly records: VehicleRecords }> {
    const { manager } = this.needs.source;
    const records = await recordsOfVehicle(manager, id);
    const today = this.needs.clock.today();
    const knowledge = await engineOnFile(this.needs.library, manager, records.row.familyId);
    const settings = await this.needs.settings.now(manager);
    return {
      records,
      knowledge,
      settings,
      subject: await subjectOnFile(manager, records, { knowledge, settings, today }),
      today,
    };
  }

  async outlook(id: string, { drawn }: { readonly drawn: boolean }): Promise<Omit<VehicleOutlook, 'visits'>> {
    const { records, ...grounds } = await this.ground(id);
    return {
      vehicle: wireVehicle(records.row, grounds.knowledge),
      answer: answerFor(grounds, { drawn }),
      parts: await partsOfFamily(this.needs.source.manager, records.row.familyId),
      notches: records.services.flatMap(({ componentKey, day, certainty }) =>
        day === null ? [] : [{ componentKey, day: dayFromIso(day)!, certainty }],
      ),
      choices: records.choices.map((choice) => ({
        ...choice,
        weakPointId: choice.weakPointId as VehicleOutlook['choices'][number]['weakPointId'],
      })),
      features: grounds.knowledge.features.map(({ key, name, howToTell }) => ({ key, name, howToTell })),
      questions: wireQuestions(grounds),
    };
  }

  /** One chance taken apart. */
  async why(id: string, weakPointId: string): Promise<WireWhy> {
    return whyOf(await this.ground(id), weakPointId);
  }

  /** Ids of the readings that fit a forward-running meter. */
  private async fitting(id: string): Promise<Set<string>> {
    const { records, subject, settings } = await this.ground(id);
    const rejected = new Set(pathOf(subject, settings).rejected);
    return new Set(records.readings.filter((_, index) => !rejected.has(index)).map((reading) => reading.id));
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
