import type { Consequence } from '../decision/kinds.ts';
import { STANDING_STILL, type NeedsFact } from './needs.ts';

/** Longest look that counts as a glance, minutes. */
export const GLANCE_MINUTES = 5;

/** What decides whether a look is a glance. */
export interface GlanceFacts {
  readonly consequence: Consequence;
  readonly safety: boolean;
  readonly look: {
    readonly minutes: number;
    readonly measure?: unknown;
    readonly method?: string;
    readonly off?: readonly string[];
    readonly needs?: NeedsFact;
  };
}

/** Ways of looking that give a figure or a reading, which nobody passes in one tap with others. */
const READ = new Set(['measure', 'codes', 'spin']);

/**
 * Tells whether several such looks may be found good together with one tap: a plain look of a few minutes at a part
 * that neither the engine nor anybody's safety rests on, with nothing off, nothing read, and the engine standing still.
 */
export const isGlance = ({ consequence, safety, look }: GlanceFacts): boolean =>
  consequence !== 'engine' &&
  !safety &&
  look.minutes <= GLANCE_MINUTES &&
  look.measure === undefined &&
  !READ.has(look.method ?? 'look') &&
  (look.off ?? []).length === 0 &&
  (look.needs ?? STANDING_STILL).engine === 'off';
