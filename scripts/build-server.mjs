import { readdirSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

const MIGRATIONS = 'server/src/migrations';

// What an earlier source was built to would be run with the rest.
rmSync('dist/server/migrations', { recursive: true, force: true });

await build({
  entryPoints: {
    main: 'server/src/main.ts',
    'judge-worker': 'server/src/threads/judge-worker.ts',
    'pack-worker': 'server/src/threads/pack-worker.ts',
    'sheet-worker': 'server/src/threads/sheet-worker.ts',
    // Found by their files, as they are in the sources.
    ...Object.fromEntries(
      readdirSync(MIGRATIONS)
        .filter((file) => /^\d{13}-/.test(file))
        .map((file) => [`migrations/${file.slice(0, -'.ts'.length)}`, `${MIGRATIONS}/${file}`]),
    ),
  },
  outdir: 'dist/server',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  // Our workspaces are bundled, registry packages stay outside.
  plugins: [
    {
      name: 'registry-packages',
      setup: ({ onResolve }) =>
        onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
          kind === 'entry-point' || path.startsWith('@crosspeen/') ? undefined : { path, external: true },
        ),
    },
  ],
});
