import { DEMO_ACCOUNTS } from '@crosspeen/demo';
import { databaseUrl, runningCluster } from './cluster.ts';
import { runningInstance } from './instance.ts';
import { UserError } from './places.ts';
import { withFreshServer } from './throwaway.ts';

const say = (line: string): void => { process.stdout.write(`${line}\n`); };

const BENCHES: Readonly<Record<string, () => Promise<void>>> = {
  lookup: async () => {
    const { lookupBench } = await import('../bench/lookup.ts');
    await withFreshServer('bench', (address) => lookupBench({ url: databaseUrl(runningCluster('test')!, 'crosspeen_bench'), address, account: DEMO_ACCOUNTS[0]!, say }));
  },
  risk: async () => {
    const { fleetBench, kernelBench } = await import('../bench/risk.ts');
    await kernelBench(say);
    // The owner's account: a mechanic may not have the whole fleet judged.
    await withFreshServer('bench', (address) => fleetBench({ url: databaseUrl(runningCluster('test')!, 'crosspeen_bench'), address, account: DEMO_ACCOUNTS[2]!, say }));
  },
  intake: async () => {
    const { intakeBench } = await import('../bench/intake.ts');
    await withFreshServer('bench', (address) => intakeBench({ url: databaseUrl(runningCluster('test')!, 'crosspeen_bench'), address, account: DEMO_ACCOUNTS[2]!, say, pid: runningInstance('bench')!.pid }));
  },
  calibration: async () => (await import('../bench/calibration.ts')).calibrationBench(say),
};

/** Figures on a throwaway database, as ratios inside one run. */
export async function bench(args: string[] = []): Promise<number> {
  const [name] = args;
  if (name === undefined || !Object.hasOwn(BENCHES, name)) throw new UserError(`Name a bench: ${Object.keys(BENCHES).map((known) => `./crosspeen bench ${known}`).join(', ')}`);
  await BENCHES[name]!();
  return 0;
}
