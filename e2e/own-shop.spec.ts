import { test as base, expect, type Browser, type Page } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { generate } from 'selfsigned';
import { VIEWPORT } from './viewport.ts';

const ROOT = join(import.meta.dirname, '..');
const COMMAND = ['--import', 'tsx', '--disable-warning=ExperimentalWarning', 'scripts/main.ts'];

interface Started {
  readonly address: string;
  readonly port: number;
  readonly folder: string;
  /** The code that it is set up with; empty where it was. */
  readonly code: string;
  readonly stop: () => Promise<string>;
}

/** A port nobody listens on just now. */
const freePort = (): Promise<number> =>
  new Promise((found) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => found(port));
    });
  });

/** Starts a workshop of its own by the command that people type, in a folder of its own. */
async function start(...flags: string[]): Promise<Started> {
  const folder = mkdtempSync(join(tmpdir(), 'crosspeen-own-'));
  const port = await freePort();
  const child: ChildProcess = spawn(
    process.execPath,
    [...COMMAND, '--folder', folder, 'start', '--port', String(port), ...flags],
    { cwd: ROOT, env: { ...process.env, CROSSPEEN_NOW: '', CROSSPEEN_DATABASE: '' } },
  );
  let said = '';
  const ended = new Promise<string>((resolve) => {
    child.once('close', () => resolve(said));
  });
  await new Promise<void>((ready, failed) => {
    for (const stream of [child.stdout!, child.stderr!])
      stream.on('data', (data: Buffer) => {
        said += data.toString();
        if (said.includes('Ctrl-C stops it')) ready();
      });
    child.once('close', () => failed(new Error(said)));
  });
  return {
    address: /ready: (\S+)/.exec(said)![1]!,
    port,
    folder,
    code: /^ {2}([0-9A-Z]{4}-[0-9A-Z]{4})$/m.exec(said)?.[1] ?? '',
    stop: async () => {
      child.kill('SIGINT');
      const all = await ended;
      rmSync(folder, { recursive: true, force: true });
      return all;
    },
  };
}

const command = (folder: string, ...args: string[]): string => {
  const { stdout, stderr } = spawnSync(process.execPath, [...COMMAND, '--folder', folder, ...args], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, CROSSPEEN_DATABASE: '' },
  });
  return stdout + stderr;
};

async function pageOf(browser: Browser, address: string, at = '/'): Promise<Page> {
  const context = await browser.newContext({ ...VIEWPORT, baseURL: address, ignoreHTTPSErrors: true });
  const page = await context.newPage();
  await page.goto(at);
  return page;
}

async function fillSetUp(page: Page, code: string): Promise<void> {
  await page.getByLabel('Code').fill(code);
  await page.getByLabel('Name of the workshop').fill('Tarred Quay Garage');
  await page.getByLabel('Labour, an hour').fill('88');
  await page.getByLabel('Tax, %').fill('21');
  await page.getByLabel('Your name').fill('Marit Dunne');
  await page.getByLabel('Sign-in name').fill('marit');
  await page.getByLabel('Password').fill('quay lantern forty ropes');
}
const begin = (page: Page) => page.getByRole('button', { name: 'Set it up and begin' }).click();

async function typeIn(page: Page, name: string, password: string): Promise<void> {
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}

/** Signs the owner in, and is in. */
async function ownerIn(page: Page): Promise<void> {
  await typeIn(page, 'marit', 'quay lantern forty ropes');
  await expect(page.getByRole('link', { name: /Marit Dunne, owner/ })).toBeVisible();
}

const test = base.extend<object, { shop: Started }>({
  shop: [
    async ({}, use) => {
      const shop = await start();
      await use(shop);
      expect(await shop.stop()).toMatch(/Stopped\.\s*$/);
    },
    { scope: 'worker', timeout: 240_000 },
  ],
});
test.describe.configure({ mode: 'serial' });

