import { readFileSync } from 'node:fs';
import { choose, expect, signIn, test, openHistory } from './journey.ts';

const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

test('a spreadsheet is understood, decided, imported; what is wrong is handed back, mended and imported', async ({
  page,
}) => {
  await signIn(page, 'Adviser');
  await page.goto('/vehicles');
  await page.getByRole('link', { name: 'Import a spreadsheet' }).click();
  await page
    .locator('input[type=file]')
    .setInputFiles(
      file(
        'cars.csv',
        'Plate;Engine code;Model;First registered;Odometer (km);Colour\nIX 201 A;QV20T;Corrow;12.3.2013;148.000;red\nIX 202 B;NOSUCH;Corrow;;;blue\n',
      ),
    );
  await expect(page.getByLabel('The file holds')).toHaveText('vehicles');
  await expect(page.getByLabel('Dates are written')).toHaveText(/^day\b/i);
  await expect(page.getByRole('combobox', { name: 'Colour is' })).toHaveText('not taken');
  const take = page.getByRole('button', { name: 'Import it' });
  await expect(take).toBeDisabled();
  await choose(page.getByLabel('Decimals after a'), /comma/);
  await take.click();
  await expect(page.getByRole('status').filter({ hasText: '2 rows: 1 imported, 1 to be mended' })).toBeVisible();
  await expect(page.getByText('no engine of the library has the code “NOSUCH”')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save the 1 row to mend' }).click();
  const mended = readFileSync(await (await download).path(), 'utf8').replaceAll('NOSUCH', 'QV16B');
  await page.getByRole('button', { name: 'Another file' }).click();
  await page.locator('input[type=file]').setInputFiles(file('mended.csv', mended));
  await page.getByRole('button', { name: 'Import it' }).click();
  await expect(page.getByRole('status').filter({ hasText: '1 row: 1 imported' })).toBeVisible();
  await page.goto('/vehicles?q=IX+20');
  await expect(page.locator('a[data-row]')).toHaveCount(2);
  await page.getByRole('link', { name: /IX 201 A/ }).click();
  await openHistory(page);
  await expect(page.getByRole('row', { name: /148,000 km/ })).toBeVisible();
  await expect(page.getByText('Imported from cars.csv')).toBeVisible();
  // Taken back as one, from the list of what was imported.
  await page.goto('/vehicles/intake');
  await page.getByRole('button', { name: /mended\.csv/ }).click();
  await expect(page.getByText('Saved: 1 vehicle.')).toBeVisible();
  await expect(page.getByText(/Columns not taken: “reason”, “line”/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo this import' }).click();
  await page.getByRole('button', { name: 'Undo it' }).click();
  await expect(page.getByText(/^Taken back by/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo this import' })).toHaveCount(0);
  await page.goto('/vehicles?q=IX+20');
  await expect(page.locator('a[data-row]')).toHaveCount(1);
});

test('a column nobody could guess is named by hand; a spreadsheet’s own file is refused', async ({ page }) => {
  await signIn(page, 'Adviser');
  await page.goto('/vehicles/intake');
  await page
    .locator('input[type=file]')
    .setInputFiles(file('log.csv', 'Car,When it was,Clock\nPM 482 KX,2026-11-20,149000\n'));
  await choose(page.getByLabel('The file holds'), 'readings');
  await expect(page.getByText(/Say which column is/)).toContainText('plate or name');
  await choose(page.getByRole('combobox', { name: 'Car is' }), /^plate or name/);
  await choose(page.getByRole('combobox', { name: 'When it was is' }), /^date/);
  await choose(page.getByRole('combobox', { name: 'Clock is' }), /^reading/);
  await choose(page.getByLabel('Readings are in'), 'each vehicle’s own');
  await page.getByRole('button', { name: 'Import it' }).click();
  await expect(page.getByRole('status').filter({ hasText: '1 imported' })).toBeVisible();
  await page.getByRole('button', { name: 'Another file' }).click();
  await page
    .locator('input[type=file]')
    .setInputFiles({
      name: 'cars.xlsx',
      mimeType: 'application/zip',
      buffer: Buffer.from([0x50, 0x4b, 3, 4, 0, 0, 0, 0]),
    });
  await expect(page.getByRole('alert')).toContainText('Save it as CSV');
});

test('a list is saved as CSV with the filters it is shown with', async ({ page }) => {
  await signIn(page, 'Adviser');
  await page.goto('/vehicles?q=PM+482');
  await expect(page.locator('a[data-row]')).toHaveCount(1);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save as CSV' }).click();
  const text = readFileSync(await (await download).path(), 'utf8');
  expect(text.split('\r\n')[0]).toContain('"plate","name","make","model","engine code"');
  expect(text.trim().split('\r\n')).toHaveLength(2);
  expect(text).toContain('PM 482 KX');
});
