import type { DistanceUnit } from '@crosspeen/core';
import { dayText, distanceText } from '../../ui/units.ts';
import { lengthText } from '../by-when.ts';
import type { AnswerRow } from '@crosspeen/contract';

type Overdue = NonNullable<AnswerRow['overdue']>;

/**
 * Words before a day or a length that counts from something nobody can prove: the part's first use, or a renewal that
 * is only believed. Empty where it is known. Begins in lower case.
 */
export const countedFromText = (row: Pick<AnswerRow, 'installs'>): string => {
  const { certainty, day } = row.installs[0]!;
  if (certainty === 'believed') return `if it was renewed about ${dayText(day)}: `;
  return certainty === 'done' || certainty === 'not_done' ? '' : 'if never renewed: ';
};

/** Words as a sentence of their own. */
export const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** A published interval that has passed: since what, by how much, and who says so. */
export function overdueText(row: Pick<AnswerRow, 'installs'>, overdue: Overdue, unit: DistanceUnit): string {
  const { asks, authority, countedFrom, days, km } = overdue;
  const by = `${lengthText(days)}${km >= 100 ? `, ${distanceText(km, unit, 100)}` : ''}`;
  const from = countedFrom === 'known' ? '' : countedFromText(row);
  return sentence(`${from}${asks === 'look' ? 'a look is overdue by' : 'overdue by'} ${by} (${authority})`);
}
