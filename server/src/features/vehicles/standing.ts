import type { Answer } from '@crosspeen/contract';
import { isoFromDay, MODEL_VERSION, VERDICTS } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { StandingRow } from './entity.ts';

/** Vehicles brought up to date in one go by the daily sweep. */
const SWEEP_BATCH = 50;
/** Rank of a vehicle on which nothing is pressing; behind every verdict. */
export const NOTHING_PRESSING = VERDICTS.length + 1;

/** The line of a vehicle in the list: its worst weak point and how many more ask for work. */
export function standingOf(vehicleId: string, answer: Answer): StandingRow {
  const worst = answer.rows.find(({ verdict }) => verdict !== 'behind_it');
  const asking = answer.rows.filter(({ verdict }) => verdict === 'hold' || verdict === 'renew' || verdict === 'look').length;
  const base = { vehicleId, km: answer.now.km, asOf: isoFromDay(answer.today), modelVersion: MODEL_VERSION };
  if (!worst) return { ...base, rank: NOTHING_PRESSING, title: null, verdict: null, chance: null, dueDay: null, dueKm: null, others: 0 };
  const pressing = worst.limit === null ? worst.chance / 10 : Math.min(1, worst.chance / (3 * worst.limit));
  return {
    ...base, rank: VERDICTS.indexOf(worst.verdict) + 0.99 * (1 - pressing), title: worst.title, verdict: worst.verdict, chance: worst.chance,
    dueDay: worst.due === null ? null : isoFromDay(worst.due.day), dueKm: worst.due?.km ?? null, others: Math.max(0, asking - 1),
  };
}

/**
 * Brings standings up to date that were computed on an earlier day or by an earlier model. Rows another server process works on are skipped.
 * Returns how many were done; fewer than a batch means that none are left.
 */
export async function sweepStandings(source: DataSource, todayIso: string, refresh: (manager: DataSource['manager'], vehicleId: string) => Promise<void>): Promise<number> {
  return source.transaction(async (manager) => {
    const stale = await manager.query<{ vehicle_id: string }[]>(
      'select vehicle_id from vehicle_standing where as_of <> $1 or model_version <> $2 limit $3 for update skip locked', [todayIso, MODEL_VERSION, SWEEP_BATCH]);
    for (const { vehicle_id: vehicleId } of stale) await refresh(manager, vehicleId);
    return stale.length;
  });
}
