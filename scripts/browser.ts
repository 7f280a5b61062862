import { chromium, type Browser } from '@playwright/test';
import { chromiumPath } from './debian.ts';

/** How Debian's Chromium is started, for tests and screenshots: headless, and silent towards the network. */
const CHROMIUM_ARGS = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
];

export const launch = async (): Promise<Browser> =>
  chromium.launch({
    executablePath: await chromiumPath(),
    args: CHROMIUM_ARGS,
    // Who is told to stop has more to end than this.
    handleSIGHUP: false,
    handleSIGINT: false,
    handleSIGTERM: false,
  });
