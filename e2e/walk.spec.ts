import type { Browser, BrowserContext, Locator, Page } from '@playwright/test';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { chanceOf, expect, keepVehicle, rowOf, signIn, test, type Role } from './journey.ts';

const TABLET = { width: 820, height: 1180 };
const PHONE = { width: 390, height: 844 };

const card = (page: Page, title: string): Locator =>
  page.getByRole('listitem').filter({ has: page.getByRole('heading', { level: 3, name: title }) });
const found = (page: Page, title: string, result: string): Promise<void> =>
  card(page, title)
    .getByRole('group', { name: 'What was found' })
    .getByRole('button', { name: new RegExp(`^${result}`) })
    .click();
const tab = (page: Page, name: string): Locator =>
  page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name });

/** A vehicle of the engine with most to look at, and its walk. */
async function walkRound(page: Page, plate: string, line = 'QV20T 148k 2014'): Promise<string> {
  await signIn(page, 'Mechanic');
  await keepVehicle(page, line, plate);
  await tab(page, 'Walk').click();
  await expect(page.getByText('0 of')).toBeVisible();
  return new URL(page.url()).pathname;
}

/** Another device: a browser of its own, in which somebody has signed in. */
async function device(
  browser: Browser,
  baseURL: string,
  role: Role,
  viewport: { width: number; height: number } = TABLET,
  serviceWorkers: 'allow' | 'block' = 'allow',
): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext({ baseURL, viewport, reducedMotion: 'reduce', serviceWorkers });
  const page = await context.newPage();
  await signIn(page, role, 'elsewhere');
  return { context, page };
}

test('on a tablet: what is found speaks at once, is undone, and goes on a visit', async ({ page }) => {
  await page.setViewportSize(TABLET);
  await walkRound(page, 'WA 101 K');
  const places = await page.getByRole('heading', { level: 2 }).allInnerTexts();
  expect(places.indexOf('From above')).toBeLessThan(places.indexOf('Underneath, on the lift'));
  await found(page, 'Breather membrane', 'Good');
  await expect(card(page, 'Breather membrane')).toContainText('then, now');
  await found(page, 'Thermostat housing', 'Worn');
  const housing = card(page, 'Thermostat housing');
  await expect(housing).toContainText('then, now');
  await expect(page.getByText('2 of')).toBeVisible();
  const [then, now] = (await housing.innerText()).match(/[\d.]+(?= %)/g)!.map(Number);
  expect(now!).toBeGreaterThan(then!);
  await housing.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('1 of')).toBeVisible();
  await found(page, 'Thermostat housing', 'Failed');
  await housing.getByRole('link', { name: 'Put it on a visit' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('checkbox', { checked: true }).first()).toBeVisible();
  await expect(dialog).toContainText('Thermostat housing');
});

test('on a phone: nothing grave is found good by one tap; a figure out of any sense asks once', async ({ page }) => {
  await page.setViewportSize(PHONE);
  await walkRound(page, 'WA 102 K');
  await expect(page.getByRole('button', { name: /glances good|All good/ })).toHaveCount(0);
  const tensioner = card(page, 'Chain tensioner');
  await tensioner.getByLabel('Ratchet showing').fill('99');
  await tensioner.getByRole('button', { name: 'Save' }).click();
  await expect(tensioner.getByRole('alert')).toContainText('No gauge reads 99 teeth');
  await tensioner.getByLabel('Ratchet showing').fill('6');
  await tensioner.getByRole('button', { name: 'Save' }).click();
  await expect(tensioner).toContainText('Worn');
  await expect(tensioner).toContainText('6 teeth');
  await tab(page, 'History').click();
  await expect(page.getByRole('table').getByText(/Chain tensioner.*looked at, worn/)).toBeVisible();
});

