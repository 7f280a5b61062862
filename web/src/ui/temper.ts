/** Where one temper colour gives way to the next, as chances. One place for strip, table, legend and list. */
export const TEMPER_STEPS = [
  { name: 'pale straw', from: 0, words: 'under 1 in 100' },
  { name: 'straw', from: 0.01, words: '1 to 3 in 100' },
  { name: 'bronze', from: 0.03, words: '3 to 8 in 100' },
  { name: 'purple', from: 0.08, words: '8 to 25 in 100' },
  { name: 'deep blue', from: 0.25, words: '25 in 100 and more' },
] as const;

/** Index of the temper colour of a chance, 0 (pale straw) to 4 (deep blue). */
export function temperStep(chance: number): number {
  let step = 0;
  TEMPER_STEPS.forEach(({ from }, index) => {
    if (chance >= from) step = index;
  });
  return step;
}

export const temperColour = (chance: number): string => `var(--temper-${temperStep(chance)})`;
