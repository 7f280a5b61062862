import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { dataHome } from './cluster.ts';
import { STATE, UsageError, writeWhole } from './places.ts';

/** What a command may speak of: the demo with its made-up data, or a workshop's own. */
export const KINDS = ['demo', 'shop'] as const;
export type Kind = (typeof KINDS)[number];

/** How a command names what it speaks of. */
export const NAMES: Readonly<Record<Kind, string>> = { demo: 'the demo', shop: 'the shop' };

const addressFile = (kind: Kind): string => join(STATE, `${kind}.database`);

/** Address of the PostgreSQL that a workshop's data lies on, where that is not the private one. */
export function externalAddress(kind: Kind): string | null {
  if (kind === 'demo') return null;
  const given = process.env['CROSSPEEN_DATABASE'];
  if (given !== undefined && given !== '') return given;
  return existsSync(addressFile(kind)) ? readFileSync(addressFile(kind), 'utf8') : null;
}

/** Keeps the address for the commands to come, readable by its owner alone; null goes back to the private one. */
export function keepAddress(kind: Kind, address: string | null): void {
  if (address === null) rmSync(addressFile(kind), { force: true });
  else writeWhole(addressFile(kind), address);
}

/** Whether there is data of a kind here. */
export const isHere = (kind: Kind): boolean => externalAddress(kind) !== null || existsSync(dataHome(kind));

/**
 * Which of the two a command speaks of: the one its flag names, else the one that is here. Throws UsageError where that
 * is not clear.
 */
export function whichOf(flags: ReadonlySet<string>): Kind {
  const named = KINDS.filter((kind) => flags.has(kind));
  if (named.length > 1) throw new UsageError('Say --shop or --demo, not both; nothing was done.');
  const here = KINDS.filter(isHere);
  if (named.length === 0 && here.length > 1)
    throw new UsageError('Both a shop and the demo are here. Say --shop or --demo; nothing was done.');
  return named[0] ?? here[0] ?? 'demo';
}
