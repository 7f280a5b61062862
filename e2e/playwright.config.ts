import { defineConfig } from '@playwright/test';
import { VIEWPORT } from './viewport.ts';

export default defineConfig({
  testDir: '.',
  outputDir: '../.state/browser-traces',
  fullyParallel: false,
  workers: 2,
  retries: 0,
  // Guards against what hangs, not measures: a machine that is busy with other things makes no journey fail.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  reporter: [['list'], ['json']],
  use: {
    ...VIEWPORT,
    // A trace of every step costs a third of the time; a picture of where it failed, with the error's own context,
    // tells nearly as much.
    trace: 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env['CROSSPEEN_CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--disable-gpu',
        // What there is to paint is painted by the processor anyway; a process of its own for it only costs.
        '--in-process-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ],
    },
  },
} as Parameters<typeof defineConfig>[0]);
