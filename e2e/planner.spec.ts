import type { Locator, Page } from '@playwright/test';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { expect, keepVehicle, lookUp, openRow, rowOf, signIn, test } from './journey.ts';
import { VIEWPORT } from './viewport.ts';

const proposed = (page: Page): Locator => page.getByRole('region', { name: 'Proposed visits' });
const board = (page: Page): Locator => page.getByRole('group', { name: 'Months ahead' });
const settled = (page: Page): Promise<void> =>
  expect(
    proposed(page).getByText(
      /No other plan( that keeps its days and limits)? costs less\.|above the best there can be\./,
    ),
  ).toBeVisible({ timeout: 20_000 });

/** A saved vehicle's visits, once the planner has found its plan. */
async function planOf(page: Page, text: string, plate: string): Promise<void> {
  await keepVehicle(page, text, plate);
  await page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name: 'Visits' }).click();
  await settled(page);
}

const centreOf = ({ x, width }: { readonly x: number; readonly width: number }): number => x + width / 2;

/** What a way costs, in whole money. */
const costOf = async (page: Page, way: string): Promise<number> =>
  Number(
    (
      await proposed(page)
        .getByRole('region', { name: 'What it costs' })
        .locator('summary', { hasText: way })
        .innerText()
    )
      .replace(way, '')
      .replace(/[^\d.]/g, ''),
  );

test.beforeEach(({ page }) => signIn(page, 'Mechanic'));

