import type { Endpoint } from './endpoint.ts';
import * as endpoints from './endpoints/index.ts';

/** Every endpoint of the table in one list. */
export const allEndpoints = (): readonly Endpoint[] =>
  Object.values<Readonly<Record<string, Endpoint>>>(endpoints).flatMap((group) => Object.values(group));
