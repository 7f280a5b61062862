import type { Page } from '@playwright/test';
import { chanceOf, expect, keepVehicle, lookUp, openRow, rowOf, signIn, test } from './journey.ts';

const BELT = 'Timing belt breaks or strips';
const verdictOf = (page: Page, title: string) => rowOf(page, title).locator('td').first();
/** Asks a line with what is known besides, as its address says it. */
const ask = (page: Page, line: string, know = ''): Promise<unknown> =>
  page.goto(`/?${new URLSearchParams({ line, ...(know ? { know } : {}) }).toString()}`);

test.beforeEach(({ page }) => signIn(page, 'Mechanic'));

test('the belt it was built with, 20 years old, valves that hit the pistons: renewed or held, likelier every year', async ({
  page,
}) => {
  let before = 0;
  for (const line of ['QV16B 190k 2010', 'QV16B 220k 2008', 'QV16B 250k 2006']) {
    await ask(page, line, 'history:vl-belt=never');
    await expect(verdictOf(page, BELT)).toHaveText(/Renew|Hold/);
    const chance = await chanceOf(page, BELT);
    expect(chance).toBeGreaterThan(before);
    before = chance;
  }
  expect(before).toBeGreaterThan(40);
});

test('the belt of valves that clear the pistons: it stops on the road, and the engine lives', async ({ page }) => {
  await ask(page, 'K425N 230k 2004', 'history:k4-belt=never');
  const title = 'Timing belt breaks';
  await expect(verdictOf(page, title)).toHaveText(/Renew/);
  await expect(rowOf(page, title)).toContainText('it stops on the road');
  await openRow(page, title);
  await expect(rowOf(page, title)).not.toContainText('valves (');
});

test('a chain of which nobody knows, no noise: listen and measure before anybody opens it', async ({ page }) => {
  await lookUp(page, 'QV20T 148k 2013');
  await expect(verdictOf(page, 'Chain tensioner slackens')).toHaveText(/Look/);
  await expect(verdictOf(page, 'Timing chain stretched')).not.toHaveText(/Renew|Hold/);
});

test('2,500 km a year: the forecast says about 2,500, and the years decide', async ({ page }) => {
  await lookUp(page, 'QV16B 37k 2011');
  await expect(page.getByRole('region', { name: 'Strip' })).toContainText('About 2,500 km a year');
  await expect(verdictOf(page, BELT)).toHaveText(/Renew/);
  await expect(rowOf(page, BELT)).toContainText(/Overdue by .*years/);
});

test('a fault that only early ones were built with, 300,000 km, never showed: behind it, with the check that rules it out', async ({
  page,
}) => {
  await ask(page, 'OD420K 300k 2012', 'history:od-egr-cooler=never');
  await page.getByText(/do not apply, and why/).click();
  const faded = page.getByRole('listitem').filter({ hasText: 'EGR cooler' });
  await expect(faded).toContainText('Behind it');
  await expect(faded).toContainText('To rule it out: Cold: pressure decay');
});

test('a belt job that is asked for takes an old pump along, for so many minutes more; a new one is left alone', async ({
  page,
}) => {
  const pump = 'Water pump bearing wears and leaks';
  await ask(page, 'QV16B 190k 2010', 'history:vl-belt=never;history:vl-pump16=never');
  await expect(verdictOf(page, pump)).toHaveText(/Ride along|Renew/);
  await keepVehicle(page, 'QV16B 190k 2010', 'CS 401 K');
  await openRow(page, pump);
  await page.getByRole('button', { name: 'Was it renewed?' }).click();
  await page.getByLabel('On the date', { exact: true }).fill('-6m');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rowOf(page, pump)).toContainText('Renewed on');
  await expect(verdictOf(page, pump)).toHaveText(/Run on/);
});

test('a hose older than its years, little distance: age alone is enough', async ({ page }) => {
  await ask(page, 'QV09S 30k 2008', 'history:qv09s-hose-part=never');
  await expect(verdictOf(page, 'Upper coolant hose')).toHaveText(/Look|Renew|Hold/);
});

