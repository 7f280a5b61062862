import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { chromiumPath } from './debian.ts';
import { databaseUrl } from './cluster.ts';
import { ROOT, STATE, UsageError } from './places.ts';
import { runToTheEnd } from './run.ts';
import { withShops } from './shops.ts';
import { withThrowaway } from './throwaway.ts';

interface Count {
  passed: number;
  failed: number;
}
const RESULTS = join(STATE, 'results');

const bin = (path: string): string => join(ROOT, 'node_modules', path);
const node = (args: string[], env: Record<string, string> = {}, signal?: AbortSignal): Promise<number> =>
  runToTheEnd(process.execPath, args, { cwd: ROOT, env: { ...process.env, ...env }, ...(signal ? { signal } : {}) });

/** Minutes without a test file that ends, after which the run stands still: the longest file takes one. */
const STILL_MINUTES = 5;
/** A run that stands still is begun anew so often. */
const MOST_RUNS = 2;

/** Runs the unit tests; a run that stands still is begun anew, and fails when it stands still again. */
async function runUnits(args: string[], env: Record<string, string>): Promise<number> {
  const beat = join(RESULTS, 'beat');
  for (let run = 1; run <= MOST_RUNS; run += 1) {
    const still = new AbortController();
    writeFileSync(beat, '');
    const watch = setInterval(() => {
      if (Date.now() - statSync(beat).mtimeMs > STILL_MINUTES * 60_000) still.abort();
    }, 5000);
    try {
      return await node(args, { ...env, CROSSPEEN_BEAT: beat }, still.signal);
    } catch (error) {
      if (!still.signal.aborted) throw error;
      process.stderr.write(
        `The unit tests stood still for ${STILL_MINUTES} minutes${run < MOST_RUNS ? '; they begin anew' : ''}.\n`,
      );
    } finally {
      clearInterval(watch);
    }
  }
  return 1;
}

async function unit(args: string[]): Promise<Count & { code: number }> {
  const file = join(RESULTS, 'unit.json');
  const code = await withThrowaway('test', (cluster) =>
    runUnits(
      [
        ...['--import', 'tsx', '--import', pathToFileURL(join(ROOT, 'scripts/early-words.mjs')).href],
        ...[bin('jest/bin/jest.js'), '--ci', '--maxWorkers=2', '--json', `--outputFile=${file}`],
        ...args,
      ],
      { CROSSPEEN_TEST_PG: databaseUrl(cluster, 'postgres') },
    ),
  );
  const report = existsSync(file)
    ? (JSON.parse(readFileSync(file, 'utf8')) as { numPassedTests: number; numFailedTests: number })
    : null;
  return { code, passed: report?.numPassedTests ?? 0, failed: report?.numFailedTests ?? 1 };
}

async function browser(args: string[]): Promise<Count & { code: number }> {
  const chromium = await chromiumPath();
  const file = join(RESULTS, 'browser.json');
  const code = await withShops((environment) =>
    node([bin('@playwright/test/cli.js'), 'test', '--config', 'e2e/playwright.config.ts', ...args], {
      ...environment,
      CROSSPEEN_CHROMIUM: chromium,
      PLAYWRIGHT_JSON_OUTPUT_FILE: file,
    }),
  );
  const stats = existsSync(file)
    ? (JSON.parse(readFileSync(file, 'utf8')) as { stats: { expected: number; unexpected: number; flaky: number } })
        .stats
    : null;
  return { code, passed: stats?.expected ?? 0, failed: stats === null ? 1 : stats.unexpected + stats.flaky };
}

const check = async (args: string[]): Promise<Count & { code: number }> => {
  const code = await node(args);
  return { code, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
};

const cached = (tool: string): string[] => ['--cache', '--cache-location', `.cache/${tool}/cache`];

/** Every part of the tests by name, in the order they run. */
const PARTS: Readonly<Record<string, (args: string[]) => Promise<Count & { code: number }>>> = {
  types: () => check([bin('typescript-native/bin/tsc'), '--noEmit', '-p', 'tsconfig.json']),
  boundaries: () =>
    check([
      bin('dependency-cruiser/bin/dependency-cruise.mjs'),
      '--config',
      '.dependency-cruiser.cjs',
      'core/src',
      'door/src',
      'contract/src',
      'server/src',
      'web/src',
      'demo/src',
      'e2e',
      'bench',
      'scripts',
    ]),
  layout: () => check([bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', ...cached('prettier'), '.']),
  lint: () => check([bin('eslint/bin/eslint.js'), ...cached('eslint'), '.']),
  unit,
  browser,
};

/** What only reads the sources runs side by side; the rest takes all cores for itself. */
const TOGETHER: readonly (readonly string[])[] = [['types', 'boundaries', 'layout', 'lint'], ['unit'], ['browser']];

/** Runs all parts of the tests, or the one named, and prints how many passed. */
export async function test(args: string[] = []): Promise<number> {
  const [name, ...rest] = args;
  if (name !== undefined && !Object.hasOwn(PARTS, name))
    throw new UsageError(`There is no test part “${name}”; there are ${Object.keys(PARTS).join(', ')}.`);
  rmSync(RESULTS, { recursive: true, force: true });
  mkdirSync(RESULTS, { recursive: true });
  const total = { passed: 0, failed: 0 };
  const runPart = async (part: string): Promise<void> => {
    const began = performance.now();
    process.stdout.write(`\n== ${part}\n`);
    const { code, passed, failed } = await PARTS[part]!(rest);
    total.passed += passed;
    total.failed += failed > 0 || code === 0 ? failed : 1;
    process.stdout.write(
      `${part}: ${code === 0 ? 'passed' : 'FAILED'}, ${((performance.now() - began) / 1000).toFixed(0)} s\n`,
    );
  };
  for (const together of name === undefined ? TOGETHER : [[name]]) await Promise.all(together.map(runPart));
  process.stdout.write(`\n${total.passed} passed, ${total.failed} failed\n`);
  return total.failed === 0 ? 0 : 1;
}
