import { FAULTS, historyAnswer } from '@crosspeen/contract';
import { dayAtDistance, dayFromIso, distanceAtDay, isoFromDay } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import type { ChangeAuthor, Journal } from '../../ledger/journal.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { VehicleRow } from '../../ledger/vehicle-rows.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { badField } from '../../platform/problem.ts';
import { LATELY_DAYS } from '../../reckoning/know.ts';
import { vehiclePath } from '../../reckoning/vehicle-path.ts';

export interface Worked {
  readonly day: string | null;
  readonly km: number | null;
}

interface Shop {
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** Date and reading of some work: each completes the other through the vehicle's usage path. Throws bad_field. */
export async function workedOn(
  manager: EntityManager,
  vehicleId: string,
  { day, km }: Worked,
  { settings, clock }: Shop,
): Promise<Worked> {
  if (day === null && km === null) return { day, km };
  const today = clock.today();
  const { path, offsetKm, changed } = await vehiclePath(manager, vehicleId, {
    settings: await settings.now(manager),
    today,
  });
  if (day !== null) {
    const number = dayFromIso(day)!;
    if (number > today) throw badField('day', FAULTS.workToCome);
    return { day, km: km ?? Math.max(0, Math.round(distanceAtDay(path, number) - offsetKm)) };
  }
  // A figure that two clusters have shown belongs to two dates.
  if (changed) throw badField('day', FAULTS.dayNeeded);
  if (km! > distanceAtDay(path, today) + 500) throw badField('km', FAULTS.beyondTheMeter);
  return { day: isoFromDay(Math.min(today, Math.round(dayAtDistance(path, km!)))), km };
}

/**
 * Day of what nobody renewed, or nobody knows of: it is said of the part that is in on the day it is said, so that an
 * engine put in before that day does not undo it.
 */
export const saidToday = (clock: Pick<ShopClock, 'today'>): Worked => ({ day: isoFromDay(clock.today()), km: null });

const SAID = { never: 'known not renewed', unknown: 'history unknown', renewed: 'believed renewed' } as const;

/**
 * What somebody answers about a part's history, as a service record: "renewed" is believed as far as an owner's word
 * is. Answers the row and what is said of it; null where it is no answer about a history. Throws bad_field.
 */
export async function writeHistory(
  journal: Journal,
  { author, vehicle }: { readonly author: ChangeAuthor; readonly vehicle: Pick<VehicleRow, 'id' | 'familyId'> },
  { about, answer }: { readonly about: string; readonly answer: string },
  shop: Shop,
): Promise<{ readonly id: string; readonly summary: string } | null> {
  const said = about.startsWith('history:') ? historyAnswer(answer) : null;
  if (said === null) return null;
  const [component] = await journal.manager.query<{ id: string; name: string }[]>(
    `select c.id, c.name
      from component c
      where c.key = $2 and exists (select 1 from weak_point w where w.component_id = c.id and w.family_id = $1)`,
    [vehicle.familyId, about.slice('history:'.length)],
  );
  if (!component) throw badField('about', FAULTS.noPart);
  const lately = isoFromDay(Math.round(shop.clock.today() - LATELY_DAYS));
  const when: Worked =
    said.kind !== 'renewed'
      ? saidToday(shop.clock)
      : await workedOn(
          journal.manager,
          vehicle.id,
          said.day === null && said.km === null ? { day: lately, km: null } : said,
          shop,
        );
  const row = await journal.insert('service_record', {
    vehicleId: vehicle.id,
    componentId: component.id,
    visitId: null,
    certainty: { never: 'not_done', unknown: 'unknown', renewed: 'believed' }[said.kind] as
      'not_done' | 'unknown' | 'believed',
    ...when,
    grade: said.kind === 'renewed' ? said.grade : 'original',
    partNumber: null,
    revision: null,
    source: said.kind === 'renewed' ? 'owner' : null,
    cameOut: null,
    note: null,
    userId: author.userId,
  });
  return { id: row.id, summary: `${component.name}: ${SAID[said.kind]}` };
}
