/** Even numbers in (0, 1) from a seed, the same on every machine (Lehmer's generator, Park and Miller 1988). */
export type Even = () => number;

export function evenNumbers(seed: number): Even {
  let state = seed % 2_147_483_647;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}

export const between = (even: Even, low: number, high: number): number => low + (high - low) * even();
export const chosen = <T>(even: Even, list: readonly T[]): T =>
  list[Math.min(list.length - 1, Math.floor(even() * list.length))]!;
export const happens = (even: Even, chance: number): boolean => even() < chance;
/** A standard normal number (Box and Muller). */
export const normal = (even: Even): number => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());
