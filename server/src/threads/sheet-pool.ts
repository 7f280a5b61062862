import { Readable } from 'node:stream';
import { Piscina } from 'piscina';
import type { Printer } from '../sheets/printer.ts';

export interface SheetPool extends Printer {
  readonly close: () => Promise<void>;
}

/** A thread for sheets; `file` is the built worker. It ends after a minute without work. */
export function sheetPool(file: string): SheetPool {
  const pool = new Piscina({
    filename: file,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: 512 },
    maxQueue: 100,
  });
  return {
    print: async (name, ...of) => Readable.from([Buffer.from((await pool.run({ name, of })) as Uint8Array)]),
    close: () => pool.destroy(),
  };
}
