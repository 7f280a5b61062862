import type { AnswerRow } from '@crosspeen/contract';

/** A part that went in within so many days is not fitted again because its neighbour is. */
const QUITE_NEW_DAYS = 365;

/** Whether a record says that the part went in within the last year. */
export const isQuiteNew = ({ installs: [latest] }: Pick<AnswerRow, 'installs'>, today: number): boolean =>
  latest !== undefined && latest.certainty === 'done' && today - latest.day < QUITE_NEW_DAYS;
