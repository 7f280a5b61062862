import { MADE_BEFORE_REGISTERED } from '@crosspeen/core';

/**
 * The core's `mayBeMade` as a condition of SQL over a column and two expressions of type date; held to it by a test.
 */
export const mayBeMadeSql = (registered: string, from: string, to: string): string =>
  `((${from}) is null or ${registered} is null or ${registered} >= (${from}))
      and ((${to}) is null or ${registered} is null or ${registered} - ${MADE_BEFORE_REGISTERED} <= (${to}))`;
