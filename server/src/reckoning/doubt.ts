import { FAULTS } from '@crosspeen/contract';
import { dayFromIso, distanceAtDay, fromKm, readingDoubt, type DistanceUnit, type ReadingDoubt } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import type { SettingsService } from '../ledger/settings.ts';
import type { ShopClock } from '../platform/clock.ts';
import { Problem } from '../platform/problem.ts';
import { pathOf } from './answer.ts';
import { recordsOfVehicle, subjectOf } from './records.ts';

const FIGURE = new Intl.NumberFormat('en', { maximumFractionDigits: 0 });

/** A reading as it is typed, and whether its author has been asked about it and means it. */
export interface ReadingSaid {
  readonly day: string;
  readonly km: number;
  readonly sure: boolean;
}

/**
 * Asks once about a reading that makes no sense beside what is known of the vehicle's meter. `field` names its field.
 * Throws doubtful with the question; a reading that is `sure` passes.
 */
export async function askOnce(
  manager: EntityManager,
  vehicleId: string,
  { day, km, sure }: ReadingSaid,
  { settings, clock, field = 'km' }: { settings: SettingsService; clock: ShopClock; field?: 'km' | 'oldKm' },
): Promise<void> {
  if (sure) return;
  const records = await recordsOfVehicle(manager, vehicleId);
  const today = clock.today();
  const subject = subjectOf(records, today);
  const read = dayFromIso(day)!;
  const changes = subject.meterChanges.map((change) => change.day);
  const from = Math.max(-Infinity, ...changes.filter((change) => change <= read));
  const until = Math.min(Infinity, ...changes.filter((change) => change > read));
  // What an old cluster showed last is held to the readings before it: later ones may be of the new cluster already.
  const end = field === 'oldKm' ? Math.min(until, read + 1) : until;
  const own = records.readings.length === 0 ? [] : subject.readings.filter((one) => one.day >= from && one.day < end);
  const earlier = own.filter((one) => one.day < read).map((one) => one.km);
  const later = own.filter((one) => one.day > read).map((one) => one.km);
  // What the dash shows is less than the distance since new by what earlier clusters have shown.
  const offset = subject.meterChanges
    .filter((change) => change.day <= read)
    .reduce((sum, change) => sum + change.oldKm - change.newKm, 0);
  const expectedKm =
    own.length === 0
      ? null
      : distanceAtDay(
          pathOf(
            { ...subject, readings: subject.readings.filter((one) => one.day < end) },
            await settings.now(manager),
          ),
          read,
        ) - offset;
  const typed = {
    day: read,
    km,
    expectedKm,
    earlierKm: earlier.length === 0 ? null : Math.max(...earlier),
    laterKm: later.length === 0 ? null : Math.min(...later),
    registeredDay: subject.registeredExact ? subject.registeredDay : null,
  };
  const doubt = readingDoubt(typed);
  if (doubt === null) return;
  const unit: DistanceUnit = records.row.odometerUnit;
  // What is expected is an estimate: to the hundred.
  const figure = (value: number | null, step = 1): string =>
    `${FIGURE.format(Math.round(fromKm(value ?? 0, unit) / step) * step)} ${unit}`;
  const beside: Record<ReadingDoubt, string> = {
    before_registration: '',
    many_times: figure(expectedKm, 100),
    small_part: figure(expectedKm, 100),
    below_earlier: figure(typed.earlierKm),
    above_later: figure(typed.laterKm),
  };
  const path = doubt === 'before_registration' ? 'day' : field;
  throw new Problem('doubtful', { fields: [{ path, message: FAULTS.doubtful[doubt](beside[doubt]) }] });
}
