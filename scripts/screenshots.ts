import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { launch } from './browser.ts';
import { ROOT, UsageError, userPath } from './places.ts';
import { withFreshServer } from './throwaway.ts';

interface Shot {
  readonly name: string;
  readonly path: string;
  readonly size?: { width: number; height: number };
  readonly dark?: boolean;
  /** Of a shop that is not set up yet. */
  readonly empty?: boolean;
  readonly before?: (page: Page) => Promise<void>;
}

const open =
  (plate: string, view: string) =>
  async (page: Page): Promise<void> => {
    await page.goto(`${new URL(page.url()).origin}/vehicles?q=${encodeURIComponent(plate)}`);
    await page.getByRole('link', { name: plate }).first().click();
    await page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name: view }).click();
    await page.waitForLoadState('networkidle');
  };

const PHONE = { width: 390, height: 844 };

/** A weak point as it is being written. */
async function writeOne(page: Page): Promise<void> {
  await page.getByLabel('Engine', { exact: true }).click();
  await page.getByRole('option', { name: 'Dunmarrow DN12W' }).click();
  await page.getByLabel('Component', { exact: true }).fill('Thermostat housing');
  await page.getByLabel('What goes wrong').fill('Thermostat housing leaks at the gearbox side');
  await page.getByLabel('When it mostly fails').fill('70-140k km; 7-12y');
  await page.getByLabel('How many fail by then').click();
  await page.getByRole('option', { name: /^many/ }).click();
  await page.getByLabel('Minutes to renew').fill('95');
  await page
    .getByLabel('What then happens')
    .fill('It loses coolant onto the gearbox and runs hot on the next long climb.');
  await page
    .getByLabel('What tells, before or then')
    .fill('A dried trail below the housing, sweet smell after parking.');
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(600);
}

/** One picture of each main view, made from the demo data. */
const SHOTS: readonly Shot[] = [
  {
    name: 'set-up',
    path: '/',
    empty: true,
    before: async (page) => {
      await page.getByLabel('Code').fill('7KQM-3RTX');
      await page.getByLabel('Name of the workshop').fill('Tarred Quay Garage');
      await page.getByLabel('Labour, an hour').fill('88');
      await page.getByLabel('Tax, %').fill('21');
      await page.getByLabel('Your name').fill('Marit Dunne');
    },
  },
  { name: 'lookup-home', path: '/' },
  { name: 'lookup-answer', path: '/?line=QV20T+148k+2013' },
  { name: 'lookup-phone', path: '/?line=DN12W+104k+2016', size: PHONE },
  { name: 'vehicles', path: '/vehicles' },
  { name: 'vehicle-outlook', path: '/vehicles', before: open('PM 482 KX', 'Outlook') },
  {
    name: 'walk',
    path: '/vehicles',
    before: async (page) => {
      await open('PM 482 KX', 'Walk')(page);
      const found = (title: string, result: RegExp): Promise<void> =>
        page
          .getByRole('listitem')
          .filter({ has: page.getByRole('heading', { level: 3, name: title }) })
          .getByRole('button', { name: result })
          .click();
      await found('Breather membrane', /^Good/);
      await found('Thermostat housing', /^Worn/);
      await page.getByText('then, now').nth(1).waitFor();
      await page.evaluate(() => window.scrollBy(0, 620));
      await page.waitForTimeout(500);
    },
  },
  {
    name: 'complaint',
    path: '/vehicles',
    before: async (page) => {
      await open('PM 482 KX', 'Complaint')(page);
      await page.getByLabel('What the customer reports, or a code').fill('Rattle on lift-off');
      await page.getByLabel('When does it show').fill('warm');
      await page.getByRole('button', { name: 'Add it' }).click();
      await page.getByRole('heading', { name: 'What to check next' }).waitFor();
      await page.waitForTimeout(9000);
    },
  },
  { name: 'vehicle-history', path: '/vehicles', before: open('PM 904 SG', 'History') },
  {
    name: 'visit-planning',
    path: '/vehicles',
    before: async (page) => {
      await open('PM 228 BW', 'Outlook')(page);
      await page.keyboard.press('v');
      await page.getByRole('checkbox').first().check();
    },
  },
  {
    name: 'planner',
    path: '/vehicles',
    before: async (page) => {
      await open('PM 482 KX', 'Visits')(page);
      const proposed = page.getByRole('region', { name: 'Proposed visits' });
      await proposed.getByText(/No other plan costs less|above the best there can be\./).waitFor();
      await page.getByRole('heading', { name: 'Proposed visits' }).evaluate((heading) => {
        window.scrollTo(0, heading.getBoundingClientRect().top + window.scrollY - 16);
      });
      await page.waitForTimeout(300);
    },
  },
  {
    name: 'purchase',
    path: '/purchase?line=QV16B+165k+2011&price=420000',
    before: async (page) => {
      await page.getByRole('heading', { name: 'Ask the seller' }).waitFor();
    },
  },
  { name: 'week', path: '/week' },
  { name: 'bench', path: '/bench' },
  {
    name: 'bench-point',
    path: '/bench?q=thermostat+qv20t',
    before: async (page) => {
      await page.getByRole('row').nth(1).getByRole('link').click();
      await page.waitForLoadState('networkidle');
      await page.waitForTimeout(500);
    },
  },
  {
    name: 'library-notice',
    path: '/library?shelf=notices',
    before: async (page) => {
      await page.getByRole('link', { name: /Thermostat housings/ }).click();
      await page.getByRole('heading', { name: 'Affected vehicles' }).waitFor();
      await page.waitForLoadState('networkidle');
    },
  },
  {
    name: 'library-point',
    path: '/library?q=QV20T+thermostat',
    before: async (page) => {
      await page.getByRole('row').nth(1).getByRole('link').click();
      await page.getByRole('heading', { name: 'What is known' }).waitFor();
    },
  },
  {
    name: 'library-write',
    path: '/library/write',
    before: async (page) => {
      await writeOne(page);
    },
  },
  {
    name: 'settings',
    path: '/settings',
    before: async (page) => {
      await page.waitForTimeout(400);
      await page.evaluate(() => window.scrollTo(0, 430));
    },
  },
];

