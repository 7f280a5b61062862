/** Borders between the bands of chance, for every colour, filter and index. */
export const CHANCE_BANDS = [0.01, 0.03, 0.08, 0.25] as const;

/** Number of the band of a chance, from 0 (below the first limit) to 4; at a limit it is in the band that it begins. */
export const bandOf = (chance: number): number => CHANCE_BANDS.filter((from) => chance >= from).length;
