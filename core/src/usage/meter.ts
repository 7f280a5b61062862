import { distanceAtDay, type Reading, type UsagePath } from './path.ts';

/** A cluster that was replaced: what the old one showed last and the new one first, km. */
export interface MeterChange {
  readonly day: number;
  readonly oldKm: number;
  readonly newKm: number;
}

/** An engine that was swapped: how far the engine put in had run, km; null when nobody knows. */
export interface EngineSwap {
  readonly day: number;
  readonly engineKm: number | null;
}

const byDay = <T extends { readonly day: number }>(entries: readonly T[]): T[] =>
  [...entries].sort((a, b) => a.day - b.day);

/**
 * Readings as the dash showed them, as km since new: every replaced cluster starts a segment whose offset is what the
 * old one showed more. A reading on the very day of a change belongs to the cluster whose figure it is nearer to.
 */
export function readingsSinceNew(shown: readonly Reading[], changes: readonly MeterChange[]): Reading[] {
  const ordered = byDay(changes);
  return shown.map(({ day, km }) => {
    let offset = 0;
    for (const change of ordered) {
      const after =
        day > change.day || (day === change.day && Math.abs(km - change.newKm) < Math.abs(km - change.oldKm));
      if (after) offset += change.oldKm - change.newKm;
    }
    return { day, km: km + offset };
  });
}

/** Distance in km that is added to today's dash to get km since new. */
export const meterOffset = (changes: readonly MeterChange[]): number =>
  changes.reduce((sum, { oldKm, newKm }) => sum + oldKm - newKm, 0);

export interface EnginePath {
  /** Distance of the engine now fitted. */
  readonly path: UsagePath;
  /** Day on which it was put in; work on engine parts before that was on another engine. */
  readonly fittedDay: number;
  /** Nobody knows how far it had run: it is taken to be as old as the vehicle. */
  readonly assumed: boolean;
}

/**
 * The path of the engine now fitted: that of the vehicle since the swap, on top of what the engine had run before, at
 * the forecast rate. Null without a swap: engine and vehicle then share one path. Days are day numbers, distances km.
 */
export function enginePath(vehicle: UsagePath, swaps: readonly EngineSwap[]): EnginePath | null {
  const swap = byDay(swaps).at(-1);
  if (swap === undefined) return null;
  const vehicleKm = distanceAtDay(vehicle, swap.day);
  const engineKm = swap.engineKm ?? vehicleKm;
  const rate = Math.max(vehicle.rateKmPerDay, 1e-6);
  const startDay = swap.day - engineKm / rate;
  const shifted = vehicle.knots
    .filter(({ day }) => day > swap.day)
    .map(({ day, km }) => ({ day, km: km - vehicleKm + engineKm }));
  const fitted = { day: swap.day, km: engineKm };
  const knots = engineKm > 0 ? [{ day: startDay, km: 0 }, fitted, ...shifted] : [fitted, ...shifted];
  return {
    path: { knots, startDay, rateKmPerDay: vehicle.rateKmPerDay, rejected: [] },
    fittedDay: swap.day,
    assumed: swap.engineKm === null,
  };
}
