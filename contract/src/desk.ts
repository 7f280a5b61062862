import { z } from 'zod';
import { anyText, isoDate, paging, vehicleId } from './common.ts';

/** Longest note to the desk. */
export const MOST_NOTE = 2000;

/** A note from the bay to the desk, under an id of the device's own making. */
export const deskNoteCreate = z.object({
  id: z.uuid(),
  vehicleId,
  /** Title of the item it is about; null for the vehicle as a whole. */
  about: anyText(200).nullable().default(null),
  words: anyText(MOST_NOTE).trim().min(1, { message: 'write what the desk should know' }),
  madeAt: z.iso.datetime(),
});
export type DeskNoteCreate = z.input<typeof deskNoteCreate>;

/** A note at the desk, as it is read. */
export const deskNote = z.object({
  id: z.uuid(),
  vehicleId,
  /** Plate or name of the vehicle. */
  vehicle: z.string(),
  about: z.string().nullable(),
  words: z.string(),
  day: isoDate,
  by: z.string(),
  /** Name of the person who settled it; null while it is open. */
  settledBy: z.string().nullable(),
});
export type DeskNote = z.infer<typeof deskNote>;

export const deskNotesQuery = paging.extend({
  which: z.enum(['open', 'all']).default('open'),
  vehicleId: vehicleId.optional(),
});

/** Whether a note is settled or open again. */
export const deskNoteSettle = z.object({ settled: z.boolean() });
