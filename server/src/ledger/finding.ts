import type { FindingCreate } from '@crosspeen/contract';
import type { ChangeAuthor, Journal } from './journal.ts';
import type { FindingRow } from './records.ts';

/** One finding that is written into a change under way. */
export interface Found
  extends
    Partial<Pick<FindingCreate, 'broughtIn' | 'sinceDay' | 'note'>>,
    Partial<Pick<FindingRow, 'grade' | 'measured' | 'unit'>> {
  readonly vehicleId: string;
  readonly weakPointId: string;
  readonly day: string;
  readonly result: FindingCreate['result'];
  readonly visitId: string | null;
}

/** Writes one finding into a change that is under way; answers its id. */
export async function writeFinding(journal: Journal, { userId }: ChangeAuthor, found: Found): Promise<string> {
  const { vehicleId, weakPointId, visitId, day, result } = found;
  const failed = result === 'failed';
  const row = await journal.insert('finding', {
    vehicleId,
    weakPointId,
    visitId,
    day,
    result,
    broughtIn: failed && found.broughtIn === true,
    sinceDay: failed ? (found.sinceDay ?? null) : null,
    grade: found.grade || null,
    measured: found.measured ?? null,
    unit: found.unit || null,
    note: found.note || null,
    userId,
  });
  return row.id;
}