test('visits are proposed, other ways cost more and open into their parts; a plan is accepted and taken back as one', async ({
  page,
}) => {
  await planOf(page, 'QV16B 165k 2011', 'VV 121 K');
  await expect(
    proposed(page).getByRole('listitem').filter({ hasText: 'Timing belt breaks or strips' }).first(),
  ).toBeVisible();
  const best = await costOf(page, 'These visits');
  for (const way of ['Each on its own date', 'All of it now', 'Only what is due'])
    expect(await costOf(page, way)).toBeGreaterThanOrEqual(best);
  const ways = proposed(page).getByRole('region', { name: 'What it costs' });
  await ways.locator('summary', { hasText: 'These visits' }).click();
  await expect(ways.locator('details[open]').getByText('Breakdowns still expected')).toBeVisible();
  await proposed(page)
    .getByRole('button', { name: /^Plan th/ })
    .click();
  await expect(page.getByRole('button', { name: 'It is done' }).first()).toBeVisible();
  // What is planned is not proposed again.
  await expect(proposed(page).getByRole('button', { name: /^Plan th/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo (u)' }).click();
  await expect(page.getByRole('heading', { name: 'No visit is planned' })).toBeVisible();
});

test('a bead is dragged: what it costs stands beside it, the rest follows, and it stays where it was put', async ({
  page,
}) => {
  await planOf(page, 'QV16B 165k 2011', 'VV 122 K');
  const bead = board(page).getByRole('button', { name: /^Renew: Timing belt breaks or strips/ });
  await bead.scrollIntoViewIfNeeded();
  const before = await bead.getAttribute('aria-label');
  const at = (await bead.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + 100, at.y + at.height / 2, { steps: 5 });
  await page.mouse.move(at.x + 260, at.y + at.height / 2, { steps: 10 });
  const beside = board(page).getByRole('status');
  await expect(beside).toContainText(/more|less|the same/);
  // The bead stays under the pointer, whatever the plan does around it, and goes on with it.
  for (const x of [at.x + 260, at.x + 340, at.x + 180]) {
    await page.mouse.move(x, at.y + at.height / 2, { steps: 4 });
    await expect.poll(async () => Math.abs(centreOf((await bead.boundingBox())!) - x)).toBeLessThanOrEqual(4);
  }
  await page.mouse.move(at.x + 260, at.y + at.height / 2, { steps: 4 });
  await expect(beside).toContainText('that it fails before');
  await page.mouse.up();
  await expect(bead).toHaveAccessibleName(/pinned/);
  expect(await bead.getAttribute('aria-label')).not.toBe(before);
  await settled(page);
  // It is dearer than where it was, and that is said; the address keeps it.
  await expect(proposed(page).getByText(/1 thing is pinned: .* more than without/)).toBeVisible();
  await page.reload();
  await expect(bead).toHaveAccessibleName(/pinned/);
  await proposed(page).getByRole('button', { name: 'Let all pins go' }).click();
  await expect(bead).not.toHaveAccessibleName(/pinned/);
});

test('by keys: a bead moves by a month, is let go, is left for later; a visit moves with all that is on it', async ({
  page,
}) => {
  await planOf(page, 'QV16B 165k 2011', 'VV 123 K');
  const bead = board(page).getByRole('button', { name: /^Renew: Timing belt breaks or strips/ });
  await bead.focus();
  await page.keyboard.press('ArrowRight');
  await expect(bead).toHaveAccessibleName(/pinned/);
  await expect(bead).toBeFocused();
  const put = proposed(page).getByRole('group', { name: 'What was moved' });
  await expect(put).toContainText(/costs the same|more|less/);
  await expect(put).toContainText('that it fails before');
  await page.keyboard.press('p');
  await expect(bead).not.toHaveAccessibleName(/pinned/);
  await page.keyboard.press('l');
  await expect(bead).toHaveAccessibleName(/left for later, pinned/);
  await proposed(page).getByRole('button', { name: 'Let all pins go' }).click();
  await settled(page);
  const post = board(page)
    .getByRole('button', { name: /^Proposed visit/ })
    .first();
  await post.focus();
  await page.keyboard.press('ArrowRight');
  await expect(proposed(page).getByText(/things? (is|are) pinned/)).toBeVisible();
});

test('what it is planned by: kept eight more months, nothing is done whose saving comes later; a limit that is too tight is said', async ({
  page,
}) => {
  await planOf(page, 'QV20T 148k 2014', 'VV 124 K');
  const left = async (): Promise<number> =>
    Number(
      (
        await proposed(page)
          .getByText(/^Left for later: \d+/)
          .innerText()
      ).replace(/\D/g, ''),
    );
  const before = await left();
  await proposed(page).getByRole('button', { name: 'What to plan by' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Kept until', { exact: true }).fill('someday');
  await dialog.getByLabel('Most hours of work on one visit').fill('a lot');
  await dialog.getByRole('button', { name: 'Plan by this' }).click();
  await expect(dialog.getByText('write a date such as +8m')).toBeVisible();
  await expect(dialog.getByText('is not a number: write 450')).toBeVisible();
  await dialog.getByLabel('Kept until', { exact: true }).fill('+8m');
  await dialog.getByLabel('Most hours of work on one visit').fill('');
  await dialog.getByRole('button', { name: 'Plan by this' }).click();
  await expect(dialog).toBeHidden();
  await expect(proposed(page).getByText(/Planned by: kept until/)).toBeVisible();
  await settled(page);
  await expect.poll(left).toBeGreaterThan(before);
  await proposed(page).getByRole('button', { name: 'What to plan by' }).click();
  await dialog.getByLabel('Most that one visit may cost').fill('1');
  await dialog.getByRole('button', { name: 'Plan by this' }).click();
  await expect(proposed(page).getByRole('alert')).toContainText('fits on no visit');
  await proposed(page).getByRole('button', { name: 'Change the limits' }).click();
  await dialog.getByLabel('Most that one visit may cost').fill('');
  await dialog.getByRole('button', { name: 'Plan by this' }).click();
  await settled(page);
});

test('while the belt is off, the pump pays and is added with one press; that week’s room is said', async ({ page }) => {
  await keepVehicle(page, 'QV16B 165k 2011', 'VV 125 K');
  await page.getByRole('button', { name: 'Plan a visit' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^Timing belt breaks or strips/ }).check();
  const inThere = dialog.getByRole('region', { name: 'While you are in there' });
  const pump = inThere.getByRole('listitem').filter({ hasText: 'Water pump' });
  // It goes in with the belt by itself; left out, it is what the access is open for.
  await dialog.getByRole('checkbox', { name: /^Water pump/ }).uncheck();
  await expect(pump).toContainText(/cheaper/);
  await expect(pump).toContainText('by itself');
  await pump.getByRole('button', { name: 'Add it' }).click();
  await expect(dialog.getByRole('checkbox', { name: /^Water pump/ })).toBeChecked();
  await expect(pump).toHaveCount(0);
  await expect(dialog.getByText(/The week of .* left with it/)).toBeVisible();
  await dialog.getByText('How it comes apart').click();
  await expect(dialog.getByText('Drain and refill').last()).toBeVisible();
  await expect(dialog.getByText('turn the crankshaft twice').last()).toBeVisible();
});

test('cooling that is due some time this year comes before the heat', async ({ page }) => {
  await planOf(page, 'QV20T 148k 2014', 'VV 129 K');
  const bead = board(page).getByRole('button', { name: /^Look: Thermostat housing cracks/ });
  const month = async (): Promise<number> => {
    const [, name, year] = /, (\w{3,4}) (\d{4})/.exec((await bead.getAttribute('aria-label'))!)!;
    return Date.parse(`1 ${name!.slice(0, 3)} ${year} UTC`);
  };
  // It falls due in November 2027; the heat comes first.
  await expect(proposed(page).getByText(/Thermostat housing cracks at the seam by .* 2027/)).toBeVisible();
  expect(await month()).toBeLessThan(Date.UTC(2027, 5, 1));
});

test('a pump that went in half a year ago is left, with why', async ({ page }) => {
  await keepVehicle(page, 'QV16B 165k 2011', 'VV 130 K');
  await openRow(page, 'Water pump bearing wears and leaks');
  await page.getByRole('button', { name: 'Was it renewed?' }).click();
  await page.getByLabel('On the date', { exact: true }).fill('20.5.2026');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rowOf(page, 'Water pump bearing wears and leaks')).toContainText('Renewed on');
  await page.getByRole('button', { name: 'Plan a visit' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^Timing belt breaks or strips/ }).check();
  await expect(dialog.getByRole('checkbox', { name: /^Water pump/ })).not.toBeChecked();
  await expect(
    dialog
      .getByRole('region', { name: 'While you are in there' })
      .getByRole('listitem')
      .filter({ hasText: 'Water pump' }),
  ).toContainText('renewed less than a year ago: leave it');
});

test('a finger drags a bead as well', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ ...VIEWPORT, hasTouch: true, ...(baseURL ? { baseURL } : {}) });
  const page = await context.newPage();
  await signIn(page, 'Mechanic');
  await planOf(page, 'QV16B 165k 2011', 'VV 128 K');
  const bead = board(page).getByRole('button', { name: /^Renew: Timing belt breaks or strips/ });
  await bead.scrollIntoViewIfNeeded();
  const at = (await bead.boundingBox())!;
  const touch = await context.newCDPSession(page);
  const point = (x: number) => [{ x, y: at.y + at.height / 2 }];
  const from = at.x + at.width / 2;
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: point(from) });
  for (let step = 1; step <= 10; step += 1)
    await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: point(from + 20 * step) });
  await expect(board(page).getByRole('status')).toContainText('that it fails before');
  await expect.poll(async () => Math.abs(centreOf((await bead.boundingBox())!) - (from + 200))).toBeLessThanOrEqual(4);
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect(bead).toHaveAccessibleName(/pinned/);
  await context.close();
});

