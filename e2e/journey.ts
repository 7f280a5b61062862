import {
  test as base,
  expect,
  type APIRequestContext,
  type Locator,
  type Page,
  type Request,
  type Response,
} from '@playwright/test';
import { Shop } from './shop.ts';
import { VIEWPORT } from './viewport.ts';

/**
 * A test whose page fails on any request that leaves this machine, any error on the page and any answer of 500. The
 * journeys of one worker walk on one page, so that scripts and fonts are read and compiled once and no browser process
 * is begun anew for each; every one begins signed out, with nothing remembered, on no view.
 */
export const test = base.extend<
  { ownShop: boolean; page: Page; request: APIRequestContext; baseURL: string },
  { shop: Shop; worn: Page }
>({
  /** What only reads may stand in the shop of the journey before; whatever writes has one of its own. */
  ownShop: [true, { option: true }],
  shop: [async ({}, use) => use(await Shop.open()), { scope: 'worker' }],
  baseURL: async ({ shop }, use) => use(shop.address),
  worn: [
    async ({ browser, shop }, use) => {
      // What one journey kept at hand must not answer another's.
      const context = await browser.newContext({ ...VIEWPORT, baseURL: shop.address, serviceWorkers: 'block' });
      await use(await context.newPage());
      await context.close();
    },
    { scope: 'worker' },
  ],
  request: async ({ page }, use) => use(page.request),
  page: async ({ worn: page, shop, ownShop }, use) => {
    const own = shop.address;
    if (ownShop) {
      await page.goto('about:blank');
      await shop.renew();
    }
    const astray: string[] = [];
    const asked = (request: Request): void => {
      const url = new URL(request.url());
      if (url.origin !== own && !['data:', 'blob:'].includes(url.protocol)) astray.push(`request to ${url.href}`);
    };
    const failed = (error: Error): void => {
      astray.push(`error on the page: ${error.message}`);
    };
    const answered = (response: Response): void => {
      if (response.status() >= 500) astray.push(`${response.status()} from ${response.url()}`);
    };
    // A page of the same origin that is none of the application's: what the last journey left is cleared from there.
    await page.goto('/api/health');
    await page.context().clearCookies();
    await page.evaluate(() => {
      localStorage.clear();
      sessionStorage.clear();
      indexedDB.deleteDatabase('crosspeen');
    });
    await page.setViewportSize(VIEWPORT.viewport);
    await page.emulateMedia({ colorScheme: 'light', reducedMotion: VIEWPORT.reducedMotion });
    page.on('request', asked).on('pageerror', failed).on('response', answered);
    await use(page);
    page.off('request', asked).off('pageerror', failed).off('response', answered);
    await page.unrouteAll();
    expect(astray).toEqual([]);
  },
});
export { expect };

/** Opens a choice and takes the option of that name. */
export async function choose(choice: Locator, option: string | RegExp): Promise<void> {
  await choice.click();
  await choice
    .page()
    .getByRole('option', { name: option, ...(typeof option === 'string' ? { exact: true } : {}) })
    .click();
}

export type Role = 'Mechanic' | 'Adviser' | 'Owner';

/**
 * Cookies by role of sessions that every shop knows from the beginning: only the journey about signing in does it by
 * hand.
 */
const sessions = JSON.parse(process.env['CROSSPEEN_SESSIONS'] ?? '{}') as Record<string, string>;

/**
 * Comes in as somebody who has signed in; ends on the home view, or, where another view is asked for next anyway, on
 * none yet.
 */
export async function signIn(page: Page, role: Role = 'Owner', then: 'home' | 'elsewhere' = 'home'): Promise<void> {
  const [name, value] = sessions[role.toLowerCase()]!.split('=') as [string, string];
  await page
    .context()
    .addCookies([{ name, value, domain: '127.0.0.1', path: '/', httpOnly: true, sameSite: 'Strict' }]);
  if (then === 'elsewhere') return;
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
}

export const line = (page: Page) => page.getByLabel('Engine code or plate, reading, year');

export async function lookUp(page: Page, text: string): Promise<void> {
  await line(page).fill(text);
  await line(page).press('Enter');
}

/** The row of a weak point in the facts table, its details opened. */
export async function openRow(page: Page, title: string): Promise<void> {
  const button = page.locator('button[data-row]').filter({ hasText: title });
  if ((await button.getAttribute('aria-expanded')) !== 'true') await button.click();
}

export const rowOf = (page: Page, title: string) =>
  page
    .locator('tbody')
    .filter({
      has: page
        .locator('button[data-row]')
        .filter({ hasText: new RegExp(`^\\s*${title.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`) }),
    });

/** Chance of a weak point as the table shows it, in per cent; "< 0.1 %" counts as 0. */
export async function chanceOf(page: Page, title: string): Promise<number> {
  const text = await rowOf(page, title).locator('td').nth(1).innerText();
  return text.includes('<') ? 0 : Number(/([\d.]+) %/.exec(text)![1]);
}

/** Looks an engine up and keeps it under a plate; ends on its outlook. */
export async function keepVehicle(page: Page, text: string, plate: string): Promise<void> {
  if (new URL(page.url()).pathname !== '/') await page.goto('/');
  await lookUp(page, text);
  await page.getByRole('button', { name: 'Save as a vehicle' }).click();
  await page.getByLabel('Plate', { exact: true }).fill(plate);
  await page.getByRole('button', { name: 'Save the vehicle' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(plate);
}

/**
 * From a vehicle's answer to its history; ends where the history stands. The answer stays on the screen until then, and
 * its rows speak of the same parts.
 */
export async function openHistory(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'History' }).click();
  await expect(page.getByRole('region', { name: 'Changes to the record' })).toBeVisible();
}
