import type { Page } from '@playwright/test';
import { choose, expect, lookUp, rowOf, signIn, test } from './journey.ts';

const shelf = (page: Page, name: string) => page.getByRole('radio', { name, exact: true }).click();

test('found by code and symptom, by part number; an empty answer says what to do', async ({ page }) => {
  await signIn(page, 'Mechanic');
  await page.getByRole('link', { name: 'Library' }).click();
  const search = page.getByRole('searchbox');
  await search.fill('qv20t rattle');
  await expect(page.getByRole('row', { name: /Chain tensioner slackens when the engine stops/ })).toBeVisible();
  await search.fill('VL-4433-05');
  await expect(page.getByRole('row', { name: /Chain tensioner slackens when the engine stops/ })).toBeVisible();
  await expect(page).toHaveURL(/q=VL-4433-05/);
  await search.fill('nothing like this');
  await expect(page.getByText('Nothing in the library fits')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.getByRole('navigation', { name: 'Pages of weak points' })).toContainText('page 1 of');
});

test('one weak point: who says what, parts with supersession, the work in its order with tools and cautions, who is touched', async ({
  page,
}) => {
  await signIn(page, 'Mechanic');
  await page.goto('/library?q=QV20T+tensioner+stops');
  await page
    .getByRole('row', { name: /Chain tensioner slackens/ })
    .getByRole('link')
    .click();
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('many (50 %)');
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('The others never fail of it.');
  const work = page.getByRole('region', { name: 'Parts and work' });
  await expect(work).toContainText('VL-4433-05');
  await expect(work.getByRole('listitem').filter({ hasText: 'Front cover off and on' })).toBeVisible();
  await expect(work).toContainText('without it:');
  await expect(work).toContainText('Caution:');
  await expect(page.getByRole('region', { name: 'Who says what' })).toContainText('The Chain Loft');
  const touched = page.getByRole('region', { name: 'Affected vehicles' });
  await touched.getByRole('radio', { name: 'All of them' }).click();
  await expect(touched.getByRole('row', { name: /PM 482 KX/ })).toContainText('on a visit');
  await touched.getByRole('radio', { name: 'Still to call' }).click();
  await expect(touched.getByRole('row', { name: /PM 482 KX/ })).toHaveCount(0);
});

test('two variants side by side: what only one of them has stands first', async ({ page }) => {
  await signIn(page, 'Mechanic');
  await page.goto('/library?shelf=engines');
  await page.getByRole('link', { name: /QV20T/ }).click();
  await page.getByRole('checkbox', { name: 'Short-ratchet tensioner' }).check();
  await page.getByRole('checkbox', { name: 'Long-ratchet tensioner' }).check();
  await page.getByRole('button', { name: 'Compare two' }).click();
  await expect(page.getByRole('row', { name: /^Chain tensioner slackens when the engine stops/ })).toContainText(
    'does not have it',
  );
  await expect(page.getByRole('row').nth(1)).toContainText('Chain tensioner slackens when the engine stops');
});

