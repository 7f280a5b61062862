import { pack, type Pack } from '@crosspeen/contract';
import harbour from '../packs/harbour.json' with { type: 'json' };

/** The hand-written demo library, checked. Throws when the pack is not valid. */
export const harbourPack = (): Pack => pack.parse(harbour);
