import type { AnswerRow } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { Chance } from '../ui/chance.tsx';

/** Tells whether a record says that it has failed and was not renewed since: then its chance is no question. */
export const isFailed = ({ chance, looks }: Pick<AnswerRow, 'chance' | 'looks'>): boolean =>
  chance === 1 && looks.at(-1)?.result === 'failed';

/** The chance of a row, or the day on which it failed. */
export function RowChance({ row }: { row: Pick<AnswerRow, 'chance' | 'looks'> }): ReactNode {
  return <Chance chance={row.chance} failedDay={isFailed(row) ? row.looks.at(-1)!.day : null} />;
}
