import { GRADES, type Grade } from '@crosspeen/core';
import { isoDate } from './common.ts';

export interface KnownPair {
  readonly about: string;
  readonly answer: string;
}

/**
 * Answered questions as they stand in an address: `market=hot and dusty;feature:ac=yes`. What has no form of an answer
 * is left out.
 */
export function knownPairs(text: string): KnownPair[] {
  return text.split(';').flatMap((pair) => {
    const at = pair.indexOf('=');
    return at <= 0
      ? []
      : [
          {
            about: pair.slice(0, at).trim(),
            answer: pair
              .slice(at + 1)
              .trim()
              .slice(0, 120),
          },
        ];
  });
}

/** The same text with one more answer; a question answered again keeps the later one. */
export const knownText = (text: string, { about, answer }: KnownPair): string =>
  [...knownPairs(text).filter((pair) => pair.about !== about), { about, answer }]
    .map((pair) => `${pair.about}=${pair.answer}`)
    .join(';');

/** Answer about the renewal of a part: never, unknown, or about when and with which part. */
export type HistoryAnswer =
  | { readonly kind: 'never' | 'unknown' }
  | {
      readonly kind: 'renewed';
      /** ISO date; null with km null: lately. */
      readonly day: string | null;
      readonly km: number | null;
      readonly grade: Grade;
    };

const RENEWED = new RegExp(`^renewed (lately|\\d{4}-\\d{2}-\\d{2}|\\d{1,7}km)(?: (${GRADES.join('|')}))?$`);

/**
 * Reads the answer to a question about a part's history: `never`, `unknown`, `renewed 120000km cheap`; null where it is
 * none.
 */
export function historyAnswer(text: string): HistoryAnswer | null {
  if (text === 'never' || text === 'unknown') return { kind: text };
  const read = RENEWED.exec(text);
  if (read === null) return null;
  const when = read[1]!;
  if (/^\d{4}-/.test(when) && !isoDate.safeParse(when).success) return null;
  return {
    kind: 'renewed',
    day: /^\d{4}-/.test(when) ? when : null,
    km: when.endsWith('km') ? Number(when.slice(0, -2)) : null,
    grade: (read[2] as Grade | undefined) ?? 'original',
  };
}

/** The answer as it stands in an address. */
export const historyText = (answer: HistoryAnswer): string =>
  answer.kind === 'renewed'
    ? `renewed ${answer.day ?? (answer.km === null ? 'lately' : `${Math.round(answer.km)}km`)} ${answer.grade}`
    : answer.kind;
