import { choose, expect, keepVehicle, line, lookUp, openRow, rowOf, signIn, test, openHistory } from './journey.ts';

/** What waits until it is opened. */
const gate = (): { opened: Promise<void>; open: () => void } => {
  let open = (): void => undefined;
  return {
    opened: new Promise<void>((resolve) => {
      open = resolve;
    }),
    open: () => open(),
  };
};

test.describe('ways through the application', () => {
  test.beforeEach(({ page }) => signIn(page, 'Owner'));

  test('the address reproduces answer, list and history; back and forward walk through them', async ({ page }) => {
    await lookUp(page, 'K425N 180k 2003');
    await expect(page.getByRole('heading', { name: /Kestrane K425N/ })).toBeVisible();
    await lookUp(page, 'QV16B 90k 2014');
    await expect(page.getByRole('heading', { name: /Vellmar QV16B/ })).toBeVisible();
    await page.goBack();
    await expect(page.getByRole('heading', { name: /Kestrane K425N/ })).toBeVisible();
    await expect(line(page)).toHaveValue('K425N 180k 2003');
    await page.goForward();
    await expect(line(page)).toHaveValue('QV16B 90k 2014');
    await page.reload();
    await expect(page.getByRole('heading', { name: /Vellmar QV16B/ })).toBeVisible();
    await page.goto('/vehicles?q=fennick&order=plate');
    await expect(page.getByRole('searchbox')).toHaveValue('fennick');
    await expect(page.getByRole('radio', { name: 'By plate' })).toBeChecked();
    const plates = await page.locator('a[data-row] .figure').allInnerTexts();
    expect([...plates].sort((a, b) => a.localeCompare(b))).toEqual(plates);
  });

  test('the home view offers engines to try and what is most pressing', async ({ page }) => {
    await page.getByRole('button', { name: /Osterlin/ }).click();
    await expect(page.getByRole('heading', { name: /Osterlin/ })).toBeVisible();
    await page.getByRole('link', { name: 'Crosspeen, to the lookup' }).click();
    const first = page.getByRole('region', { name: 'Most urgent vehicles' }).getByRole('link').first();
    const plate = await first.locator('.figure').first().innerText();
    await first.click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText(plate);
  });

  test('light and dark are changed by hand and kept', async ({ page }) => {
    const html = page.locator('html');
    await expect(html).toHaveAttribute('data-theme', 'light');
    await page.getByRole('button', { name: 'Dark theme' }).click();
    await expect(html).toHaveAttribute('data-theme', 'dark');
    await page.reload();
    await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
    await expect(html).toHaveAttribute('data-theme', 'dark');
    await page.keyboard.press('Control+k');
    await page.getByRole('option', { name: 'Change between light and dark' }).click();
    await expect(html).toHaveAttribute('data-theme', 'light');
  });

  test('the strip shows two, four or eight years, and its lanes open the rows they stand for', async ({ page }) => {
    await lookUp(page, 'QV20T 148k 2013');
    const strip = page.getByRole('region', { name: 'Strip' });
    await expect(strip.getByRole('presentation')).toContainText('2030');
    await strip.getByRole('radio', { name: '8 years' }).click();
    await expect(strip.getByRole('presentation')).toContainText('2034');
    await strip.getByRole('radio', { name: '2 years' }).click();
    await expect(strip.getByRole('presentation')).not.toContainText('2030');
    await strip.getByRole('button', { name: 'Water pump leaks at the shaft' }).click();
    await expect(rowOf(page, 'Water pump leaks at the shaft')).toContainText('When each school would act');
    await page.getByRole('button', { name: 'Colours' }).focus();
    await expect(page.getByText('25 % and more')).toBeVisible();
  });

  test('a change is undone from the trail as well, and only once', async ({ page }) => {
    await keepVehicle(page, 'QV16B 118k 2013', 'WW 301 K');
    await openRow(page, 'Timing belt breaks or strips');
    await page.getByRole('button', { name: 'Looked today: good' }).click();
    await openHistory(page);
    const trail = page.getByRole('region', { name: 'Changes to the record' });
    const change = trail.getByRole('listitem').filter({ hasText: 'looked at, good' }).first();
    await expect(page.getByRole('region', { name: 'What happened' })).toContainText('looked at, good');
    await change.getByRole('button', { name: 'Undo' }).click();
    await expect(trail.getByRole('listitem').first()).toContainText(
      'Undone: Timing belt breaks or strips: looked at, good',
    );
    await expect(page.getByRole('region', { name: 'What happened' })).not.toContainText('looked at, good');
    await expect(
      trail.getByRole('listitem').filter({ hasText: '(undone)' }).getByRole('button', { name: 'Undo' }),
    ).toHaveCount(0);
  });

  test('what was asked for before a change and comes after it is not taken for what stands', async ({ page }) => {
    await keepVehicle(page, 'QV16B 118k 2013', 'WW 303 K');
    await openRow(page, 'Timing belt breaks or strips');
    const [read, both, written] = [gate(), gate(), gate()];
    await page.route(
      '**/history?*',
      async (route) => {
        const old = await route.fetch();
        read.open();
        await written.opened;
        await route.fulfill({ response: old });
      },
      { times: 1 },
    );
    await page.route('**/findings', async (route) => {
      await both.opened;
      await route.continue();
    });
    await page.getByRole('button', { name: 'Looked today: good' }).click();
    await openHistory(page);
    const trail = page.getByRole('region', { name: 'Changes to the record' });
    await expect(trail).toContainText('saved');
    await read.opened;
    both.open();
    await expect(trail).toContainText('looked at, good');
    written.open();
    await expect(page.getByRole('region', { name: 'What happened' })).toContainText('looked at, good');
  });

  test('every list of the library is saved from where it stands', async ({ page }) => {
    for (const shelf of ['packs', 'notices', 'points']) {
      await page.goto(`/library?shelf=${shelf}`);
      const download = page.waitForEvent('download');
      await page.getByRole('link', { name: 'Save as CSV' }).click();
      expect((await download).suggestedFilename()).toMatch(/^[a-z-]+-\d{4}-\d{2}-\d{2}\.csv$/);
    }
  });

  test('a date is picked from the calendar', async ({ page }) => {
    await keepVehicle(page, 'QV16B 118k 2013', 'WW 302 K');
    await page.keyboard.press('r');
    await page.getByLabel('The meter shows').fill('117.5k');
    await page.getByRole('button', { name: 'Pick on from a calendar' }).click();
    await page.getByRole('button', { name: /November 10th/ }).click();
    await expect(page.getByLabel('On', { exact: true })).toHaveValue('2026-11-10');
    await page.getByRole('button', { name: 'Add the reading' }).click();
    await openHistory(page);
    await expect(page.getByRole('row', { name: /117,500 km/ })).toContainText('10 Nov 2026');
  });
});

test('the answer, a record and a visit on a phone', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, 'Mechanic');
  await keepVehicle(page, 'DN12W 98k 2015', 'WW 303 K');
  await openRow(page, 'Degas hose connector breaks');
  await page.getByRole('button', { name: 'Was it renewed?' }).click();
  await page.getByLabel('At the reading').fill('97k');
  await choose(page.getByLabel('Part fitted'), /^D\/3077\/D,/);
  await expect(page.getByText('How to tell: bright steel at the joint')).toBeVisible();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/do not apply, and why/).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Degas hose connector breaks' }).last()).toContainText(
    'The revised part is fitted',
  );
  await page.getByRole('button', { name: 'Plan a visit' }).click();
  await page.getByRole('checkbox', { name: /Belt in oil swells/ }).check();
  await page.getByRole('button', { name: 'Plan it' }).click();
  await page
    .getByRole('navigation', { name: 'Vehicle' })
    .getByRole('link', { name: /Visits/ })
    .click();
  await expect(page.getByRole('heading', { name: /8 Dec 2026/ })).toBeVisible();
  expect(
    await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
  ).toBeLessThanOrEqual(0);
});
