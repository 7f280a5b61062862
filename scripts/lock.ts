import { createHash } from 'node:crypto';
import { createServer } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { STATE } from './places.ts';

export interface Lock {
  readonly release: () => Promise<void>;
}

/**
 * Takes a lock, or null when another process holds it. It is a socket of the kernel's own name space (Linux), so that
 * it ends with its owner, however that ends, and no file is left to be believed.
 */
export function tryLock(name: string): Promise<Lock | null> {
  const address = `\0crosspeen-${createHash('sha256').update(`${STATE} ${name}`).digest('hex').slice(0, 32)}`;
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE') resolve(null);
      else reject(error);
    });
    server.listen(address, () => {
      server.unref();
      resolve({
        release: () =>
          new Promise((released) => {
            server.close(() => released());
          }),
      });
    });
  });
}

/** Runs `work` while holding a lock; waits for whoever holds it. */
export async function locked<T>(name: string, work: () => Promise<T>): Promise<T> {
  let lock = await tryLock(name);
  while (lock === null) {
    await sleep(100);
    lock = await tryLock(name);
  }
  try {
    return await work();
  } finally {
    await lock.release();
  }
}
