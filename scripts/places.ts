import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** The checkout. */
export const ROOT = join(import.meta.dirname, '..');

/** Everything a run leaves behind lies here, out of version control. */
export const STATE = join(ROOT, '.state');

export function ensureState(): void {
  mkdirSync(join(STATE, 'logs'), { recursive: true });
}

/** A failure whose message is all the user needs; no stack is printed. */
export class UserError extends Error {}
