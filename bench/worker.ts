import { build } from 'esbuild';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';

/**
 * A worker of this folder, bundled to JavaScript first: a thread reads no TypeScript. `folder` is where that goes.
 * Answers how to begin one with some data.
 */
export async function workerOf(name: string, folder: string): Promise<(data: unknown) => Worker> {
  const file = join(folder, `${name}.mjs`);
  await build({
    entryPoints: [join(import.meta.dirname, `${name}.ts`)],
    outfile: file,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'error',
  });
  return (data) => new Worker(file, { workerData: data });
}
