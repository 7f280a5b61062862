import { closeSync, fstatSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';

/** Size at which a log is put aside, and how many older ones are kept. */
const LOG_LIMITS = { bytes: 8_000_000, kept: 4 } as const;
/** After a line that could not be written so long nothing is tried: a full disk is not asked again for every line. */
const PAUSE_MS = 1000;

export interface LogFile {
  readonly write: (line: string) => void;
  readonly close: () => void;
}

/**
 * A log that never stands in the way: it is put aside as `path.1` ... when it has grown, and while nothing can be
 * written (a full disk) lines are counted instead, and their number is told as soon as there is space.
 */
export function logFile(
  path: string,
  { bytes, kept }: { readonly bytes: number; readonly kept: number } = LOG_LIMITS,
  now: () => number = Date.now,
): LogFile {
  let file: number | null = null;
  let size = 0;
  let lost = 0;
  let quietUntil = 0;

  const open = (): number => {
    file ??= openSync(path, 'a', 0o600);
    size = fstatSync(file).size;
    return file;
  };
  const putAside = (): void => {
    if (file !== null) closeSync(file);
    file = null;
    rmSync(`${path}.${kept}`, { force: true });
    for (let n = kept - 1; n >= 0; n -= 1) {
      try {
        renameSync(n === 0 ? path : `${path}.${n}`, `${path}.${n + 1}`);
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
      }
    }
  };
  const writeLine = (line: string): void => {
    const text = Buffer.from(line);
    const into = file ?? open();
    for (let at = 0; at < text.length;) at += writeSync(into, text, at);
    size += text.length;
  };

  return {
    write: (line) => {
      if (lost > 0 && now() < quietUntil) {
        lost += 1;
        return;
      }
      try {
        if (size >= bytes) putAside();
        if (lost > 0)
          writeLine(
            `${JSON.stringify({ level: 50, time: now(), msg: `${lost} lines were lost: nothing could be written` })}\n`,
          );
        writeLine(line);
        lost = 0;
      } catch {
        // There is nowhere to tell it; what is lost is counted.
        lost += 1;
        quietUntil = now() + PAUSE_MS;
      }
    },
    close: () => {
      if (file !== null) closeSync(file);
      file = null;
    },
  };
}
