import type { Page } from '@playwright/test';
import { expect, keepVehicle, lookUp, openRow, rowOf, signIn, test } from './journey.ts';

const BELT = 'Timing belt breaks or strips';
const verdictOf = (page: Page, title: string) => rowOf(page, title).locator('td').first();
/** Asks a line with what is known besides, as its address says it. */
const ask = (page: Page, line: string, know = ''): Promise<unknown> =>
  page.goto(`/?${new URLSearchParams({ line, ...(know ? { know } : {}) }).toString()}`);

// The rest of what every mechanic knows is asked of the answer itself, in commonsense-answers.spec.ts.
test.beforeEach(({ page }) => signIn(page, 'Mechanic'));

test('2,500 km a year: the forecast says about 2,500, and the years decide', async ({ page }) => {
  await lookUp(page, 'QV16B 37k 2011');
  await expect(page.getByRole('region', { name: 'Strip' })).toContainText('About 2,500 km a year');
  await expect(verdictOf(page, BELT)).toHaveText(/Renew/);
  await expect(rowOf(page, BELT)).toContainText(/overdue by .*years/);
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
