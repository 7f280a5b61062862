import type { Changed } from '@crosspeen/contract';
import type { Query } from '@tanstack/react-query';

/** What no change of a vehicle moves, by how the key of its query begins. */
const APART_FROM_VEHICLES: readonly (readonly string[])[] = [
  ['session'],
  ['settings'],
  ['engines'],
  ['library', 'changes'],
  ['library', 'packs'],
  ['library', 'authorities'],
  ['library', 'components'],
  ['library', 'touches'],
];
/** What no change of the library or of the settings moves. */
const APART_FROM_ALL: readonly (readonly string[])[] = [['session'], ['intake']];

const begins = (key: readonly unknown[], words: readonly string[]): boolean =>
  words.every((word, i) => key[i] === word);

/**
 * Whether a change may have moved what a query shows. A vehicle's own record moves its answer, the lists that it stands
 * in and, through what the workshop learns, other vehicles' chances; it leaves the words of the library as they are.
 */
export const touchedBy =
  ({ vehicleId }: Pick<Changed, 'vehicleId'>) =>
  ({ queryKey }: Pick<Query, 'queryKey'>): boolean =>
    !(vehicleId === null ? APART_FROM_ALL : APART_FROM_VEHICLES).some((words) => begins(queryKey, words));
