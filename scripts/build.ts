import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { ROOT } from './places.ts';
import { runQuiet } from './run.ts';

const SOURCES = ['core/src', 'contract/src', 'server/src', 'web', 'package-lock.json', 'scripts/build-server.mjs'];

function fingerprint(): string {
  const hash = createHash('sha256');
  const visit = (path: string): void => {
    const stat = statSync(path);
    if (!stat.isDirectory()) {
      hash.update(path).update(readFileSync(path));
      return;
    }
    for (const name of readdirSync(path).sort())
      if (name !== 'node_modules' && name !== 'dist' && !/\.test\.tsx?$/.test(name)) visit(join(path, name));
  };
  for (const source of SOURCES) visit(join(ROOT, source));
  return hash.digest('hex');
}

/** Lays a compressed copy beside every text file, which the server sends to browsers that take it. */
function compress(folder: string): void {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) compress(path);
    else if (/\.(js|css|svg|html)$/.test(name)) writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: 9 }));
  }
}

/** Builds server and interface into `dist/`, unless they are built from just these sources. */
export async function build(): Promise<void> {
  const stamp = join(ROOT, 'dist/stamp');
  const now = fingerprint();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  process.stderr.write('Building ...\n');
  await Promise.all([
    runQuiet(process.execPath, ['scripts/build-server.mjs'], { cwd: ROOT }),
    runQuiet(process.execPath, ['node_modules/vite/bin/vite.js', 'build', 'web', '--logLevel', 'warn'], { cwd: ROOT }),
  ]);
  compress(join(ROOT, 'dist/web'));
  writeFileSync(stamp, now);
}