test('the time there is: what is worth most stays, the rest is said; the sheet prints with its text', async ({
  page,
}) => {
  const path = await walkRound(page, 'WA 103 K');
  const all = await page.getByRole('heading', { level: 3 }).count();
  await page.getByRole('radio', { name: '20 min' }).click();
  await expect(page.getByText('Left out for time:')).toBeVisible();
  expect(await page.getByRole('heading', { level: 3 }).count()).toBeLessThan(all);
  expect(new URL(page.url()).search).toBe('?minutes=20');
  const pdf = await page.request.get(`/api${path}.pdf?minutes=20`);
  const read = await getDocument({ data: new Uint8Array(await pdf.body()), useSystemFonts: true }).promise;
  const pages = await Promise.all(
    Array.from({ length: read.numPages }, async (_, i) => (await (await read.getPage(i + 1)).getTextContent()).items),
  );
  const text = pages
    .flat()
    .map((item) => ('str' in item ? item.str : ''))
    .join(' ')
    .replace(/\s+/g, ' ');
  expect(text).toContain('WA 103 K');
  expect(text).toContain('Breather membrane tears in the valve cover');
  expect(text).toContain('Left out for time');
  expect(text).toContain('maker’s current procedure');
});

test('a place of the map shows what is there alone', async ({ page }) => {
  await walkRound(page, 'WA 104 K');
  await page.getByRole('button', { name: /^On the head/ }).click();
  const titles = await page.getByRole('heading', { level: 3 }).allInnerTexts();
  expect(titles.length).toBeGreaterThan(0);
  expect(titles.every((title) => /breather/i.test(title))).toBe(true);
  await page.getByRole('button', { name: /^On the head/ }).click();
  await expect(card(page, 'Chain tensioner')).toBeVisible();
  // On the map itself too.
  await page.locator('[data-spot=timing_end]').first().click();
  await expect(card(page, 'Breather membrane')).toHaveCount(0);
  await expect(card(page, 'Chain tensioner')).toBeVisible();
});

test('without a network: at hand, kept through a killed tab and an ended sign-in, and sent once', async ({
  page: desk,
  browser,
  baseURL,
}) => {
  const path = await walkRound(desk, 'WA 105 K');
  const { context, page } = await device(browser, baseURL, 'Adviser');
  await page.goto(path);
  await expect(card(page, 'Breather membrane')).toBeVisible();
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  // The second time the pages and the sheet come from the device.
  await page.reload();
  await expect(card(page, 'Breather membrane')).toBeVisible();
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await context.setOffline(true);
  await page.reload();
  await expect(card(page, 'Breather membrane')).toBeVisible();
  await found(page, 'Breather membrane', 'Good');
  await expect(card(page, 'Breather membrane')).toContainText('on this device');
  await found(page, 'Thermostat housing', 'Worn');
  // What is shown as kept is kept, whatever happens then.
  await expect(card(page, 'Thermostat housing')).toContainText('on this device');
  await page.close();
  const later = await context.newPage();
  await later.goto(path);
  await expect(card(later, 'Thermostat housing')).toContainText('on this device');
  await expect(later.getByText('2 entries wait on this device')).toBeVisible();
  await context.clearCookies();
  await context.setOffline(false);
  await later.reload();
  await expect(later.getByLabel('Password')).toBeVisible();
  await signIn(later, 'Adviser', 'elsewhere');
  await later.goto(path);
  await expect(card(later, 'Thermostat housing')).not.toContainText('on this device');
  await expect(card(later, 'Thermostat housing')).toContainText('then, now');
  await desk.goto(path);
  await expect(desk.getByText('2 of')).toBeVisible();
  await context.close();
});

