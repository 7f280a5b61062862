import type { PartOption, VisitCreate } from '@crosspeen/contract';

/** The part to put on a job unless another is chosen: the original of the latest revision, as the list is ordered. */
export const usualPart = (
  parts: readonly PartOption[] | undefined,
): Pick<VisitCreate['jobs'][number], 'partNumber' | 'revision' | 'grade'> => {
  const part = parts?.[0];
  return { partNumber: part?.number ?? null, revision: part?.revision ?? null, grade: part?.grade ?? 'original' };
};
