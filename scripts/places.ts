import { closeSync, fsyncSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** The checkout. */
export const ROOT = join(import.meta.dirname, '..');

/** Everything a run leaves behind lies here, out of version control; `CROSSPEEN_STATE` puts it elsewhere. */
export const STATE = resolve(process.env['CROSSPEEN_STATE'] || join(ROOT, '.state'));

export function ensureState(): void {
  mkdirSync(join(STATE, 'logs'), { recursive: true });
}

/** Paths are meant from where the user called. */
export const userPath = (path: string): string => resolve(process.env['CROSSPEEN_CALLED_FROM'] ?? '.', path);

/** A failure whose message is all the user needs; no stack is printed. The command ends with code 1. */
export class UserError extends Error {}

/** A command that was not understood: nothing was done. The command ends with code 2. */
export class UsageError extends UserError {}

/** Writes a small file so that it is there whole or not at all, whenever the process is ended. */
export function writeWhole(path: string, text: string): void {
  const beside = `${path}.${process.pid}`;
  const file = openSync(beside, 'w', 0o600);
  try {
    writeSync(file, text);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  renameSync(beside, path);
}

/**
 * Makes a file by `work`, under another name until it is whole; readable by its owner alone. A file of that name must
 * not be there yet.
 */
export async function makeWhole<T>(path: string, work: (descriptor: number) => Promise<T>): Promise<T> {
  const beside = `${path}.part-${process.pid}`;
  const file = openSync(beside, 'wx', 0o600);
  try {
    const done = await work(file);
    fsyncSync(file);
    renameSync(beside, path);
    return done;
  } finally {
    closeSync(file);
    rmSync(beside, { force: true });
  }
}