test('two devices see each other’s ticks; where they differ, both stand beside each other until somebody decides', async ({
  page,
  browser,
  baseURL,
}) => {
  const path = await walkRound(page, 'WA 106 K');
  const other = await device(browser, baseURL, 'Owner', PHONE);
  await other.page.goto(path);
  await expect(card(other.page, 'Breather membrane')).toBeVisible();
  await found(page, 'Thermostat housing', 'Good');
  await expect(page.getByText('1 of')).toBeVisible();
  // The other has not read it yet.
  await other.context.setOffline(true);
  await expect(card(other.page, 'Breather membrane')).toBeVisible();
  await found(other.page, 'Breather membrane', 'Worn');
  await found(page, 'Breather membrane', 'Good');
  await expect(card(page, 'Breather membrane')).toContainText('then, now');
  await other.context.setOffline(false);
  await expect(card(other.page, 'Breather membrane').getByRole('alert')).toContainText('Entered on another device');
  await expect(card(other.page, 'Thermostat housing')).toContainText('Tove');
  await expect(card(page, 'Breather membrane').getByRole('alert')).toContainText('worn');
  await card(page, 'Breather membrane').getByRole('button', { name: 'Take this one' }).click();
  await expect(card(page, 'Breather membrane')).toContainText('Worn');
  await expect(card(page, 'Breather membrane').getByRole('alert')).toHaveCount(0);
  await other.context.close();
});

