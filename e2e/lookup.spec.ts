import { choose, expect, line, lookUp, openRow, rowOf, signIn, test } from './journey.ts';

test.beforeEach(({ page }) => signIn(page, 'Adviser'));

test('a code, a reading and a year are understood while typed and answered on Enter', async ({ page }) => {
  await line(page).pressSequentially('2013 qv20t 148K');
  const understood = page.locator('#line-understood');
  await expect(understood).toContainText('148,000 km');
  await expect(understood).toContainText('first registered 2013');
  await expect(understood).toContainText('Vellmar QV20T');
  await expect(understood).toContainText('Short-ratchet tensioner');
  await line(page).press('Enter');
  await expect(page).toHaveURL(/line=2013\+qv20t\+148K/);
  const asks = page.getByRole('region', { name: 'What asks for work' });
  await expect(
    asks.getByRole('button').filter({ hasText: 'Chain tensioner slackens when the engine stops' }),
  ).toBeVisible();
  const row = rowOf(page, 'Chain tensioner slackens when the engine stops');
  // A chain engine of which nobody knows: looked at before anybody opens it.
  await expect(row).toContainText('Look');
  await expect(row).toContainText('Nobody can show that it was renewed; if it is the first one');
  await expect(row).toContainText('the engine is destroyed or must be opened');
  await openRow(page, 'Chain tensioner slackens when the engine stops');
  await expect(row).toContainText('50 % of these engines have this weak point');
  await expect(row).toContainText('Those that fail mostly do so at 90,000 to 180,000 km or 7 to 14 years');
  await expect(row).toContainText('Vellmar service book');
  await expect(row).toContainText('Change it at 100,000 km, rattle or not');
  await expect(
    page
      .getByRole('region', { name: 'Strip' })
      .getByRole('button', { name: 'Chain tensioner slackens when the engine stops' }),
  ).toBeVisible();
});

test('typing is echoed and parsed without the network', async ({ page }) => {
  await page.route('**/api/lookup/**', () => {
    /* never answered */
  });
  await line(page).pressSequentially('od420k 92000 mi');
  await expect(line(page)).toHaveValue('od420k 92000 mi');
  await expect(page.locator('#line-understood')).toContainText('92,000 mi');
});

test('a chip is corrected in place', async ({ page }) => {
  await lookUp(page, 'QV16B 14k 2012');
  await page
    .locator('#line-understood')
    .getByRole('button', { name: /14,000 km/ })
    .click();
  await page.getByLabel('Correct the reading').fill('140k');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(line(page)).toHaveValue('QV16B 140k 2012');
  await expect(page.getByRole('region', { name: 'Strip' })).toContainText('140,000 km');
});

test('another unit changes the answer, in its own figures', async ({ page }) => {
  await lookUp(page, 'QV16B 87k 2012');
  await page
    .locator('#line-understood')
    .getByRole('button', { name: /87,000 km/ })
    .click();
  await page.getByRole('button', { name: 'Other unit' }).click();
  await expect(line(page)).toHaveValue('QV16B 87k mi 2012');
  await expect(page.getByRole('region', { name: 'Strip' })).toContainText('87,000 mi');
});

test('a year between two variants weighs both; choosing one settles it and the address keeps it', async ({ page }) => {
  await lookUp(page, 'QV20T 120k 2014');
  await openRow(page, 'Chain tensioner slackens when the engine stops');
  await expect(rowOf(page, 'Chain tensioner slackens when the engine stops')).toContainText(
    'the inspection plug of the tensioner is plain',
  );
  await choose(page.getByLabel('variant'), /^Long-ratchet tensioner/);
  await expect(page).toHaveURL(/variant=long-ratchet/);
  await page.getByText(/do not apply, and why/).click();
  await expect(page.getByText('this variant is not affected (Long-ratchet tensioner)')).toBeVisible();
});

test('a wrong code offers near matches, and one of them gives the answer', async ({ page }) => {
  await lookUp(page, 'QV2OT 148k');
  await expect(page.getByRole('alert')).toContainText('Did you mean one of these?');
  await page.getByRole('button', { name: /QV20T.*2\.0 turbo petrol/ }).click();
  await expect(page.getByRole('region', { name: 'Weak points' })).toContainText('Chain tensioner');
});

for (const [typed, said] of [
  ['QV20T 148k 92000 mi', 'two readings'],
  ['QV20T -5k', 'minus sign'],
  ['QV20T 99999999 km', 'number of digits'],
  ['QV20T 148k 2040', 'has not come yet'],
  ['🚗 148k', 'no engine code'],
  ["'; drop table vehicle; --", 'No engine or saved vehicle'],
  ['q'.repeat(10_000), 'keep it under 200'],
] as const) {
  test(`wrong input ${typed.slice(0, 30)} says what to change and keeps what was typed`, async ({ page }) => {
    await lookUp(page, typed);
    await expect(page.getByText(said).first()).toBeVisible();
    await expect(line(page)).toHaveValue(typed);
  });
}

test('the keyboard alone: the line, the rows, the lanes, keys and commands', async ({ page }) => {
  await lookUp(page, 'OD420K 222k 2014');
  const rows = page.getByRole('region', { name: 'Weak points' }).locator('button[data-row]');
  await rows.first().focus();
  await page.keyboard.press('ArrowDown');
  await expect(rows.nth(1)).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(rows.nth(1)).toHaveAttribute('aria-expanded', 'true');
  await page.locator('button[data-lane]').first().focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('button[data-lane]').nth(1)).toBeFocused();
  await page.keyboard.press('/');
  await expect(line(page)).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { level: 1 })).toBeFocused();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('A command, a plate, a name').fill('PM 482');
  await page.getByRole('option', { name: /PM 482 KX/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('PM 482 KX');
});

test('a model and what is reported are understood with the engine; what is not used is said to be so', async ({
  page,
}) => {
  await lookUp(page, 'QV20T 148k 2013 corrow rattle start banana');
  const understood = page.locator('#line-understood');
  await expect(understood).toContainText('model Corrow');
  await expect(understood).toContainText('reported rattle');
  await expect(understood).toContainText('not used banana');
  const reported = page.getByRole('region', { name: 'Reported' });
  await expect(reported).toContainText('Rattle for two or three seconds at the first start');
  await expect(reported).toContainText('A lifter ticks on');
  const [likeliest] = await reported.getByRole('listitem').all();
  await expect(likeliest!).toContainText('Chain tensioner slackens when the engine stops');
  await expect(likeliest!).toContainText('75 % of its cases');
  await page.getByRole('button', { name: 'Save as a vehicle' }).click();
  await expect(page.getByRole('combobox', { name: 'Model' })).toHaveValue('Corrow');
});

test('a row says how it shows, what its failure harms, and what the work takes', async ({ page }) => {
  await lookUp(page, 'QV20T 148k 2013');
  const title = 'Chain tensioner slackens when the engine stops';
  await openRow(page, title);
  const row = rowOf(page, title);
  await expect(row).toContainText('Rattle for two or three seconds at the first start (P0016), in 75 % of cases');
  await expect(row).toContainText('valves (90 %)');
  await expect(row).toContainText('Good: two teeth show');
  await expect(row).toContainText('Use once only: crankshaft pulley bolt');
  await expect(row.getByRole('list', { name: 'Cautions for the work' })).toContainText('loaded tensioner');
});
