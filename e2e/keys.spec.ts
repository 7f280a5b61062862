import type { Page } from '@playwright/test';
import { expect, line, rowOf, signIn, test } from './journey.ts';

/** Where the focus is, in words: nowhere is the page as a whole. */
const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const at = document.activeElement;
    return at === null || at === document.body
      ? 'nowhere'
      : `${at.tagName.toLowerCase()} ${(at as HTMLElement).innerText.slice(0, 60)}`;
  });
const somewhere = async (page: Page): Promise<void> => {
  await expect.poll(() => focused(page)).not.toBe('nowhere');
};

test('keys alone: from the line to a vehicle with a reading, a renewal, a visit that is done, and back', async ({
  page,
}) => {
  await signIn(page, 'Mechanic');
  const { keyboard } = page;
  await expect(line(page)).toBeFocused();
  await expect(page).toHaveTitle('Lookup · Crosspeen');
  // From the line into whatever stands below it, and back.
  await expect(page.locator('main [data-row]').first()).toBeVisible();
  await keyboard.press('ArrowDown');
  await expect(page.locator('main [data-row]').first()).toBeFocused();
  await keyboard.press('/');
  await keyboard.type('QV20T 152k 2013');
  await keyboard.press('Enter');
  await expect(page).toHaveTitle('Lookup: QV20T 152k 2013 · Crosspeen');
  const rows = page.getByRole('region', { name: 'Weak points' }).locator('button[data-row]');
  await expect(rows.first()).toBeVisible();
  await expect(line(page)).toBeFocused();
  await keyboard.press('ArrowDown');
  await expect(rows.first()).toBeFocused();
  await keyboard.press('ArrowUp');
  await expect(line(page)).toBeFocused();
  await keyboard.press('ArrowDown');
  // A question that is answered is gone; the focus is not.
  const question = page.getByRole('region', { name: 'What would settle it' }).getByRole('button').first();
  await question.focus();
  await keyboard.press('Enter');
  await expect(page.getByText(/^Settled:/)).toBeVisible();
  await somewhere(page);
  await rows.first().focus();
  await keyboard.press('k');
  await expect(page.getByLabel('Plate', { exact: true })).toBeFocused();
  await keyboard.type('KY 400 A');
  await keyboard.press('Enter');
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toContainText('KY 400 A');
  await expect(heading).toBeFocused();
  await expect(page).toHaveTitle(/^KY 400 A.* · Crosspeen$/);

  // A reading: what is typed goes into the figure at once.
  await keyboard.press('r');
  await expect(page.getByLabel('The meter shows')).toBeFocused();
  await keyboard.type('153.1k');
  await keyboard.press('Enter');
  await expect(page.getByText('Reading added').first()).toBeVisible();
  await expect(heading).toBeFocused();

  // A renewal, from the row it is about; Esc gives the focus back to the button that opened it.
  const row = page.locator('button[data-row]').filter({ hasText: 'Water pump leaks' });
  await row.focus();
  await keyboard.press('Enter');
  const record = rowOf(page, 'Water pump leaks').getByRole('button', { name: 'Was it renewed?' });
  await record.focus();
  await keyboard.press('Enter');
  await expect(page.getByRole('radio', { name: 'Renewed', exact: true })).toBeFocused();
  await keyboard.press('Escape');
  await expect(record).toBeFocused();
  await keyboard.press('Enter');
  await keyboard.press('Tab');
  await keyboard.type('120k');
  await keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await somewhere(page);

  // A visit with a look, planned and done: the look begins unsaid, and left so it is not recorded.
  await keyboard.press('v');
  await expect(page.getByLabel('On', { exact: true })).toBeFocused();
  await keyboard.type('today');
  await page.getByRole('checkbox', { name: /Thermostat housing/ }).focus();
  await keyboard.press('Space');
  await page.getByLabel(/Work on Thermostat/).focus();
  await keyboard.press('L');
  await page.getByRole('button', { name: 'Plan it' }).focus();
  await keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await somewhere(page);
  await page
    .getByRole('navigation', { name: 'Vehicle' })
    .getByRole('link', { name: /Visits/ })
    .focus();
  await keyboard.press('Enter');
  await page.getByRole('button', { name: 'It is done' }).focus();
  await keyboard.press('Enter');
  await expect(page.getByLabel('Done on', { exact: true })).toBeFocused();
  await expect(page.getByRole('radio', { checked: true })).toHaveCount(0);
  await expect(page.getByRole('status').filter({ hasText: 'One look has no finding yet' })).toBeVisible();
  await keyboard.press('Enter');
  await expect(page.getByRole('alert').first()).toContainText('Write what the meter showed');
  await page.getByLabel('The meter showed').focus();
  await keyboard.type('153.2k');
  await keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Done' })).toBeVisible();
  await somewhere(page);
  await page.getByRole('link', { name: 'History' }).focus();
  await keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'What happened' })).toContainText('153,200 km');
  await expect(page.getByRole('region', { name: 'What happened' })).not.toContainText('looked at');
  await keyboard.press('u');
  await expect(page.getByText('Undone: Visit of').first()).toBeVisible();
  await somewhere(page);
});

test('every view has a title of its own', async ({ page }) => {
  await signIn(page, 'Owner', 'elsewhere');
  const titles = new Set<string>();
  for (const path of [
    '/',
    '/?line=QV20T+148k',
    '/vehicles',
    '/week',
    '/library',
    '/library?shelf=engines',
    '/bench',
    '/settings',
    '/library/write',
    '/vehicles/intake',
    '/nowhere',
  ]) {
    await page.goto(path);
    await expect(page).toHaveTitle(/ · Crosspeen$/);
    titles.add(await page.title());
  }
  // Shelves of one library are one view.
  expect(titles.size).toBe(10);
});
