/** Units of the main meter of a vehicle: distance, or engine hours on a machine. */
export const DISTANCE_UNITS = ['km', 'mi', 'h'] as const;
export type DistanceUnit = (typeof DISTANCE_UNITS)[number];

/** The international mile, exact by definition (1959). */
const KM_PER_MILE = 1.609344;

/**
 * Kilometres that stand for an engine hour of a machine where a window is in km: a common rule of
 * thumb, shown wherever it is used. The hour meter is kept in these km, so that windows in hours
 * are met exactly.
 */
const KM_PER_ENGINE_HOUR = 40;

const KM_PER: Readonly<Record<DistanceUnit, number>> = { km: 1, mi: KM_PER_MILE, h: KM_PER_ENGINE_HOUR };

/** Distance in km from a figure in the given unit. */
export const toKm = (value: number, unit: DistanceUnit): number => value * KM_PER[unit];

/** Figure in the given unit from a distance in km. */
export const fromKm = (km: number, unit: DistanceUnit): number => km / KM_PER[unit];
