import { build } from './build.ts';
import { startCluster, stopCluster } from './cluster.ts';
import { baseIn, ensureDatabase } from './database.ts';
import { choosePort, startInstance, stopInstance } from './instance.ts';

/** The day on which tests and screenshots stand still. */
export const FIXED_NOW = '2026-11-24';

/**
 * Runs `work` against a freshly seeded server on a throwaway database, at a fixed day, and stops everything afterwards.
 * The second thing it is given opens a shop beside it that is not set up yet.
 */
export async function withFreshServer<T>(
  name: string,
  work: (address: string, openEmpty: () => Promise<string>) => Promise<T>,
  env: Record<string, string> = {},
): Promise<T> {
  const [{ seedDemo }, cluster] = await Promise.all([import('./seed.ts'), startCluster('test'), build()]);
  try {
    const url = await ensureDatabase(baseIn(cluster), `crosspeen_${name}`, true);
    await seedDemo(url, FIXED_NOW);
    const server = await startInstance(name, url, await choosePort(undefined), {
      env: { CROSSPEEN_NOW: FIXED_NOW, CROSSPEEN_LOG: 'warn', ...env },
    });
    const openEmpty = async (): Promise<string> => {
      const empty = await ensureDatabase(baseIn(cluster), `crosspeen_${name}_empty`, true);
      await (await import('./own-shop.ts')).prepareShop(empty);
      const { port } = await startInstance(`${name}-empty`, empty, await choosePort(undefined), {
        env: { CROSSPEEN_NOW: FIXED_NOW, CROSSPEEN_LOG: 'warn', ...env },
      });
      return `http://127.0.0.1:${port}`;
    };
    return await work(`http://127.0.0.1:${server.port}`, openEmpty);
  } finally {
    await stopInstance(name);
    await stopInstance(`${name}-empty`);
    await stopCluster('test');
  }
}