test('where the planner cannot be loaded that is said, and visits are planned by hand', async ({ page }) => {
  await keepVehicle(page, 'QV16B 165k 2011', 'VV 131 K');
  await page.route('**/planner.worker*', (route) => route.abort());
  await page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name: 'Visits' }).click();
  await expect(page.getByRole('alert').first()).toContainText(
    'The planner has stopped: a part of it could not be loaded',
  );
  await page.getByRole('button', { name: 'Plan a visit' }).first().click();
  await page
    .getByRole('dialog')
    .getByRole('checkbox', { name: /^Timing belt breaks or strips/ })
    .check();
  await page.getByRole('dialog').getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('button', { name: 'It is done' })).toBeVisible();
});

test('what is proposed joins a visit that stands with one press', async ({ page }) => {
  await keepVehicle(page, 'QV16B 165k 2011', 'VV 126 K');
  await page.getByRole('button', { name: 'Plan a visit' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^Timing belt breaks or strips/ }).check();
  await dialog.getByRole('button', { name: 'Plan it' }).click();
  await page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name: 'Visits' }).click();
  await settled(page);
  const join = proposed(page).getByRole('button', { name: /^Add to the visit of/ });
  await expect(proposed(page).getByText(/more labour, .* by itself/)).toBeVisible();
  await join.click();
  await expect(join).toHaveCount(0);
  await expect(page.getByText(/if each came by itself/).first()).toBeVisible();
});

