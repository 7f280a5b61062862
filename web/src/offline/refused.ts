import type { DeskNoteCreate } from '@crosspeen/contract';
import type { Waiting } from './queue.ts';
import { deviceStore } from './store.ts';

const RESULTS = { sound: 'good', worn: 'worn', failed: 'failed', unseen: 'not checked', done: 'done' } as const;

/** Words for a thing that waits: what was entered. */
export function waitingWords(waiting: Waiting): string {
  if (waiting.kind === 'photo') return 'A photo';
  if (waiting.kind === 'note') return waiting.note.words;
  const { result, grade, measured, unit, note } = waiting.entry;
  return [
    RESULTS[result],
    grade,
    measured !== null && measured !== undefined && `${measured} ${unit ?? ''}`.trim(),
    note,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Sends a refused thing again as it is. */
export const tryAgain = (waiting: Waiting): Promise<void> => deviceStore.put({ ...waiting, refused: null });

/**
 * Hands a refused entry to the desk: a note with what was entered and why it was refused takes its place, and waits to
 * be sent.
 */
export function handToDesk(waiting: Waiting): Promise<void> {
  const { refused, userId, userName, vehicleId, vehicleName, walk, seq } = waiting;
  const madeAt = waiting.kind === 'entry' ? waiting.entry.madeAt : new Date().toISOString();
  const note: DeskNoteCreate = {
    id: crypto.randomUUID(),
    vehicleId,
    about: waiting.about ?? null,
    words: `entered as ${waitingWords(waiting)}, and not taken: ${refused ?? ''}`,
    madeAt,
  };
  return deviceStore.replace(waiting.id, {
    kind: 'note',
    id: note.id,
    seq,
    userId,
    userName,
    vehicleId,
    ...(vehicleName === undefined ? {} : { vehicleName }),
    walk,
    refused: null,
    note,
  });
}
