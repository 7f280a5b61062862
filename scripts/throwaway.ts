import { build } from './build.ts';
import { startCluster, stopCluster } from './cluster.ts';
import { baseIn, ensureDatabase } from './database.ts';
import { choosePort, startInstance, stopInstance } from './instance.ts';

/** The day on which tests and screenshots stand still. */
export const FIXED_NOW = '2026-11-24';

/**
 * Runs `work` against a freshly seeded server on a throwaway database, at a fixed day, and stops everything afterwards.
 */
export async function withFreshServer<T>(
  name: string,
  work: (address: string) => Promise<T>,
  env: Record<string, string> = {},
): Promise<T> {
  const [{ seedDemo }, cluster] = await Promise.all([import('./seed.ts'), startCluster('test'), build()]);
  try {
    const url = await ensureDatabase(baseIn(cluster), `crosspeen_${name}`, true);
    await seedDemo(url, FIXED_NOW);
    const server = await startInstance(name, url, await choosePort(undefined), {
      env: { CROSSPEEN_NOW: FIXED_NOW, CROSSPEEN_LOG: 'warn', ...env },
    });
    return await work(`http://127.0.0.1:${server.port}`);
  } finally {
    await stopInstance(name);
    await stopCluster('test');
  }
}