test('a weak point is written from the keyboard alone, reviewed and published, and then answered with', async ({
  page,
  browser,
}) => {
  await signIn(page, 'Mechanic');
  await page.goto('/library/write');
  // Tab after Tab, as somebody types who never leaves the keys.
  await page.getByLabel('Engine', { exact: true }).focus();
  await page.keyboard.type('Kestrane K318B');
  await expect(page.getByLabel('Engine', { exact: true })).toHaveText('Kestrane K318B');
  const type = async (label: string, text: string): Promise<void> => {
    await page.keyboard.press('Tab');
    await expect(page.getByLabel(label, { exact: true })).toBeFocused();
    await page.keyboard.type(text);
  };
  await type('Component', 'Charge pipe clip');
  await type('Made of', 'plastic');
  await type('Group', 'Other');
  await type('What goes wrong', 'Charge pipe clip lets go');
  await type('When it mostly fails', '60-140k');
  await expect(page.getByText('Write a window, and the curve is drawn here.')).toBeVisible();
  await page.keyboard.type(' km');
  await expect(page.getByRole('img', { name: /Share of all these engines that have failed/ })).toBeVisible();
  await type('Who has it', 'wears');
  await type('How many fail by then', 'many');
  await type('If it fails', 'runs badly');
  await type('Minutes to renew', '20');
  await type('What then happens', 'No boost and a hiss.');
  await type('What tells, before or then', 'The clip stands proud.');
  await expect(page.getByText(/^\d+$/).first()).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Charge pipe clip lets go');
  await expect(page.getByText('A draft: no vehicle is judged by it yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Put up for review' }).click();
  await expect(page.getByText('Up for review: the owner publishes it')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Publish' })).toHaveCount(0);
  const context = await browser.newContext();
  const owner = await context.newPage();
  await signIn(owner, 'Owner');
  await owner.goto(page.url());
  await owner.getByRole('button', { name: 'Publish' }).click();
  await expect(owner.getByText('Published: every vehicle it applies to is judged by it.')).toBeVisible();
  await context.close();
  await page.goto('/');
  await lookUp(page, 'K318B 100k 2016');
  await expect(rowOf(page, 'Charge pipe clip lets go')).toBeVisible();
});

test('told as a fault that some were built with, the others never fail of it', async ({ page }) => {
  await signIn(page, 'Owner');
  await page.goto('/library/write');
  await choose(page.getByLabel('Engine', { exact: true }), 'Kestrane K318B');
  await page.getByLabel('Component', { exact: true }).fill('Charge pipe clip');
  await page.getByLabel('What goes wrong').fill('Charge pipe clip cracks');
  await page.getByLabel('When it mostly fails').fill('20-60k km');
  const curve = page.getByRole('img', { name: /Share of all these engines that have failed/ });
  // What wears comes to nearly all of them in the end.
  await choose(page.getByLabel('How many fail by then'), /^few/);
  await expect(curve).toHaveAccessibleName(/ 1[2-9] % at 90,000 km| [2-9]\d % at 90,000 km/);
  await choose(page.getByLabel('Who has it'), 'A fault that some were built with');
  await expect(page.getByLabel('How many have it')).toHaveText(/^few/);
  await expect(curve).toHaveAccessibleName(/by then; 10 % at 90,000 km|by then; 9\.\d % at 90,000 km/);
  await choose(page.getByLabel('If it fails'), /runs badly/);
  await page.getByLabel('Minutes to renew').fill('20');
  await page.getByLabel('What then happens').fill('No boost and a hiss.');
  await page.getByLabel('What tells, before or then').fill('The clip stands proud.');
  await page.getByRole('button', { name: /Save as a draft/ }).click();
  await expect(page.getByText('The others never fail of it.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.goto('/');
  await lookUp(page, 'K318B 300k 2015');
  // Far beyond its window: an engine that has it would have shown it.
  await page.getByText(/that do not apply, and why/).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Charge pipe clip cracks' })).toContainText('Behind it');
});

test('a draft with faults names each field and keeps what was typed; one like it is shown', async ({ page }) => {
  await signIn(page, 'Mechanic');
  await page.goto('/library/write');
  await choose(page.getByLabel('Engine', { exact: true }), 'Dunmarrow DN12W');
  await page.getByLabel('What goes wrong').fill('Thermostat housing leaks');
  await expect(page.getByRole('status').filter({ hasText: 'Is it one of these?' })).toContainText(
    'Thermostat housing leaks at the gearbox side',
  );
  await page.getByLabel('When it mostly fails').fill('90-60k km');
  await page.getByRole('button', { name: /Save as a draft/ }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'must start above zero' })).toBeVisible();
  await expect(page.getByLabel('What goes wrong')).toHaveValue('Thermostat housing leaks');
});

test('a colleague’s pack: shown row by row, imported, beside ours where it disagrees, and taken back with one action', async ({
  page,
}) => {
  await signIn(page, 'Owner');
  const pack = (await (await page.request.get('/api/library/export')).json()) as {
    key: string;
    title: string;
    families: { code: string; weakPoints: { key: string; title: string; share: string }[] }[];
  };
  Object.assign(pack, { key: 'colleague', title: 'A colleague’s notes' });
  const engine = pack.families.find(({ code }) => code === 'K425N')!;
  engine.weakPoints.find(({ key }) => key === 'k425n-pump')!.share = 'rare';
  engine.weakPoints.push({
    ...engine.weakPoints.find(({ key }) => key === 'k425n-pump')!,
    key: 'colleague-new',
    title: 'Oil filler neck cracks',
  });
  await page.goto('/library?shelf=packs');
  await expect(page.getByRole('row', { name: /Harbour demo library/ })).toContainText('CC0-1.0');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'notes.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(pack)) });
  await expect(page.getByText('1 new, 0 changed, 1 conflicting, 0 gone')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Water pump leaks: what to do' })).toHaveText(
    'keep ours, put theirs beside it',
  );
  await page.getByRole('button', { name: 'Import it as shown' }).click();
  await expect(page.getByText('Pack “A colleague’s notes”').first()).toBeVisible();
  await page.goto('/library?q=K425N+water+pump+leaks');
  await page
    .getByRole('row', { name: /Water pump leaks/ })
    .getByRole('link')
    .click();
  await expect(page.getByRole('region', { name: 'Who says what' })).toContainText('Says: rare of them');
  await expect(page.getByRole('region', { name: 'What is known' })).toContainText('many (50 %)');
  await page.goto('/library');
  await shelf(page, 'What changed');
  await page
    .getByRole('listitem')
    .filter({ hasText: 'A colleague’s notes' })
    .first()
    .getByRole('button', { name: 'Take it back' })
    .click();
  await expect(page.getByText(/Undone: Pack “A colleague’s notes”/).first()).toBeVisible();
  await page.goto('/library?q=K425N+cracks');
  await expect(page.getByRole('row', { name: /Oil separator plate cracks/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Oil filler neck cracks/ })).toHaveCount(0);
});

test('a file that is no pack is refused with its lines', async ({ page }) => {
  await signIn(page, 'Owner');
  await page.goto('/library?shelf=packs');
  await page
    .locator('input[type=file]')
    .setInputFiles({
      name: 'broken.json',
      mimeType: 'application/json',
      buffer: Buffer.from('{\n  "format": "crosspeen-pack",\n  "formatVersion": 3\n}'),
    });
  await expect(page.getByRole('alert')).toContainText('This file is no valid library pack');
  await expect(page.getByRole('alert')).toContainText('line 3, formatVersion');
});

test('a bulletin goes on file from its weak point, shows whom it touches, and becomes a list to call', async ({
  page,
}) => {
  await signIn(page, 'Adviser');
  await page.goto('/library?q=QV16B+radiator');
  await page
    .getByRole('row', { name: /Radiator end tank splits/ })
    .getByRole('link')
    .click();
  await page.getByRole('link', { name: 'Add a bulletin or a coverage' }).click();
  await choose(page.getByLabel('What it is', { exact: true }), 'Coverage');
  await page.getByLabel('Who says it').fill('Vellmar workshop note');
  await page.getByLabel('Its number').fill('C 31');
  await page.getByLabel('Issued', { exact: true }).fill('1.10.2026');
  await page.getByLabel('What it is about, in a line').fill('Radiators that split are paid for');
  await page.getByLabel('What it says').fill('Renewed at the maker’s cost while the cover lasts.');
  await page.getByLabel('Pays for').fill('12-14y');
  await page.getByRole('button', { name: /Save/ }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'Must be one limit each' })).toBeVisible();
  await expect(page.getByLabel('Its number')).toHaveValue('C 31');
  await page.getByLabel('Pays for').fill('25y | 400k km');
  await page.getByRole('button', { name: /Save/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Radiators that split are paid for');
  await expect(page.getByText('25 years or 400,000 km')).toBeVisible();
  const rows = page.getByRole('region', { name: 'Affected vehicles' }).locator('tbody tr');
  await expect(rows.first()).toContainText(/until \d+ \w+ 20\d\d/);
  const plate = (await rows.first().getByRole('rowheader').innerText()).split('\n')[0]!.trim();
  await rows
    .first()
    .getByRole('button', { name: /Called about/ })
    .click();
  await page.getByRole('radio', { name: 'thinks it over' }).click();
  await page.getByLabel('What was said').fill('asks his brother');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rows.filter({ hasText: plate })).toContainText('thinks it over, “asks his brother”');
  await rows
    .filter({ hasText: plate })
    .getByRole('button', { name: /Called about/ })
    .click();
  await page.getByRole('radio', { name: 'does not want it' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  // Other journeys put saved vehicles meanwhile: this one's row tells.
  await expect(rows.filter({ hasText: plate })).toHaveCount(0);
  await page.getByRole('radio', { name: 'All of them' }).click();
  await expect(rows.filter({ hasText: plate })).toContainText('does not want it');
  await page.getByRole('button', { name: 'Undo (u)' }).click();
  await page.getByRole('radio', { name: 'Still to call' }).click();
  await expect(rows.filter({ hasText: plate })).toHaveCount(1);
  await page.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(page.getByText(/; withdrawn/)).toBeVisible();
});