test('an empty shop: set up with its code, the example taken in, the first answer', async ({ shop, browser }) => {
  const page = await pageOf(browser, shop.address);
  await expect(page.getByRole('heading', { name: 'Set your workshop up' })).toBeVisible();
  await begin(page);
  await expect(page.getByText('Must be a number, such as 96')).toBeVisible();
  await fillSetUp(page, 'AAAA-AAAA');
  await begin(page);
  await expect(page.getByText(/Is not the code that was printed last/)).toBeVisible();
  // Nothing that was typed is lost; a password of the list is told apart.
  await page.getByLabel('Code').fill(shop.code);
  await page.getByLabel('Password').fill('password123');
  await begin(page);
  await expect(page.getByText(/Stands on the list of passwords/)).toBeVisible();
  await page.getByLabel('Password').fill('quay lantern forty ropes');
  await begin(page);
  await expect(page.getByRole('heading', { name: 'Next steps' })).toBeVisible();
  await page.getByRole('button', { name: 'Take the example in' }).click();
  await expect(page.getByRole('button', { name: 'Remove the example' })).toBeVisible();
  await page.getByLabel('Engine code or plate, reading, year').fill('QV20T 148k 2014');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /QV20T/ }).first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Strip' })).toBeVisible();
  // Somebody who comes too late finds the door, not the first page.
  const late = await pageOf(browser, shop.address);
  await expect(late.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(late.getByText('Tarred Quay Garage')).toBeVisible();
  await expect(late.getByText(/try the demo/)).toHaveCount(0);
  await Promise.all([page.context().close(), late.context().close()]);
});

