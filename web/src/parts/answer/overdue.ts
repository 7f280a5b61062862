import type { AnswerRow } from '@crosspeen/contract';
import { countedFrom, type CountedFrom, type DistanceUnit, type StatementAsks } from '@crosspeen/core';
import { dayText, distanceText } from '../../ui/units.ts';
import { lengthText } from '../by-when.ts';

type Row = Pick<AnswerRow, 'installs' | 'looks'>;
type Overdue = NonNullable<AnswerRow['overdue']>;

const FROM: Readonly<Record<CountedFrom, (day: number) => string>> = {
  known: () => '',
  believed: (day) => `if it was renewed about ${dayText(day)}: `,
  new: () => 'if never renewed: ',
};

/**
 * Words before a day or a length that counts from something nobody can prove: the part's first use, or a renewal that
 * is only believed. Empty where it is known. Begins in lower case.
 */
export function countedFromText({ installs, looks }: Row, asks: StatementAsks): string {
  const { certainty, day } = installs[0]!;
  return FROM[countedFrom(asks, certainty, looks.length > 0)](day);
}

/** Words as a sentence of their own. */
export const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** A published interval that has passed: since what, by how much, and who says so. */
export function overdueText({ installs }: Row, overdue: Overdue, unit: DistanceUnit): string {
  const { asks, authority, days, km } = overdue;
  const by = `${lengthText(days)}${km >= 100 ? `, ${distanceText(km, unit, 100)}` : ''}`;
  const from = FROM[overdue.countedFrom](installs[0]!.day);
  return sentence(`${from}${asks === 'look' ? 'a look is overdue by' : 'overdue by'} ${by} (${authority})`);
}
