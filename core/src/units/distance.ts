export const DISTANCE_UNITS = ['km', 'mi'] as const;
export type DistanceUnit = (typeof DISTANCE_UNITS)[number];

/** The international mile, exact by definition (1959). */
export const KM_PER_MILE = 1.609344;

/** Distance in km from a figure in the given unit. */
export const toKm = (value: number, unit: DistanceUnit): number => (unit === 'mi' ? value * KM_PER_MILE : value);

/** Figure in the given unit from a distance in km. */
export const fromKm = (km: number, unit: DistanceUnit): number => (unit === 'mi' ? km / KM_PER_MILE : km);