/** Makes `docs/screenshots` anew; `wanted` names make just those, `to` puts them elsewhere. */
export async function screenshots(wanted: readonly string[] = [], to?: string): Promise<number> {
  const unknown = wanted.find((name) => !SHOTS.some((shot) => shot.name === name));
  if (unknown !== undefined)
    throw new UsageError(`There is no picture “${unknown}”: ${SHOTS.map(({ name }) => name).join(', ')}`);
  const folder = to === undefined ? join(ROOT, 'docs/screenshots') : userPath(to);
  mkdirSync(folder, { recursive: true });
  return withFreshServer('screenshots', async (demo, openEmpty) => {
    const browser = await launch();
    try {
      for (const shot of SHOTS.filter(({ name }) => wanted.length === 0 || wanted.includes(name))) {
        const context = await browser.newContext({
          viewport: shot.size ?? { width: 1280, height: 800 },
          colorScheme: shot.dark ? 'dark' : 'light',
          reducedMotion: 'reduce',
        });
        const page = await context.newPage();
        const address = shot.empty ? await openEmpty() : demo;
        await page.goto(address);
        if (shot.empty) await shot.before?.(page);
        else {
          await page.getByRole('button', { name: /owner/i }).click();
          await page.getByRole('button', { name: 'Sign out' }).waitFor();
          await page.goto(`${address}${shot.path}`);
          await page.waitForLoadState('networkidle');
          await shot.before?.(page);
        }
        await page.waitForLoadState('networkidle');
        // A view within the page is no new page: what it still fetches or draws tells by its words.
        await page.waitForFunction(() => !/(Fetching|Drawing) [^\n]*…/.test(document.body.innerText));
        await page.evaluate(() => document.fonts.ready);
        await page.screenshot({ path: join(folder, `${shot.name}.png`) });
        await context.close();
        process.stdout.write(`${shot.name}\n`);
      }
    } finally {
      await browser.close();
    }
    return 0;
  });
}
