import type { Settings } from '@crosspeen/contract';
import { meterOffset, type UsagePath } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { pathOf } from './answer.ts';
import { recordsOfVehicle, subjectOf } from './records.ts';

/**
 * Usage path of a vehicle as it stands, km since new, to turn readings into dates and back; and what its dash shows
 * less than that. Throws not_found.
 */
export async function vehiclePath(
  manager: EntityManager,
  id: string,
  { settings, today }: { readonly settings: Settings; readonly today: number },
): Promise<{ path: UsagePath; offsetKm: number; changed: boolean }> {
  const subject = subjectOf(await recordsOfVehicle(manager, id), today);
  return {
    path: pathOf(subject, settings),
    offsetKm: meterOffset(subject.meterChanges),
    changed: subject.meterChanges.length > 0,
  };
}
