import { type Pack } from '@crosspeen/contract';
import type { LibraryWriter } from './writer.ts';

/** Rows of a pack that are not to be written, by table and key. */
export type Skipped = (table: string) => ReadonlySet<string>;

/** A pack on its way into the library: the writer of the change, the pack, the rows left out, and the pack's mark. */
export type Writing = {
  readonly writer: LibraryWriter;
  readonly pack: Pack;
  readonly skipped: Skipped;
  readonly own: { readonly pack_key: string };
};

/** Ids of the rows that a pack's keys name, by key. */
export type Ids = ReadonlyMap<string, string>;
