import type { Settings, SettingsValues } from '@crosspeen/contract';
import { DEFAULT_DUTY_FACTORS, DEFAULT_LIMITS, DEFAULT_PROOF, SAFETY_LIMIT } from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../platform/clock.ts';
import { Problem } from '../platform/problem.ts';
import type { ChangeAuthor, ChangeService } from './journal.ts';

/** What a new installation starts with. */
export const DEFAULT_SETTINGS: SettingsValues = {
  workshopName: 'Our workshop',
  distanceUnit: 'km',
  currency: 'EUR',
  labourRateMinor: 9600,
  taxRate: 0.2,
  weekMinutes: 4_800,
  serviceKm: 15_000,
  serviceDays: 365,
  holdDays: 14,
  visitOwnerMinor: 8000,
  usualKmPerYear: 15_000,
  limits: { ...DEFAULT_LIMITS, cosmetic: null },
  proofFor: [...DEFAULT_PROOF],
  schools: {
    engine: 'early',
    stranded: 'early',
    damage: 'early',
    leak: 'early',
    drivability: 'early',
    emissions: 'early',
    cosmetic: 'early',
  },
  failureCostMinor: {
    engine: 450_000,
    stranded: 60_000,
    damage: 90_000,
    leak: 15_000,
    drivability: 20_000,
    emissions: 30_000,
    cosmetic: 3_000,
  },
  dutyFactors: DEFAULT_DUTY_FACTORS,
  safetyLimit: SAFETY_LIMIT,
  firstWeekday: 1,
  timeZone: 'UTC',
  numberFormat: 'en-GB',
  dateFormat: 'en-GB',
  backupAt: '02:30',
  backupsKept: 14,
};

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Settings saved by an earlier version have no say on what came after it, nor on a consequence or a duty that was added
 * to a list of them.
 */
const withDefaults = (saved: Partial<SettingsValues>): SettingsValues =>
  Object.fromEntries(
    Object.entries(DEFAULT_SETTINGS).map(([key, usual]) => {
      const own: unknown = saved[key as keyof SettingsValues];
      return [key, own === undefined ? usual : isRecord(usual) && isRecord(own) ? { ...usual, ...own } : own];
    }),
  ) as SettingsValues;

/** The settings as they are. Throws when none were ever written. */
export async function readSettings(manager: EntityManager): Promise<Settings> {
  const [row] = await manager.query<{ values: Partial<SettingsValues>; version: number }[]>(
    'select "values", version from setting where id = 1',
  );
  if (!row) throw new Error('the settings row is missing; ensure() writes it at the start');
  return { ...withDefaults(row.values), version: row.version };
}

/** Services that SettingsService works with. */
export interface SettingsServiceNeeds {
  readonly source: DataSource;
  readonly changes: ChangeService;
  readonly clock: ShopClock;
}

export class SettingsService {
  constructor(private readonly needs: SettingsServiceNeeds) {}

  async current(): Promise<Settings> {
    return this.now();
  }

  /** The settings as they are, in the caller's transaction. */
  async now(manager: EntityManager = this.needs.source.manager): Promise<Settings> {
    const settings = await readSettings(manager);
    // Whichever server process saved them: the day here is the one they say.
    this.needs.clock.setZone(settings.timeZone);
    return settings;
  }

  /** Saves new settings over version `version`; an older version is refused with the settings as they are. */
  async save(author: ChangeAuthor, values: SettingsValues, version: number): Promise<Settings> {
    const settings = await this.now();
    // The conflict shows settings as everybody sees them, not the row they are kept in.
    if (settings.version !== version) throw new Problem('changed_meanwhile', { current: settings });
    await this.needs.changes.record(author, async (journal) => {
      await journal.update('setting', 1, { values }, version);
      return { id: '1', vehicleId: null, summary: 'Settings changed' };
    });
    return this.current();
  }

  /** Writes the defaults where nothing is set yet. */
  async ensure(values: SettingsValues = DEFAULT_SETTINGS): Promise<void> {
    await this.needs.source.query('insert into setting (id, "values") values (1, $1) on conflict do nothing', [
      JSON.stringify(values),
    ]);
  }
}