test('a core blown out in May is due next spring; mounts looked at today are due by hours or years, and not renewed', async ({
  page,
}) => {
  await keepVehicle(page, 'BR36M 3000 h 2022', 'CS 402 K');
  const upkeep = page.getByRole('region', { name: 'Upkeep' });
  const row = (title: string) => upkeep.getByRole('row').filter({ hasText: title });
  await page.getByRole('button', { name: 'Done today: Engine mounts and their bolts' }).click();
  await expect(row('Engine mounts')).toContainText(/by 2\d Nov 2028 or at|by \d+ \w+ 202\d or at/);
  await expect(row('Engine mounts')).toContainText('Today');
  await page.getByRole('button', { name: 'Done on another day: Cooler core blown out' }).click();
  await page.getByLabel('Done on', { exact: true }).fill('12.5.2026');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(row('Cooler core')).toContainText(/by \d+ (Mar|Apr|May) 2027|overdue/);
});

test('5,000 km, one year old: upkeep by the book, nothing else', async ({ page }) => {
  await lookUp(page, 'QV20T 5k 2026');
  await expect(page.getByText(/^No work is due before the next service|Safety item/).first()).toBeVisible();
  await expect(page.locator('[data-row]').filter({ hasText: 'Engine oil and filter' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Upkeep' })).toContainText(/by \d+ \w+ 202\d/);
});

test('a seal of the brake vacuum, a fuel hose: looked at, never left to run on', async ({ page }) => {
  await lookUp(page, 'QV20T 180k 2012');
  await expect(verdictOf(page, 'Vacuum pump seal leaks')).toHaveText(/Look|Renew/);
  await lookUp(page, 'K630C 180k 2012');
  await expect(verdictOf(page, 'Fuel return hoses')).toHaveText(/Look|Renew/);
});

test('uses oil, runs well, 200,000 km: the driver watches it and tops up, and how often is said', async ({ page }) => {
  await lookUp(page, 'QV20T 290k 2010');
  const title = 'Oil rings stick; it uses oil';
  await expect(verdictOf(page, title)).toHaveText(/Watch/);
  await openRow(page, title);
  await expect(rowOf(page, title)).toContainText('Check the oil level on level ground');
  await expect(rowOf(page, title)).toContainText('1,000 km');
});

test('a rattle that stops when a hand rests on the linkage is the linkage, not the chain', async ({ page }) => {
  await ask(page, 'QV20T 120k 2014 rattle lift-off');
  const reported = page.getByRole('region', { name: 'Reported' });
  await expect(reported).toContainText('Rattle on lift-off');
  await expect(reported).toContainText('it stops when a hand rests on the linkage');
  await expect(reported.getByRole('listitem')).toHaveCount(1);
  await expect(reported.getByRole('listitem')).toContainText('Wastegate');
});

test('coolant at one joint: look into the connector beside it too', async ({ page }) => {
  await lookUp(page, 'QV20T 148k 2013');
  await openRow(page, 'Coolant flange warps');
  await expect(rowOf(page, 'Coolant flange warps')).toContainText('look into the one beside it too');
});

test('what only early ones had does not apply to this one, built later, and why is said', async ({ page }) => {
  await lookUp(page, 'QV20T 90k 2018');
  await page.getByText(/do not apply, and why/).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Chain tensioner slackens' })).toContainText(
    'this variant is not affected',
  );
});

test('a machine that was parked for a year: its hours stand still, its rubber does not', async ({ page }) => {
  await keepVehicle(page, 'BR36M 3000 h 2018', 'CS 403 K');
  await page.keyboard.press('r');
  await page.getByLabel('The meter shows').fill('3000');
  await page.getByLabel('On', { exact: true }).fill('-1y');
  await page.getByRole('button', { name: 'Add the reading' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Strip' })).toContainText(/About (0|50|100|150|200)\sh a year/);
  expect(await chanceOf(page, 'Upper coolant hose')).toBeGreaterThan(0.5);
});
