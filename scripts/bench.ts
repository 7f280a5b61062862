import type { Role } from '@crosspeen/contract';
import type { ApiBench } from '../bench/api.ts';
import { databaseUrl, runningCluster, startCluster, stopCluster } from './cluster.ts';
import { ensureDatabase } from './database.ts';
import { runningInstance } from './instance.ts';
import { UsageError } from './places.ts';
import { withFreshServer } from './throwaway.ts';

const say = (line: string): void => { process.stdout.write(`${line}\n`); };

/** Runs a bench through the API of a fresh server, signed in with a role's demo account. */
async function throughApi(role: Role, run: (bench: ApiBench) => Promise<void>): Promise<void> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  const account = DEMO_ACCOUNTS.find((one) => one.role === role)!;
  await withFreshServer('bench', (address) => run({ url: databaseUrl(runningCluster('test')!, 'crosspeen_bench'), address, account, say }));
}

const BENCHES: Readonly<Record<string, () => Promise<void>>> = {
  lookup: async () => throughApi('mechanic', (await import('../bench/lookup.ts')).lookupBench),
  risk: async () => {
    const { fleetBench, kernelBench } = await import('../bench/risk.ts');
    await kernelBench(say);
    // A mechanic may not have the whole fleet judged.
    await throughApi('owner', fleetBench);
  },
  intake: async () => {
    const { intakeBench } = await import('../bench/intake.ts');
    await throughApi('owner', (options) => intakeBench({ ...options, pid: runningInstance('bench')!.pid }));
  },
  calibration: async () => (await import('../bench/calibration.ts')).calibrationBench(say),
  natures: async () => {
    const [{ demoPacks }, { knownEngines }, { naturesBench }] = await Promise.all([import('@crosspeen/demo'), import('./library.ts'), import('../bench/natures.ts')]);
    const cluster = await startCluster('test');
    try {
      naturesBench(await knownEngines(await ensureDatabase(cluster, 'crosspeen_natures', true), demoPacks()), say);
    } finally {
      await stopCluster('test');
    }
  },
};

/** Figures on a throwaway database, as ratios inside one run. */
export async function bench(name: string): Promise<number> {
  if (!Object.hasOwn(BENCHES, name)) throw new UsageError(`There is no bench “${name}”: ${Object.keys(BENCHES).map((known) => `./crosspeen bench ${known}`).join(', ')}`);
  await BENCHES[name]!();
  return 0;
}
