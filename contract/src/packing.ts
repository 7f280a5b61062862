import { z } from 'zod';
import { anyText } from './common.ts';

/** Choices for one row of a pack that is being imported. */
const PACK_CHOICES = ['take', 'keep', 'both', 'retire'] as const;
const packChoice = z.enum(PACK_CHOICES);
export type PackChoice = z.infer<typeof packChoice>;

/** One row in which a pack and the library differ. */
const packDiffRow = z.object({
  /** Table and key, by which the row is chosen for. */
  id: z.string(),
  entity: z.string(),
  name: z.string(),
  what: z.enum(['new', 'changed', 'conflict', 'gone']),
  columns: z.array(z.object({ column: z.string(), before: z.string(), after: z.string() })),
  /** Owner of the row on file: the title of another pack, or null for a row written here. */
  owner: z.string().nullable(),
  choices: z.array(packChoice),
  proposed: packChoice,
});
export type PackDiffRow = z.infer<typeof packDiffRow>;

export const packPreview = z
  .object({
    uploadId: z.uuid(),
    key: z.string(),
    title: z.string(),
    version: z.string(),
    licence: z.string(),
    loadedVersion: z.string().nullable(),
    counts: z.object({ new: z.int(), changed: z.int(), conflict: z.int(), gone: z.int(), same: z.int() }),
    rows: z.array(packDiffRow),
  })
  .meta({ id: 'PackPreview' });
export type PackPreview = z.infer<typeof packPreview>;

/** A pack on file, and how much of the library is still as it came with it. */
export const libraryPack = z.object({
  key: z.string(),
  title: z.string(),
  version: z.string(),
  licence: z.string(),
  loadedAt: z.iso.datetime(),
  engines: z.int(),
  points: z.int(),
  notices: z.int(),
});
export type LibraryPack = z.infer<typeof libraryPack>;

export const packImport = z.object({ uploadId: z.uuid(), choices: z.record(anyText(200), packChoice).default({}) });

/** Bytes of a pack file at most. */
export const MOST_PACK_BYTES = 20_000_000;
