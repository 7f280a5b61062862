import type { Settings, SettingsValues } from '@crosspeen/contract';
import { DEFAULT_LIMITS, SAFETY_LIMIT } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { ChangeAuthor, ChangeService } from '../changes/journal.ts';
import { SettingEntity } from './entity.ts';

/** What a new installation starts with. */
export const DEFAULT_SETTINGS: SettingsValues = {
  workshopName: 'Our workshop', distanceUnit: 'km', currency: 'EUR', labourRateMinor: 9600, taxRate: 0.2,
  serviceKm: 15_000, serviceDays: 365, usualKmPerYear: 15_000,
  limits: { ...DEFAULT_LIMITS, cosmetic: null }, safetyLimit: SAFETY_LIMIT, firstWeekday: 1,
};

export class SettingsService {
  constructor(private readonly source: DataSource, private readonly changes: ChangeService) {}

  async current(): Promise<Settings> {
    const row = await this.source.manager.findOneByOrFail(SettingEntity, { id: 1 });
    return { ...row.values, version: row.version };
  }

  /** Saves new settings over version `version`; an older version is refused with the settings as they are. */
  async save(author: ChangeAuthor, values: SettingsValues, version: number): Promise<Settings> {
    await this.changes.record(author, async (journal) => {
      await journal.update('setting', 1, { values }, version);
      // Every standing was judged by the old settings: the sweep judges them anew.
      await journal.manager.query('update vehicle_standing set model_version = 0');
      return { id: '1', vehicleId: null, summary: 'Settings changed' };
    });
    return this.current();
  }

  /** Writes the defaults where nothing is set yet. */
  async ensure(values: SettingsValues = DEFAULT_SETTINGS): Promise<void> {
    await this.source.query('insert into setting (id, "values") values (1, $1) on conflict do nothing', [JSON.stringify(values)]);
  }
}
