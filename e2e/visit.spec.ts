import { choose, chanceOf, expect, keepVehicle, rowOf, signIn, test } from './journey.ts';

const TENSIONER = 'Chain tensioner slackens when the engine stops';
const PUMP = 'Water pump leaks at the shaft';

test.beforeEach(({ page }) => signIn(page, 'Adviser'));

test('a visit is planned, stands on the strip and in the week, is done, and restarts exactly what was renewed', async ({
  page,
}) => {
  await keepVehicle(page, 'QV20T 152k 2013', 'VV 201 K');
  const url = page.url();
  const flange = await chanceOf(page, 'Coolant flange warps');
  const pump = await chanceOf(page, PUMP);
  await page.keyboard.press('v');
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('alert')).toContainText('Put at least one job on the visit');
  await page.getByLabel('On', { exact: true }).fill('+10d');
  await page.getByRole('checkbox', { name: TENSIONER }).check();
  await page.getByRole('checkbox', { name: PUMP }).check();
  await choose(page.getByLabel(`Work on ${PUMP}`), /^Renew,/);
  // The thermostat goes in with the pump; it was looked at and stays.
  await page
    .getByRole('dialog')
    .getByRole('checkbox', { name: /^Thermostat housing/ })
    .uncheck();
  await choose(page.getByLabel(`Work on ${TENSIONER}`), /^Renew,/);
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('button', { name: /^Visit on 4 Dec 2026, 2 jobs/ })).toBeVisible();
  await page.getByRole('link', { name: 'Week' }).click();
  await expect(page.getByRole('link', { name: /VV 201 K/ })).toContainText(PUMP);
  await page.getByRole('link', { name: /VV 201 K/ }).click();
  await page.getByRole('button', { name: 'It is done' }).click();
  await page.getByLabel('The meter showed').fill('152.3k');
  await page.getByRole('button', { name: 'Mark it done' }).click();
  await expect(page.getByRole('heading', { name: 'Done' })).toBeVisible();
  await page.goto(url);
  await expect(rowOf(page, PUMP)).toContainText('Run on');
  expect(await chanceOf(page, PUMP)).toBeLessThan(pump / 10);
  expect(Math.abs((await chanceOf(page, 'Coolant flange warps')) - flange)).toBeLessThan(0.2);
  await page.getByText(/do not apply, and why/).click();
  await expect(page.getByRole('listitem').filter({ hasText: TENSIONER })).toContainText('The revised part is fitted');
});

test('a visit is dragged on the strip and by keys; figures change with it, and undo brings it back', async ({
  page,
}) => {
  await keepVehicle(page, 'OD420K 190k 2012', 'VV 202 K');
  await page.keyboard.press('v');
  await page.getByLabel('On', { exact: true }).fill('+30d');
  await page.getByRole('checkbox').first().check();
  await page.getByRole('button', { name: 'Plan it' }).click();
  const post = page.getByRole('button', { name: /^Visit on/ });
  await expect(post).toHaveAccessibleName(/24 Dec 2026/);
  const box = (await post.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 160, box.y + 4, { steps: 8 });
  const figures = page.getByRole('status').filter({ hasText: 'one of these fails first' });
  await expect(figures).toBeVisible();
  const far = Number(/([\d.]+) %/.exec(await figures.innerText())![1]);
  await page.mouse.up();
  await expect(post).toHaveAccessibleName(/2027/);
  await page.getByRole('button', { name: 'Undo (u)' }).click();
  await expect(post).toHaveAccessibleName(/24 Dec 2026/);
  await post.focus();
  await page.keyboard.press('ArrowRight');
  await expect(figures).toContainText('31 Dec 2026');
  expect(Number(/([\d.]+) %/.exec(await figures.innerText())![1])).toBeLessThan(far);
  await page.keyboard.press('Enter');
  await expect(post).toHaveAccessibleName(/31 Dec 2026/);
});

test('a visit in the past is refused, a visit called off comes back by undo', async ({ page }) => {
  await keepVehicle(page, 'K630C 170k 2011', 'VV 203 K');
  await page.keyboard.press('v');
  await page.getByLabel('On', { exact: true }).fill('-2d');
  await page.getByRole('checkbox').first().check();
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('alert')).toContainText('Lies in the past');
  await page.getByLabel('On', { exact: true }).fill('+2w');
  await page.getByRole('button', { name: 'Plan it' }).click();
  await page
    .getByRole('navigation', { name: 'Vehicle' })
    .getByRole('link', { name: /Visits/ })
    .click();
  await page.getByRole('button', { name: 'Cancel the visit' }).click();
  await expect(page.getByRole('heading', { name: 'No visit is planned' })).toBeVisible();
  await page.keyboard.press('u');
  await expect(page.getByRole('heading', { level: 2, name: /8 Dec 2026/ })).toBeVisible();
});

test('belt, pump and seal together come apart once: minutes together, what another job adds, and how it comes apart', async ({
  page,
}) => {
  await keepVehicle(page, 'QV16B 165k 2011', 'VV 120 K');
  await page.getByRole('button', { name: 'Plan a visit' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /^Timing belt breaks or strips/ }).check();
  await dialog.getByLabel('Work on Timing belt breaks or strips').waitFor();
  const idler = dialog
    .getByRole('listitem')
    .filter({ hasText: 'Belt idler bearing dries out' })
    .filter({ has: page.getByRole('checkbox') });
  // What is never fitted twice goes in with the belt by itself, and can be left out.
  await expect(idler.getByRole('checkbox')).toBeChecked();
  await idler.getByRole('checkbox').uncheck();
  await expect(idler).toContainText('by itself');
  const labour = dialog.getByText(/ labour, /);
  const alone = await labour.innerText();
  await idler.getByRole('checkbox').check();
  await expect(labour).toContainText('if each came by itself');
  expect(await labour.innerText()).not.toBe(alone);
  await dialog.getByText('How it comes apart').click();
  const steps = dialog.getByRole('table', { name: 'What comes off, in its order, and for which job' });
  const covers = steps.getByRole('row').filter({ hasText: 'covers off and on' });
  await expect(covers).toContainText('once for');
  await expect(steps.getByRole('row').filter({ hasText: 'Timing belt: renew' })).toHaveCount(1);
});
