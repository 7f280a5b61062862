import { build } from './build.ts';
import { endThrowaway, startCluster, type Cluster } from './cluster.ts';
import { baseIn, ensureDatabase } from './database.ts';
import { choosePort, startInstance, stopInstance } from './instance.ts';
import { orInterrupted } from './interrupt.ts';

/** The day on which tests and screenshots stand still. */
export const FIXED_NOW = '2026-11-24';

/**
 * Runs `work` with the PostgreSQL of tests or of figures, and stops it afterwards, also where this command is told to
 * stop while it starts.
 */
export async function withThrowaway<T>(kind: 'test' | 'bench', work: (cluster: Cluster) => Promise<T>): Promise<T> {
  const starting = startCluster(kind);
  try {
    return await work(await orInterrupted(starting));
  } finally {
    await starting.catch(() => undefined);
    await endThrowaway(kind);
  }
}

/**
 * Runs `work` against a freshly seeded server on a throwaway database, at a fixed day, and stops everything afterwards.
 * The second thing it is given opens a shop beside it that is not set up yet.
 */
export async function withFreshServer<T>(
  name: string,
  work: (address: string, openEmpty: () => Promise<string>) => Promise<T>,
  env: Record<string, string> = {},
): Promise<T> {
  const begin = async (cluster: Cluster): Promise<T> => {
    const [{ seedDemo }] = await orInterrupted(Promise.all([import('./seed.ts'), build()]));
    const url = await ensureDatabase(baseIn(cluster), `crosspeen_${name}`, true);
    await orInterrupted(seedDemo(url, FIXED_NOW));
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
    return orInterrupted(work(`http://127.0.0.1:${server.port}`, openEmpty));
  };
  return withThrowaway('bench', async (cluster) => {
    try {
      return await begin(cluster);
    } finally {
      await stopInstance(name);
      await stopInstance(`${name}-empty`);
    }
  });
}