test('a colleague: invited by a link that works once, demoted at once, signed out as he leaves', async ({
  shop,
  browser,
}) => {
  const owner = await pageOf(browser, shop.address);
  await ownerIn(owner);
  await owner.getByRole('link', { name: 'Settings' }).click();
  await owner.getByRole('link', { name: 'People' }).click();
  await owner.getByRole('button', { name: 'Add somebody' }).click();
  await owner.getByLabel('Name', { exact: true }).fill('Per Oake');
  await owner.getByLabel('Sign-in name').fill('two words');
  await owner.getByRole('button', { name: 'Add and make a link' }).click();
  await expect(owner.getByText(/Must be one word/)).toBeVisible();
  await owner.getByLabel('Sign-in name').fill('per');
  await owner.getByLabel('Role').click();
  await owner.getByRole('option', { name: 'Adviser, at the desk' }).click();
  await owner.getByRole('button', { name: 'Add and make a link' }).click();
  const link = await owner.getByLabel('One-time link').inputValue();
  await owner.getByRole('button', { name: 'Done' }).click();

  const per = await pageOf(browser, shop.address, link);
  await expect(per.getByRole('heading', { name: 'Welcome, Per Oake' })).toBeVisible();
  await per.getByLabel('Password', { exact: true }).fill('gravel tuesday mast');
  await per.getByLabel('The same again').fill('gravel tuesday');
  await per.getByRole('button', { name: 'Set the password and sign in' }).click();
  await expect(per.getByText(/Is not the same/)).toBeVisible();
  await per.getByLabel('The same again').fill('gravel tuesday mast');
  await per.getByRole('button', { name: 'Set the password and sign in' }).click();
  await expect(per.getByRole('link', { name: /Per Oake, adviser/ })).toBeVisible();
  const again = await pageOf(browser, shop.address, link);
  await expect(again.getByRole('heading', { name: 'This link does not work' })).toBeVisible();

  await per.getByRole('link', { name: 'Vehicles' }).click();
  await expect(per.getByRole('button', { name: 'Bring them from a spreadsheet' })).toBeVisible();
  await owner.getByRole('button', { name: 'Per Oake' }).click();
  await owner.getByLabel('Role').click();
  await owner.getByRole('option', { name: 'Mechanic, at the bay' }).click();
  await owner.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(owner.getByRole('cell', { name: 'role changed from adviser to mechanic' })).toBeVisible();
  await per.reload();
  await expect(per.getByRole('link', { name: /Per Oake, mechanic/ })).toBeVisible();
  await expect(per.getByRole('button', { name: 'Bring them from a spreadsheet' })).toHaveCount(0);

  await owner.getByRole('button', { name: 'Per Oake' }).click();
  await owner.getByRole('button', { name: 'No longer works here …' }).click();
  await owner.getByRole('button', { name: 'Yes, Per Oake no longer works here' }).click();
  await expect(owner.getByRole('row', { name: /Per Oake.*No longer here/ })).toBeVisible();
  await per.getByRole('link', { name: 'Library' }).click();
  await expect(per.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await typeIn(per, 'per', 'gravel tuesday mast');
  await expect(per.getByRole('alert')).toContainText('do not go together');

  // The last owner stays.
  await owner.getByRole('button', { name: 'Marit Dunne (you)' }).click();
  await owner.getByRole('button', { name: 'No longer works here …' }).click();
  await owner.getByRole('button', { name: 'Yes, Marit Dunne no longer works here' }).click();
  await expect(owner.getByRole('alert')).toContainText('needs an active owner');
  await owner.getByRole('button', { name: 'Close' }).click();
  await Promise.all([owner, per, again].map((page) => page.context().close()));
});

test('a bay tablet: people change over with a PIN, and it asks again after a rest', async ({ shop, browser }) => {
  const tablet = await pageOf(browser, shop.address);
  await tablet.setViewportSize({ width: 820, height: 1180 });
  await ownerIn(tablet);
  await tablet.goto('/account');
  await tablet.getByLabel('Your password', { exact: true }).fill('quay lantern forty ropes');
  await tablet.getByLabel('PIN', { exact: true }).fill('1234');
  await tablet.getByRole('button', { name: 'Set the PIN' }).click();
  await expect(tablet.getByText(/too easily guessed/)).toBeVisible();
  await tablet.getByLabel('PIN', { exact: true }).fill('4821');
  await tablet.getByRole('button', { name: 'Set the PIN' }).click();
  await expect(tablet.getByText('PIN set.')).toBeVisible();
  await tablet.goto('/settings/people');
  await tablet.getByRole('button', { name: 'Make this browser a bay tablet' }).click();
  await tablet.getByLabel('Name of the tablet').fill('Bay 1');
  await tablet.getByRole('button', { name: 'Make it one' }).click();
  await expect(tablet.getByRole('row', { name: /Bay 1 \(this browser\)/ })).toBeVisible();
  await tablet.clock.install();
  await tablet.goto('/');
  await tablet.getByRole('button', { name: 'Change over' }).click();
  await expect(tablet.getByRole('heading', { name: 'Bay 1' })).toBeVisible();
  const enter = async (pin: string): Promise<void> => {
    for (const digit of pin) await tablet.getByRole('button', { name: digit, exact: true }).click();
    await tablet.getByRole('button', { name: 'Enter' }).click();
  };
  await tablet.getByRole('button', { name: 'Marit Dunne' }).click();
  await enter('4822');
  await expect(tablet.getByRole('alert')).toContainText('does not go with this name');
  await enter('4821');
  // The owner himself is a mechanic here.
  await expect(tablet.getByRole('link', { name: /Marit Dunne, mechanic/ })).toBeVisible();
  await expect(tablet.getByRole('link', { name: 'Settings' })).toHaveCount(0);
  await tablet.goto('/account');
  await expect(tablet.getByText(/password and PIN are not changed/)).toBeVisible();
  await tablet.clock.runFor('05:01');
  await expect(tablet.getByRole('heading', { name: 'Who is here?' })).toBeVisible();
  // The key by which it is this tablet does not leave the browser.
  const exported = await tablet.evaluate(async () => {
    const opened = await new Promise<IDBDatabase>((resolve) => {
      const asked = indexedDB.open('crosspeen-tablet');
      asked.onsuccess = () => resolve(asked.result);
    });
    const key = await new Promise<CryptoKey>((resolve) => {
      const asked = opened.transaction('key').objectStore('key').get('tablet');
      asked.onsuccess = () => resolve(asked.result as CryptoKey);
    });
    return crypto.subtle.exportKey('pkcs8', key).then(
      () => 'exported',
      (error: unknown) => (error as Error).name,
    );
  });
  expect(exported).toBe('InvalidAccessError');
  // Five wrong PINs lock it; a password opens it again.
  const locked = tablet.getByText(/this tablet is locked/);
  await tablet.getByRole('button', { name: 'Marit Dunne' }).click();
  // Tries that come too fast are refused uncounted: it is tried again a little later.
  await expect(async () => {
    if (!(await locked.isVisible())) {
      const answered = tablet.waitForResponse((answer) => new URL(answer.url()).pathname === '/api/bay/enter');
      await enter('4822');
      await answered;
    }
    await expect(locked).toBeVisible({ timeout: 1500 });
  }).toPass();
  await tablet.getByRole('button', { name: 'Sign in with name and password' }).click();
  await ownerIn(tablet);
  await tablet.goto('/');
  await tablet.getByRole('button', { name: 'Change over' }).click();
  await expect(tablet.getByRole('heading', { name: 'Who is here?' })).toBeVisible();
  await tablet.context().close();
});

test('a backup now, read back row for row; the shop is named by the commands', async ({ shop, browser }) => {
  const owner = await pageOf(browser, shop.address);
  await ownerIn(owner);
  await owner.goto('/settings/backups');
  await owner.getByRole('button', { name: 'Back up now' }).click();
  await expect(owner.getByRole('row', { name: /Good; read back into an empty database/ }).first()).toBeVisible();
  expect(command(shop.folder, 'status')).toMatch(/the demo: not here\nthe shop:\n {2}server {6}running, http:\/\/127/);
  expect(command(shop.folder, 'restore', '--shop', join(ROOT, 'README.md'))).toContain(
    'The server of the shop is running',
  );
  expect(command(shop.folder, 'link', 'nobody')).toContain('Nobody who works here signs in as “nobody”');
  await owner.context().close();
});

test('on a PostgreSQL that is there already: two servers in front of it, one of them with TLS', async ({ browser }) => {
  const database = process.env['CROSSPEEN_EXISTING']!;
  const first = await start('--database', database);
  const files = ['cert', 'key'].map((kind) => join(first.folder, `shop.${kind}`)) as [string, string];
  const made = await generate([{ name: 'commonName', value: 'localhost' }], {
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: 'localhost' }] }],
  });
  writeFileSync(files[0], made.cert);
  writeFileSync(files[1], made.private);
  const page = await pageOf(browser, first.address);
  await fillSetUp(page, first.code);
  await begin(page);
  await expect(page.getByRole('heading', { name: 'Next steps' })).toBeVisible();
  expect(command(first.folder, 'status', '--shop')).toMatch(/crosspeen_existing, looked after by others/);
  expect(command(first.folder, 'reset', '--shop', '--yes')).toContain('Its administrator drops the database');

  const second = await start('--database', database, '--tls-cert', files[0], '--tls-key', files[1]);
  expect(second.code).toBe('');
  const secure = await pageOf(browser, `https://127.0.0.1:${second.port}`);
  await ownerIn(secure);
  const cookies = await secure.context().cookies();
  expect(cookies.map(({ name, secure: only, httpOnly }) => [name, only, httpOnly])).toEqual([
    ['crosspeen', true, true],
  ]);
  // What is saved by one server is what the other answers with, and a sign-in ended at one is ended at the other.
  await secure.goto('/settings');
  await secure.getByLabel('Name', { exact: true }).fill('Two Doors Garage');
  await secure.getByRole('button', { name: 'Save settings' }).click();
  await expect(secure.getByText(/Settings saved/)).toBeVisible();
  await page.goto('/settings');
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Two Doors Garage');
  await page.goto('/account');
  await page.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(page.getByRole('button', { name: 'Sign out there' })).toHaveCount(0);
  await secure.reload();
  await expect(secure.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await Promise.all([page.context().close(), secure.context().close()]);
  expect(await second.stop()).toMatch(/Stopped\.\s*$/);
  expect(await first.stop()).toMatch(/Stopped\.\s*$/);
});
