import type { Role } from '@crosspeen/contract';
import type { ApiBench } from '../bench/api.ts';
import { spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from './build.ts';
import { databaseUrl, freePort, runningCluster } from './cluster.ts';
import { baseIn, ensureDatabase } from './database.ts';
import { runningInstance } from './instance.ts';
import { ROOT, UsageError } from './places.ts';
import { withFreshServer, withThrowaway } from './throwaway.ts';

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

/** Runs a bench through the API of a fresh server, signed in with a role's demo account. */
async function throughApi<T>(role: Role, run: (bench: ApiBench) => Promise<T>): Promise<T> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  const account = DEMO_ACCOUNTS.find((one) => one.role === role)!;
  return withFreshServer('bench', (address) =>
    run({ url: databaseUrl(runningCluster('bench')!, 'crosspeen_bench'), address, account, say }),
  );
}

/** Makes a folder a disk of its own of so many megabytes; null where this user may not. */
function smallDisk(folder: string, megabytes: number): (() => void) | null {
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder]);
  return mounted.status === 0
    ? () => {
        spawnSync('umount', ['--lazy', folder]);
      }
    : null;
}

const BENCHES: Readonly<Record<string, (parts: readonly string[]) => Promise<number | void>>> = {
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
  load: async () => {
    const { loadBench } = await import('../bench/load.ts');
    return (await throughApi('owner', (options) => loadBench({ ...options, pid: runningInstance('bench')!.pid }))) === 0
      ? 0
      : 1;
  },
  planner: async () => (await import('../bench/planner.ts')).plannerBench(say),
  walk: async () => ((await throughApi('owner', (await import('../bench/walk.ts')).walkBench)) === 0 ? 0 : 1),
  calibration: async () => (await import('../bench/calibration.ts')).calibrationBench(say),
  natures: async () => {
    const [{ demoPacks }, { knownEngines }, { naturesBench }, { decisionsBench }, { DEFAULT_SETTINGS, policyOf }] =
      await Promise.all([
        import('@crosspeen/demo'),
        import('./library.ts'),
        import('../bench/natures.ts'),
        import('../bench/decisions.ts'),
        import('@crosspeen/server'),
      ]);
    const engines = await withThrowaway('bench', async (cluster) =>
      knownEngines(await ensureDatabase(baseIn(cluster), 'crosspeen_natures', true), demoPacks()),
    );
    naturesBench(engines, say);
    return decisionsBench(engines, policyOf(DEFAULT_SETTINGS), say) === 0 ? 0 : 1;
  },
  plans: async () => ((await throughApi('owner', (await import('../bench/plans.ts')).plansBench)) === 0 ? 0 : 1),
  abuse: async (parts) => {
    const [{ DEMO_ACCOUNTS }, { abuseBench, ABUSES }, { launch }] = await Promise.all([
      import('@crosspeen/demo'),
      import('../bench/abuse.ts'),
      import('./browser.ts'),
    ]);
    const isAbuse = (word: string): word is keyof typeof ABUSES => Object.hasOwn(ABUSES, word);
    const [known, unknown] = [parts.filter(isAbuse), parts.find((word) => !isAbuse(word))];
    if (unknown !== undefined)
      throw new UsageError(`There is no abuse “${unknown}”: ${Object.keys(ABUSES).join(', ')}`);
    await build();
    // A state of its own, so that nothing that anybody works with is ended.
    const folder = mkdtempSync(join(tmpdir(), 'crosspeen-abuse-'));
    // The user that PostgreSQL runs as has to get through, or its data would lie elsewhere.
    chmodSync(folder, 0o711);
    const program = join(ROOT, 'crosspeen');
    const clear = (): void => {
      for (const state of ['shop', 'first', 'disk/state']
        .map((name) => join(folder, name))
        .filter((path) => existsSync(path))) {
        spawnSync(program, ['stop'], { env: { ...process.env, CROSSPEEN_STATE: state } });
      }
      spawnSync('umount', ['--lazy', join(folder, 'disk')]);
      rmSync(folder, { recursive: true, force: true });
    };
    for (const name of ['SIGINT', 'SIGTERM'] as const) {
      process.once(name, () => {
        clear();
        process.exit(1);
      });
    }
    try {
      const failures = await abuseBench(
        { program, folder, accounts: DEMO_ACCOUNTS, smallDisk, browser: launch, say },
        [await freePort(9460), await freePort(9560), await freePort(9660)],
        new Set(known.length > 0 ? known : Object.keys(ABUSES).filter(isAbuse)),
      );
      return failures === 0 ? 0 : 1;
    } finally {
      clear();
    }
  },
};

/**
 * Figures on a throwaway database, as ratios inside one run; answers the exit code, 1 where a bench that must find
 * nothing found something.
 */
export async function bench(name: string, parts: readonly string[] = []): Promise<number> {
  if (!Object.hasOwn(BENCHES, name))
    throw new UsageError(
      `There is no bench “${name}”: ${Object.keys(BENCHES)
        .map((known) => `./crosspeen bench ${known}`)
        .join(', ')}`,
    );
  if (parts.length > 0 && name !== 'abuse')
    throw new UsageError(
      `./crosspeen bench ${name} takes nothing after it; “${parts.join(' ')}” is not understood, and nothing was done.`,
    );
  return (await BENCHES[name]!(parts)) ?? 0;
}
