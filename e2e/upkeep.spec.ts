import { chanceOf, choose, expect, keepVehicle, signIn, test, openHistory } from './journey.ts';
import type { Locator, Page } from '@playwright/test';

const OIL = 'Engine oil and filter';
const taskRow = (page: Page, title: string): Locator =>
  page.getByRole('region', { name: 'Upkeep' }).getByRole('row').filter({ hasText: title });

test('a task is done and its clock starts again; done late, what it protects wears; undo takes it back', async ({
  page,
}) => {
  await signIn(page, 'Mechanic');
  await keepVehicle(page, 'QV20T 152k 2013', 'VU 301 K');
  await expect(taskRow(page, OIL)).toContainText('not known when it was last done');
  await page.getByRole('button', { name: `Done today: ${OIL}` }).click();
  await expect(taskRow(page, OIL)).toContainText('Today');
  await expect(taskRow(page, OIL)).toContainText(/by \d+ \w+ 2027 or at 16\d,\d00\skm/);
  await page.getByRole('button', { name: 'Undo (u)' }).click();
  await expect(taskRow(page, OIL)).toContainText('Not known');
  const chain = await chanceOf(page, 'Timing chain stretched');
  await page.getByRole('button', { name: `Done on another day: ${OIL}` }).click();
  await page.getByRole('radio', { name: 'Never, up to that day' }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('alert')).toContainText('Write a date such as today');
  await page.getByLabel('Up to', { exact: true }).fill('today');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(taskRow(page, OIL)).toContainText(/overdue since .* years/);
  await expect(page.getByRole('link', { name: /^▲ Upkeep: Engine oil and filter: overdue since/ })).toBeVisible();
  expect(await chanceOf(page, 'Timing chain stretched')).toBeGreaterThan(chain);
  await taskRow(page, OIL)
    .getByRole('button', { name: /^Engine oil/ })
    .click();
  const told = page.getByText(/Left undone, it wears faster: .*Timing chain.* \(x1\.8\)/);
  await expect(told).toBeVisible();
  await expect(page.getByText('Used oil harms the skin')).toBeVisible();
  await openHistory(page);
  await expect(page.getByRole('table').getByText(`${OIL}: never done until then`)).toBeVisible();
});

test('upkeep goes on a visit beside the jobs, and is done with it', async ({ page }) => {
  await signIn(page, 'Adviser');
  await keepVehicle(page, 'QV20T 152k 2013', 'VU 302 K');
  await taskRow(page, OIL)
    .getByRole('button', { name: /^Engine oil/ })
    .click();
  await page.getByRole('button', { name: 'Put it on a visit' }).click();
  await page.getByRole('checkbox', { name: /^Spark plugs/ }).check();
  await expect(page.getByText('1 h 20 labour,')).toBeVisible();
  await page.getByRole('button', { name: 'Plan it' }).click();
  await page.getByRole('link', { name: /^Visits/ }).click();
  await expect(page.getByText(`Upkeep: ${OIL}`)).toBeVisible();
  await page.getByRole('button', { name: 'It is done' }).click();
  await page.getByLabel('The meter showed').fill('152.3k');
  await page.getByRole('checkbox', { name: 'Spark plugs' }).uncheck();
  await page.getByRole('button', { name: 'Mark it done' }).click();
  await page.getByRole('link', { name: 'Outlook' }).click();
  await expect(taskRow(page, OIL)).toContainText('Today');
  await expect(taskRow(page, 'Spark plugs')).toContainText('Not known');
});

test('the owner writes an upkeep task; what is wrong is said beside it; every vehicle is asked for it', async ({
  page,
}) => {
  await signIn(page, 'Owner');
  await page.goto('/library?shelf=engines');
  await page.getByRole('link', { name: /QV20T/ }).first().click();
  await page.getByRole('button', { name: 'Write an upkeep task' }).click();
  await page.getByLabel('What is done').fill('Charge hoses');
  await page.getByLabel('How, and what good looks like').fill('Dry and hard all round: good. Soft or oily: renew.');
  await page.getByLabel('Minutes').fill('10');
  await page.getByLabel('How often, by this workshop').fill('soon');
  await choose(page.getByLabel('Season'), 'in spring');
  await page.getByRole('checkbox', { name: /^Wastegate/ }).check();
  await page.getByRole('textbox', { name: /^Times as fast: Wastegate/ }).fill('0.5');
  await page.getByRole('button', { name: /^Save/ }).click();
  await expect(page.getByText('must be at least x1')).toBeVisible();
  await page.getByRole('textbox', { name: /^Times as fast: Wastegate/ }).fill('1.2');
  await page.getByLabel('How often, by this workshop').fill('30k km | 2y');
  await page.getByRole('button', { name: /^Save/ }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('row').filter({ hasText: 'Charge hoses' })).toContainText('Our own bench');
  await page.goto('/?line=QV20T+5k+2026');
  await expect(taskRow(page, 'Charge hoses')).toContainText('in spring');
  await expect(taskRow(page, OIL)).toContainText(/by \d+ \w+ 202\d/);
});
