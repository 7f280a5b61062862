import type { Endpoint } from './endpoint.ts';
import * as endpoints from './endpoints/index.ts';

/** Every endpoint of the table in one list. */
export const allEndpoints = (): readonly Endpoint[] =>
  Object.values(endpoints).flatMap((group): readonly Endpoint[] => Object.values(group));
