/** This command was told to stop, by Ctrl-C, a kill or a terminal that is closed. */
export class Interrupted extends Error {
  /** What a shell answers for it: 128 and the number of the signal. */
  constructor(readonly exitCode: number) {
    super('Stopped.');
  }
}

const CODES = { SIGHUP: 129, SIGINT: 130, SIGTERM: 143 } as const;
let told: Promise<never> | null = null;

/** Rejects with Interrupted once this command is told to stop: from the first call on that alone ends it no more. */
function untilTold(): Promise<never> {
  told ??= new Promise<never>((_, reject) => {
    for (const [name, code] of Object.entries(CODES)) process.on(name, () => reject(new Interrupted(code)));
  });
  // Who waits for something else at the moment hears of it later.
  told.catch(() => undefined);
  return told;
}

/** What `work` comes to, or Interrupted as soon as this command is told to stop: who began something then ends it. */
export const orInterrupted = <T>(work: Promise<T>): Promise<T> => Promise.race([untilTold(), work]);
