import { formatSpans, parseSpans, type Span } from '@crosspeen/core';
import { badField } from '../platform/problem.ts';
import type { LibraryWriter } from './writer.ts';

/** The limits of a coverage as its columns; `covers` has been checked for form. */
export function coverColumns(covers: string | null): { covered_days: number | null; covered_km: number | null } {
  const parsed = covers === null ? null : parseSpans(covers);
  if (parsed !== null && !parsed.ok) throw badField('covers', parsed.problem);
  const limit = (clock: Span['clock']): number | null => parsed?.value.find((span) => span.clock === clock)?.to ?? null;
  const days = limit('age');
  return { covered_days: days === null ? null : Math.round(days), covered_km: limit('distance') };
}

/** The limits of a coverage in shorthand again; null where it has none. */
export const coversText = (days: number | null, km: number | null): string | null => {
  const spans: Span[] = [
    ...(days === null ? [] : [{ clock: 'age' as const, from: days, to: days }]),
    ...(km === null ? [] : [{ clock: 'distance' as const, from: km, to: km }]),
  ];
  return spans.length === 0 ? null : formatSpans(spans);
};

/** Writes which weak points a notice is about; what it is no longer about goes first. */
export async function writeNoticePoints(
  writer: LibraryWriter,
  noticeId: string,
  points: readonly string[],
): Promise<void> {
  await writer.remove(
    'notice_point',
    "notice_id = ($1::jsonb ->> 'notice')::uuid and not ($1::jsonb -> 'points' ? weak_point_id::text)",
    JSON.stringify({ notice: noticeId, points }),
  );
  await writer.upsert(
    'notice_point',
    points.map((point) => ({ notice_id: noticeId, weak_point_id: point })),
  );
}
