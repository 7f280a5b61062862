import { DEMO_ACCOUNTS } from '@crosspeen/demo';
import { databaseUrl, runningCluster } from './cluster.ts';
import { UserError } from './places.ts';
import { withFreshServer } from './throwaway.ts';

/** Speed figures on a throwaway database, as ratios inside one run. */
export async function bench(args: string[] = []): Promise<number> {
  if (args[0] !== 'lookup') throw new UserError('Name a bench: ./crosspeen bench lookup');
  const { lookupBench } = await import('../bench/lookup.ts');
  await withFreshServer('bench', (address) => lookupBench({
    url: databaseUrl(runningCluster('test')!, 'crosspeen_bench'), address, account: DEMO_ACCOUNTS[0]!, say: (line) => process.stdout.write(`${line}\n`),
  }));
  return 0;
}
