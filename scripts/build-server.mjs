import { build } from 'esbuild';

await build({
  entryPoints: {
    main: 'server/src/main.ts',
    'judge-worker': 'server/src/threads/judge-worker.ts',
    'pack-worker': 'server/src/threads/pack-worker.ts',
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