test('a photo goes with what was found; one that is too large, or none, is refused with the mend', async ({ page }) => {
  await walkRound(page, 'WA 107 K');
  const housing = card(page, 'Thermostat housing');
  const file = housing.locator('input[type=file]');
  await file.setInputFiles({ name: 'large.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(16_000_000) });
  await expect(page.getByRole('alert')).toContainText('at most 15 MB');
  await file.setInputFiles({ name: 'none.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no photo') });
  await expect(housing.getByRole('alert')).toContainText('JPEG, PNG or WebP');
  const saved = page.waitForEvent('download');
  await housing.getByRole('button', { name: 'Save it as a file' }).click();
  expect((await saved).suggestedFilename()).toBe('photo.jpg');
  await expect(housing.getByRole('alert')).toHaveCount(0);
  const shot = await page.screenshot({ clip: { x: 0, y: 0, width: 400, height: 300 } });
  await file.setInputFiles({ name: 'housing.png', mimeType: 'image/png', buffer: shot });
  await expect(housing.getByRole('img', { name: /Thermostat housing/ })).toBeVisible();
  await found(page, 'Thermostat housing', 'Worn');
  await expect(housing).toContainText('then, now');
  await housing.getByRole('link', { name: 'Look closer' }).click();
  await page.getByRole('button', { name: 'Looks so far' }).click();
  await expect(page.getByRole('img', { name: /Thermostat housing.* on / })).toBeVisible();
});

test('before a purchase: nothing known, nothing saved, a sheet to take along', async ({ page }) => {
  await signIn(page, 'Adviser', 'elsewhere');
  await page.goto('/?line=QV16B+160k+2010');
  await page.getByRole('link', { name: 'Walk round it' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Walk round a Vellmar QV16B');
  await expect(page.getByText('Nothing is saved here')).toBeVisible();
  await expect(page.getByText('First off:')).toHaveCount(1);
  await expect(page.getByRole('group', { name: 'What was found' })).toHaveCount(0);
  const href = await page.getByRole('link', { name: 'Print the sheet' }).getAttribute('href');
  expect((await page.request.get(href!)).headers()['content-type']).toBe('application/pdf');
});

test('a complaint: what explains it, the check that tells most, and what the repair said', async ({ page }) => {
  await walkRound(page, 'WA 108 K');
  await tab(page, 'Complaint').click();
  await page.getByLabel('What the customer reports, or a code').fill('rattle on lift-off');
  await page.getByLabel('When does it show').fill('warm');
  await page.getByRole('button', { name: 'Add it' }).click();
  const explains = page.getByRole('region', { name: 'What explains it' });
  await expect(explains.getByRole('listitem').first()).toContainText('Wastegate linkage rattles');
  const hand = page.getByRole('listitem').filter({ hasText: 'A hand on the wastegate rod' });
  await hand.getByRole('button', { name: /^Yes/ }).click();
  await expect(page.getByText('Likely enough to repair')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Checked so far' })).toContainText('A hand on the wastegate rod');
  await page.getByRole('button', { name: 'It was no', exact: true }).click();
  await expect(page.getByText('Likely enough to repair')).toHaveCount(0);
  await page.getByRole('button', { name: 'It was yes', exact: true }).click();
  await page.getByRole('button', { name: 'Repaired: it was that' }).click();
  await expect(page.getByRole('region', { name: 'Earlier' })).toContainText('Wastegate linkage rattles');
  await expect(page.getByRole('heading', { name: 'Nothing is reported yet' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo (u)' }).click();
  await expect(page.getByText('Likely enough to repair')).toBeVisible();
});

test('a complaint that must stop holds the vehicle on every screen until its cause is found', async ({ page }) => {
  await walkRound(page, 'WA 118 K', 'QV16B 60k 2021');
  await tab(page, 'Complaint').click();
  await page.getByLabel('What the customer reports, or a code').fill('spins fast');
  await page.getByRole('button', { name: 'Add it' }).click();
  const held = page.getByRole('alert').filter({ hasText: 'Do not crank it again' });
  await expect(held).toBeVisible();
  const checks = page.getByRole('region', { name: 'Next check' });
  await expect(checks.getByRole('listitem').first()).toContainText('turned by hand');
  for (const name of ['Outlook', 'Walk', 'Visits', 'History']) {
    await tab(page, name).click();
    await expect(held).toBeVisible();
  }
  // The belt carries the complaint: it is no chance of a few in a thousand any more.
  await tab(page, 'Outlook').click();
  await expect(rowOf(page, 'Timing belt breaks or strips')).toContainText('A complaint is open');
  expect(await chanceOf(page, 'Timing belt breaks or strips')).toBeGreaterThan(20);
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Vehicles' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'WA 118 K' })).toContainText('Reported: Starter spins fast');
  await page
    .getByRole('link', { name: /WA 118 K/ })
    .first()
    .click();
  await tab(page, 'Complaint').click();
  await page.getByRole('button', { name: 'Repaired: it was that' }).first().click();
  await expect(held).toHaveCount(0);
  await tab(page, 'Outlook').click();
  await expect(page.getByRole('heading', { name: /QV16B/ }).first()).toBeVisible();
  await expect(held).toHaveCount(0);
});

test('a symptom that means do not drive it says so before anything else; words of their own are kept', async ({
  page,
}) => {
  await walkRound(page, 'WA 109 K', 'DN12W 104k 2016');
  await tab(page, 'Complaint').click();
  await page.getByLabel('What the customer reports, or a code').fill('P0524');
  await page.getByRole('button', { name: 'Add it' }).click();
  const stop = page.getByRole('alert').filter({ hasText: 'Tow it in' });
  await expect(stop).toBeVisible();
  const [stopBox, tabs] = [
    await stop.boundingBox(),
    await page.getByRole('heading', { name: 'What is reported' }).boundingBox(),
  ];
  expect(stopBox!.y).toBeLessThan(tabs!.y);
  await page.getByLabel('What the customer reports, or a code').fill('Squeaks when it rains');
  await expect(page.getByText('it is kept, and explains nothing')).toBeVisible();
  await page.getByLabel('Last known without it', { exact: true }).fill('soon');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'date' })).toBeVisible();
  await expect(page.getByLabel('What the customer reports, or a code')).toHaveValue('Squeaks when it rains');
});

test('what is entered without a network is sent from another page, and every page says that it waits', async ({
  page: desk,
  browser,
  baseURL,
}) => {
  const path = await walkRound(desk, 'WA 115 K');
  // The browser itself would send it from its worker, whose requests are not cut here.
  const { context, page } = await device(browser, baseURL, 'Mechanic', TABLET, 'block');
  await page.goto(path);
  await context.route('**/api/vehicles/*/walk', (route) =>
    route.request().method() === 'POST' ? route.abort() : route.continue(),
  );
  await found(page, 'Breather membrane', 'Good');
  await found(page, 'Thermostat housing', 'Good');
  const badge = page.getByRole('button', { name: '2 to send' });
  await expect(badge).toBeVisible();
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Vehicles' }).click();
  await badge.click();
  await expect(page.getByRole('dialog')).toContainText('WA 115 K: 2 entries');
  await page.keyboard.press('Escape');
  // A reload on another page loses nothing either.
  await page.reload();
  await expect(badge).toBeVisible();
  await context.unroute('**/api/vehicles/*/walk');
  await expect(badge).toBeHidden({ timeout: 15_000 });
  await page.goto(path.replace(/walk$/, 'history'));
  await expect(page.getByRole('row').filter({ hasText: 'Breather membrane' }).first()).toContainText('good');
  await context.close();
});

test('an access point’s page is no answer: the entry waits, and only our own refusal is one', async ({
  page: desk,
  browser,
  baseURL,
}) => {
  const path = await walkRound(desk, 'WA 116 K');
  // The browser itself would send it from its worker, whose requests are not cut here.
  const { context, page } = await device(browser, baseURL, 'Mechanic', TABLET, 'block');
  await page.goto(path);
  await context.route('**/api/vehicles/*/walk', (route) =>
    route.request().method() === 'POST'
      ? route.fulfill({ status: 403, contentType: 'text/html', body: '<h1>Please accept the terms</h1>' })
      : route.continue(),
  );
  await found(page, 'Breather membrane', 'Good');
  await expect(page.getByRole('button', { name: '1 to send' })).toBeVisible();
  await expect(page.getByText('Not taken')).toBeHidden();
  await context.unroute('**/api/vehicles/*/walk');
  await expect(page.getByRole('button', { name: '1 to send' })).toBeHidden({ timeout: 15_000 });
  await expect(page.getByText('1 of')).toBeVisible();
  await context.close();
});

test('one entry that is refused keeps nothing else back; it is tried again, corrected, or handed to the desk', async ({
  page: desk,
  browser,
  baseURL,
}) => {
  const path = await walkRound(desk, 'WA 117 K');
  // The browser itself would send it from its worker, whose requests are not cut here.
  const { context, page } = await device(browser, baseURL, 'Mechanic', TABLET, 'block');
  await page.goto(path);
  // The server refuses each request that holds a worn finding, as it would a figure out of bounds.
  await context.route('**/api/vehicles/*/walk', async (route) => {
    const asked = route.request();
    if (asked.method() !== 'POST' || !asked.postData()!.includes('"worn"')) return route.continue();
    return route.fulfill({
      status: 400,
      contentType: 'application/problem+json',
      body: JSON.stringify({
        type: 'about:blank',
        title: 'Bad input',
        status: 400,
        code: 'bad_input',
        detail: 'The figure is out of bounds.',
      }),
    });
  });
  await found(page, 'Breather membrane', 'Good');
  await found(page, 'Thermostat housing', 'Worn');
  const housing = card(page, 'Thermostat housing');
  await expect(housing.getByRole('alert')).toContainText('Not taken: worn. The figure is out of bounds.');
  await expect(page.getByRole('button', { name: '▲ 1 not taken' })).toBeVisible();
  await expect(card(page, 'Breather membrane')).toContainText('Good');
  await housing.getByRole('button', { name: 'Try again' }).click();
  await expect(housing.getByRole('alert')).toContainText('Not taken');
  await housing.getByRole('button', { name: 'Hand it to the desk' }).click();
  await expect(page.getByRole('button', { name: /not taken|to send/ })).toBeHidden({ timeout: 15_000 });
  await page.getByRole('link', { name: 'Crosspeen' }).click();
  const notes = page.getByRole('region', { name: 'For the desk' });
  await expect(notes).toContainText('WA 117 K');
  await expect(notes).toContainText('Thermostat housing');
  await expect(notes).toContainText('entered as worn, and not taken: The figure is out of bounds.');
  await notes.getByRole('listitem').filter({ hasText: 'WA 117 K' }).getByRole('button', { name: 'Settled' }).click();
  await expect(notes).toBeHidden();
  await context.close();
});
