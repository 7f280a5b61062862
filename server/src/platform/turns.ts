import { Problem } from './problem.ts';

/**
 * Work of which only so much is done at once: the rest waits its turn, and where too many wait already it is refused.
 */
export class Turns {
  private running = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(
    private readonly atOnce: number,
    private readonly mostWaiting: number,
  ) {}

  /** Runs `work` when its turn comes. Throws busy when too many wait. */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.running >= this.atOnce) {
      if (this.waiting.length >= this.mostWaiting) throw new Problem('busy');
      await new Promise<void>((turn) => {
        this.waiting.push(turn);
      });
    } else this.running += 1;
    try {
      return await work();
    } finally {
      // Whoever waits longest takes this place as it is.
      const next = this.waiting.shift();
      if (next) next();
      else this.running -= 1;
    }
  }
}