test('keep it or let it go: what each year costs, against what another would', async ({ page }) => {
  await planOf(page, 'QV16B 165k 2011', 'VV 127 K');
  const keeping = page.getByRole('region', { name: 'Keep it or let it go' });
  await expect(keeping.getByText(/^No value entered/)).toBeVisible();
  await keeping.getByRole('button', { name: 'What it is worth' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('It would sell for').fill('2400');
  await dialog.getByLabel('Another vehicle would cost a year').fill('100');
  await dialog.getByRole('button', { name: 'Plan by this' }).click();
  await expect(keeping.getByText(/^Letting it go is cheaper now/)).toBeVisible();
  await expect(keeping.getByRole('row')).toHaveCount(6);
  await expect(keeping.getByRole('row').nth(1)).toContainText('€360');
  await expect(keeping.getByText(/if it is left until it fails/).first()).toBeVisible();
});

test('before a purchase: two years with their spread, what to look at, what to ask, and a sheet', async ({ page }) => {
  await lookUp(page, 'QV16B 165k 2011');
  await page.getByRole('link', { name: 'Before a purchase' }).click();
  await expect(page.getByRole('heading', { name: 'Before a purchase: Vellmar QV16B' })).toBeVisible();
  const cost = page.getByRole('region', { name: 'What the first two years cost' });
  await expect(cost).toContainText('in nine cases of ten nothing breaks beside the planned work');
  await page.getByLabel('Asking price (EUR)').fill('much');
  await page.keyboard.press('Enter');
  await expect(page.getByText('is not a price: write 4500')).toBeVisible();
  await page.getByLabel('Asking price (EUR)').fill('4500');
  await page.keyboard.press('Enter');
  await expect(cost).toContainText('Asked for it €4,500');
  await expect(page.getByRole('region', { name: 'Work due in two years' })).toContainText(
    'Timing belt breaks or strips',
  );
  await expect(page.getByRole('region', { name: 'Ask the seller' })).toContainText('Timing belt');
  const href = (await page.getByRole('link', { name: 'Print the sheet' }).getAttribute('href'))!;
  expect(href).toContain('price=450000');
  const pdf = await page.request.get(href);
  const read = await getDocument({ data: new Uint8Array(await pdf.body()), useSystemFonts: true }).promise;
  const text = (await (await read.getPage(1)).getTextContent()).items
    .map((item) => ('str' in item ? item.str : ''))
    .join(' ');
  expect(text).toContain('Before a purchase');
  expect(text).toContain('Timing belt breaks or strips');
  expect(text).toContain('Price and two years');
});

test('the coming weeks: planned hours, what falls due, and the room that is left', async ({ page }) => {
  await page.goto('/week');
  const load = page.getByRole('region', { name: 'Load of the coming weeks' });
  await expect(load.getByRole('row')).toHaveCount(13);
  await expect(load).toContainText('a week that the bays can do');
  await expect(load.getByRole('row').nth(1)).toContainText(/\d+ h/);
});
