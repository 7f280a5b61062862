import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

/** Whether a file lies in one of these folders or packages. */
const within = (...names: string[]): RegExp => new RegExp(`/(${names.join('|')})/`);

/**
 * What an endpoint's summary says is for the published description of the API; no screen shows it, and a browser need
 * not load it.
 */
const withoutSummaries = (): Plugin => ({
  name: 'without-summaries',
  transform: (code, id) =>
    /\/contract\/src\/endpoints\//.test(id)
      ? { code: code.replace(/\bsummary: (?:'[^'\n]*'|"[^"\n]*")/g, "summary: ''"), map: null }
      : null,
});

export default defineConfig({
  plugins: [
    withoutSummaries(),
    react(),
    tailwind(),
    VitePWA({
      registerType: 'autoUpdate',
      // Registered where a walk is opened, and nowhere else.
      injectRegister: false,
      includeAssets: ['mark.svg'],
      manifest: {
        name: 'Crosspeen',
        short_name: 'Crosspeen',
        description: 'What gives way next on this engine, at this mileage, with this history',
        start_url: '/vehicles',
        display: 'standalone',
        background_color: '#f6f1e7',
        theme_color: '#0a6266',
        icons: [{ src: 'mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      // A worker of our own: it also sends what waits on a device whose pages are closed.
      strategies: 'injectManifest',
      srcDir: 'src/offline',
      filename: 'worker.ts',
      injectManifest: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        // What only charts and long lists of the desk need is fetched when it is asked for.
        globIgnores: ['**/chart-*.js', '**/*latin-ext*'],
      },
    }),
  ],
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 800,
    rollupOptions: {
      // A schema that no screen asks for need not be sent.
      treeshake: { manualPureFunctions: ['z'] },
      output: {
        // What most screens share comes in two files: on a slow connection some fifty small ones wait for their turn.
        codeSplitting: {
          groups: [
            {
              name: 'base',
              priority: 2,
              test: within('react', 'react-dom', 'react-router', 'scheduler', '@tanstack', 'zod', 'sonner'),
            },
            {
              name: 'shared',
              priority: 1,
              minShareCount: 4,
              test: within('(core|contract|web)/src', 'lucide-react', 'radix-ui', '@radix-ui', '@floating-ui'),
            },
          ],
        },
      },
    },
  },
});
