import { expect, signIn, test } from './journey.ts';

test('a wrong password says so and keeps the name; the right one opens the lookup', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('Name').fill('anselm');
  await page.getByLabel('Password').fill('not this');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('do not go together');
  await expect(page.getByLabel('Name')).toHaveValue('anselm');
  await page.getByLabel('Password').fill('front-desk-bell');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByLabel('Engine code or plate, reading, year')).toBeFocused();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('only the owner is shown settings, and the server holds to it', async ({ page }) => {
  await signIn(page, 'Mechanic');
  await expect(page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Settings' })).toHaveCount(0);
  await page.goto('/settings');
  await expect(page.getByText('Settings are the owner’s')).toBeVisible();
});

test('an address asks for sign-in and is then shown', async ({ page }) => {
  await page.goto('/?line=QV20T+148k+2013');
  await page.getByRole('button', { name: /Adviser/ }).click();
  await expect(page.getByRole('heading', { name: /Vellmar QV20T/ })).toBeVisible();
});
