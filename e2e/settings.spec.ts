import { choose, expect, openRow, rowOf, signIn, test } from './journey.ts';

const WASTEGATE = 'Wastegate linkage rattles';
const QUESTION = '/?line=QV20T+148k+2013';

test('another school changes who decides, on the row and in its reason; wrong figures are named and kept', async ({
  page,
}) => {
  await signIn(page, 'Owner');
  await page.goto(QUESTION);
  await openRow(page, WASTEGATE);
  await expect(rowOf(page, WASTEGATE).getByRole('listitem').filter({ hasText: 'followed here' })).toContainText(
    'Early',
  );
  await page.goto('/settings');
  const schools = page.getByRole('group', { name: 'Which school we follow' });
  await choose(schools.getByLabel('Emissions'), 'Condition');
  await page.getByLabel('Labour, an hour').fill('ninety');
  await page.getByRole('button', { name: 'Save settings' }).click();
  await expect(page.getByRole('alert')).toContainText('Must be a number');
  await expect(page.getByLabel('Labour, an hour')).toHaveValue('ninety');
  await page.getByLabel('Labour, an hour').fill('96');
  await page.getByRole('button', { name: 'Save settings' }).click();
  await expect(page.getByText('Settings saved')).toBeVisible();
  await page.goto(QUESTION);
  await openRow(page, WASTEGATE);
  await expect(rowOf(page, WASTEGATE).getByRole('listitem').filter({ hasText: 'followed here' })).toContainText(
    'Condition',
  );
  await page.goto('/settings');
  await choose(schools.getByLabel('Emissions'), 'Early');
  await page.getByRole('button', { name: 'Save settings' }).click();
  await expect(page.getByText('Settings saved')).toBeVisible();
});

test('settings changed by somebody else meanwhile are shown side by side', async ({ page, browser }) => {
  await signIn(page, 'Owner');
  const context = await browser.newContext();
  const other = await context.newPage();
  await signIn(other, 'Owner');
  for (const who of [page, other]) await who.goto('/settings');
  await page.getByLabel('Tax, %').fill('21');
  await other.getByLabel('Name', { exact: true }).fill('Pellanmouth Quay Garage & Sons');
  await other.getByRole('button', { name: 'Save settings' }).click();
  await expect(other.getByText('Settings saved')).toBeVisible();
  await page.getByRole('button', { name: 'Save settings' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'Somebody else changed this' })).toContainText(
    'theirs “Pellanmouth Quay Garage & Sons”',
  );
  await page.getByRole('button', { name: 'Take theirs' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Pellanmouth Quay Garage & Sons');
  await expect(page.getByLabel('Tax, %')).toHaveValue('20');
  await context.close();
});
