import { bandOf, CHANCE_BANDS } from '@crosspeen/core';

const NAMES = ['pale straw', 'straw', 'bronze', 'purple', 'deep blue'] as const;
const inHundred = (chance: number): number => Math.round(chance * 100);

/** The temper colour of each band of chance, with the band in words. One place for strip, table, legend and list. */
export const TEMPERS = NAMES.map((name, band) => {
  const [from, to] = [CHANCE_BANDS[band - 1], CHANCE_BANDS[band]];
  return {
    name,
    words:
      from === undefined
        ? `under ${inHundred(to!)} %`
        : to === undefined
          ? `${inHundred(from)} % and more`
          : `${inHundred(from)} to ${inHundred(to)} %`,
  };
});

export const temperColour = (chance: number): string => `var(--temper-${bandOf(chance)})`;
