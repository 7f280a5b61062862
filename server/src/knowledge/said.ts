import { formatSpans, parseSpans, SHARE_BY_WORD, type ShareWord, type Span } from '@crosspeen/core';
import { badField } from '../platform/problem.ts';

/** The word nearest to a share: what it is told as. */
export const nearestWord = (share: number): ShareWord =>
  (Object.keys(SHARE_BY_WORD) as ShareWord[]).reduce((best, word) =>
    Math.abs(SHARE_BY_WORD[word] - share) < Math.abs(SHARE_BY_WORD[best] - share) ? word : best,
  );

/** Spans told in shorthand, whose form has been checked. Throws bad_input naming the field that cannot be read. */
export function readSpans(told: string, field: string): readonly Span[] {
  const parsed = parseSpans(told);
  if (!parsed.ok) throw badField(field, parsed.problem);
  return parsed.value;
}

// What is told in words or in round figures and comes back just so says nothing new: the exact value that stands is
// kept.

/** The share a word means, or the one that stands where it is told by that word. */
export const shareOver = (word: ShareWord, standing: number | undefined): number =>
  standing !== undefined && nearestWord(standing) === word ? standing : SHARE_BY_WORD[word];

/** Spans as read, or those that stand where they are told in the same shorthand. */
export const spansOver = (read: readonly Span[], standing: readonly Span[] | undefined): readonly Span[] =>
  standing !== undefined && standing.length > 0 && formatSpans(standing) === formatSpans(read) ? standing : read;

/** A production date read as a month's edge, or the day that stands where it lies in that month. */
export const dayOver = (
  read: number | undefined,
  standing: number | undefined,
  monthOf: (day: number) => string,
): number | undefined =>
  read !== undefined && standing !== undefined && monthOf(read) === monthOf(standing) ? standing : read;
