import type { WireUpkeep } from '@crosspeen/contract';
import type { DistanceUnit, Season, UpkeepKind } from '@crosspeen/core';
import { dayText } from '../../ui/units.ts';
import { byWhenText, lengthText } from '../by-when.ts';

export const UPKEEP_KIND_WORDS: Readonly<Record<UpkeepKind, string>> = {
  look: 'Look',
  measure: 'Measure',
  adjust: 'Adjust',
  clean: 'Clean',
  fluid: 'Fluid',
  renew: 'Renew',
};
export const SEASON_WORDS: Readonly<Record<Season, string>> = {
  spring: 'in spring',
  summer: 'in summer',
  autumn: 'in autumn',
  winter: 'in winter',
};

/** When a recurring task is to be done again, in one line. */
export function taskDueText(
  { standing, due, by }: Pick<WireUpkeep, 'standing' | 'due' | 'by'>,
  today: number,
  unit: DistanceUnit,
): string {
  if (standing === 'no_interval') return 'no interval that speaks for this vehicle';
  if (standing === 'unknown') return 'not known when it was last done';
  if (due === null) return by === null ? 'not due' : 'not within sight';
  return byWhenText({ verdict: 'renew', ...due }, today, unit);
}

/** When it was last done, and how long ago. */
export const lastDoneText = (lastDay: number | null, today: number): string =>
  lastDay === null
    ? 'Not known'
    : lastDay === today
      ? 'Today'
      : `${dayText(lastDay)}, ${lengthText(today - lastDay)} ago`;

/** How long something was neglected, all times taken together; null where it never was. */
export function neglectText({ neglected, protects }: Pick<WireUpkeep, 'neglected' | 'protects'>): string | null {
  const days = neglected.reduce((sum, [from, to]) => sum + to - from, 0);
  if (days < 1 || protects.length === 0) return null;
  return `Done late: ${lengthText(days)} beyond every interval. ${protects
    .map(({ title, factor }) => `${title}: wore x${factor} as fast meanwhile`)
    .join('; ')}.`;
}

/** How many tasks are overdue or unknown, in one line; null where none is. */
export function upkeepLine(upkeep: readonly WireUpkeep[], today: number, unit: DistanceUnit): string | null {
  const overdue = upkeep.filter(({ standing }) => standing === 'overdue');
  const [first] = overdue;
  if (first === undefined) return null;
  const more = overdue.length - 1;
  return `${first.title}: ${taskDueText(first, today, unit)}${more === 0 ? '' : `, and ${more} more`}`;
}
