import { pack, type Pack } from '@crosspeen/contract';
import harbour from '../packs/harbour.json' with { type: 'json' };
import { coastPack } from './coast/pack.ts';

/** The hand-written demo library, checked. Throws when the pack is not valid. */
export const harbourPack = (): Pack => pack.parse(harbour);

/** All packs of the demo: the hand-written one, and the one told from builds. */
export const demoPacks = (): readonly Pack[] => {
  const written = harbourPack();
  return [written, coastPack(written)];
};
