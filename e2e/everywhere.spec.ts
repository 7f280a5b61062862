import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type Axe from 'axe-core';
import type { Page } from '@playwright/test';
import { expect, openRow, signIn, test } from './journey.ts';

// Nothing here changes a row, so the views may be imported any order, by all workers, in whatever shop they are in.
test.describe.configure({ mode: 'parallel' });
test.use({ ownShop: false });

const vehicle =
  (view: string) =>
  async (page: Page): Promise<void> => {
    await page.goto('/vehicles?q=PM+482');
    await page.locator('a[data-row]').first().click();
    await page.getByRole('navigation', { name: 'Vehicle' }).getByRole('link', { name: view }).click();
  };

const TABLET = { width: 820, height: 1180 };

/** Every view, as somebody gets there. */
const VIEWS: Readonly<Record<string, (page: Page) => Promise<void>>> = {
  'lookup home': async (page) => {
    await page.goto('/');
  },
  'an answer': async (page) => {
    await page.goto('/?line=QV20T+148k+2014');
    await openRow(page, 'Chain tensioner slackens');
  },
  'near matches': async (page) => {
    await page.goto('/?line=QV2OT+148k');
    await expect(page.getByRole('alert')).toBeVisible();
  },
  vehicles: async (page) => {
    await page.goto('/vehicles');
    await expect(page.getByRole('table')).toBeVisible();
  },
  outlook: vehicle('Outlook'),
  walk: async (page) => {
    await vehicle('Walk')(page);
    await expect(page.getByRole('heading', { name: 'From above' })).toBeVisible();
  },
  complaint: vehicle('Complaint'),
  'a walk before a purchase': async (page) => {
    await page.goto('/walk?line=QV16B+160k+2010');
    await expect(page.getByRole('heading', { name: 'With something off' })).toBeVisible();
  },
  visits: async (page) => {
    await vehicle('Visits')(page);
    await expect(page.getByRole('region', { name: 'What it costs' })).toBeVisible();
  },
  'what to plan by': async (page) => {
    await vehicle('Visits')(page);
    await page.getByRole('button', { name: 'What to plan by' }).click();
  },
  'before a purchase': async (page) => {
    await page.goto('/purchase?line=QV16B+160k+2010&price=420000');
    await expect(page.getByRole('heading', { name: 'Ask the seller' })).toBeVisible();
  },
  history: vehicle('History'),
  'keeping a vehicle': async (page) => {
    await page.goto('/?line=QV20T+148k+2013');
    await page.getByRole('button', { name: 'Save as a vehicle' }).click();
  },
  'planning a visit': async (page) => {
    await vehicle('Outlook')(page);
    await page.getByRole('button', { name: 'Plan a visit' }).click();
    await page.getByRole('checkbox').first().check();
  },
  'why a chance': async (page) => {
    await page.goto('/?line=QV20T+148k+2014');
    await openRow(page, 'Chain tensioner slackens');
    await page.getByRole('button', { name: 'Why this chance?' }).click();
    await expect(page.getByRole('row', { name: /If it did not wear by distance/ })).toBeVisible();
  },
  bench: async (page) => {
    await page.goto('/bench');
    await expect(page.getByRole('table')).toBeVisible();
  },
  'one weak point on the bench': async (page) => {
    await page.goto('/bench?q=thermostat+qv20t');
    await page.getByRole('row').nth(1).getByRole('link').click();
    await expect(page.getByRole('heading', { name: 'The parts behind it' })).toBeVisible();
  },
  'how it is used': async (page) => {
    await vehicle('Outlook')(page);
    await page.getByRole('button', { name: 'How it is used' }).click();
  },
  'it has failed': async (page) => {
    await vehicle('Outlook')(page);
    await page.locator('button[data-row]').first().click();
    await page.getByRole('button', { name: 'It has failed' }).click();
  },
  library: async (page) => {
    await page.goto('/library');
    await expect(page.getByRole('table')).toBeVisible();
  },
  'engines of the library': async (page) => {
    await page.goto('/library?shelf=engines');
    await page.getByRole('link', { name: /QV20T/ }).click();
    await expect(page.getByRole('heading', { name: 'Variants' })).toBeVisible();
  },
  'one weak point of the library': async (page) => {
    await page.goto('/library?q=QV20T+thermostat');
    await page.getByRole('row').nth(1).getByRole('link').click();
    await expect(page.getByRole('heading', { name: 'What is known' })).toBeVisible();
  },
  'bulletins and cover': async (page) => {
    await page.goto('/library?shelf=notices');
    await page.getByRole('link', { name: /Thermostat housings/ }).click();
    await expect(page.getByRole('heading', { name: 'Affected vehicles' })).toBeVisible();
    await page
      .getByRole('button', { name: /Called about/ })
      .first()
      .click();
  },
  'putting a bulletin on file': async (page) => {
    await page.goto('/library/notices/write');
    await page.getByLabel('Which weak points it is about').fill('QV20T tensioner');
    await expect(page.getByRole('button', { name: /QV20T Chain tensioner slackens/ })).toBeVisible();
  },
  'writing a weak point': async (page) => {
    await page.goto('/library/write');
    await page.getByLabel('When it mostly fails').fill('90-130k km');
    await expect(page.getByRole('img', { name: /Share of all these engines/ })).toBeVisible();
  },
  packs: async (page) => {
    await page.goto('/library?shelf=packs');
    await expect(page.getByRole('heading', { name: 'Take a pack in' })).toBeVisible();
  },
  'taking a spreadsheet in': async (page) => {
    await page.goto('/vehicles/intake');
    await page
      .locator('input[type=file]')
      .setInputFiles({
        name: 'a.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from('Plate,Date,Reading\nPM 482 KX,1/2/2024,5\n'),
      });
    await expect(page.getByRole('button', { name: 'Import it' })).toBeVisible();
  },
  week: async (page) => {
    await page.goto('/week');
    await expect(page.getByRole('heading', { name: 'Coming visits' })).toBeVisible();
  },
  settings: async (page) => {
    await page.goto('/settings');
    await expect(page.getByRole('heading', { name: 'Settings' })).toBeVisible();
  },
  'the list of keys': async (page) => {
    await page.goto('/vehicles');
    await page.keyboard.press('?');
  },
  nowhere: async (page) => {
    await page.goto('/no/such/page');
  },
};

/** What the text of axe defines on the page it is put into. */
declare const axe: typeof Axe;
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** Serious and critical findings of a page that axe has been put into; in the dark only what changes with the inks. */
const serious = (page: Page, rules?: readonly string[]): Promise<string[]> =>
  page.evaluate(async (only) => {
    const { violations } = await axe.run(document, {
      resultTypes: ['violations'],
      preload: false,
      ...(only ? { runOnly: { type: 'rule', values: [...only] } } : {}),
    });
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(
        ({ id, nodes }) =>
          `${id}: ${nodes
            .slice(0, 3)
            .map(({ html }) => html.slice(0, 160))
            .join(' | ')}`,
      );
  }, rules);

async function lightAndDark(page: Page): Promise<void> {
  const html = page.locator('html');
  await expect(html).toHaveAttribute('data-theme', 'light');
  await page.evaluate(AXE);
  expect(await serious(page)).toEqual([]);
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(html).toHaveAttribute('data-theme', 'dark');
  expect(await serious(page, ['color-contrast'])).toEqual([]);
}

test('sign-in has no serious accessibility finding, light or dark', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await lightAndDark(page);
});
/**
 * Boxes that scroll sideways and cannot be reached by keys: nothing in them takes the focus, nor do they themselves.
 */
const unreachable = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('main *, [role=dialog] *')]
      .filter(
        (box) =>
          box.scrollWidth > box.clientWidth + 1 &&
          ['auto', 'scroll'].includes(getComputedStyle(box).overflowX) &&
          box.tabIndex < 0 &&
          box.querySelector('a[href], button, input, select, textarea, [tabindex="0"]') === null,
      )
      .map((box) => box.outerHTML.slice(0, 120)),
  );

/** What makes the page wider than its window; nothing where it fits. */
const runningOff = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const wide = document.documentElement.clientWidth;
    if (document.documentElement.scrollWidth <= wide) return [];
    const beyond = [...document.querySelectorAll<HTMLElement>('body *')]
      .filter((one) => one.getBoundingClientRect().right > wide + 1 && getComputedStyle(one).position !== 'fixed')
      .map((one) => one.outerHTML.slice(0, 140));
    return [`the page is ${document.documentElement.scrollWidth} px wide in ${wide}`, ...beyond];
  });

/** Words that a program let slip. */
const SLIPPED = /\bundefined\b|\bNaN\b|\[object |\bnull\b/;

/** Every list that opens says its options in words, each once; and so does the page. */
async function saysWords(page: Page): Promise<void> {
  expect(await page.locator('body').innerText()).not.toMatch(SLIPPED);
  for (const list of await page.getByRole('combobox').filter({ visible: true }).all()) {
    if (!(await list.isEnabled()) || (await list.evaluate((element) => element.tagName)) !== 'BUTTON') continue;
    await list.click();
    const options = await page.getByRole('option').allInnerTexts();
    expect(options.length).toBeGreaterThan(0);
    for (const option of options) expect(option).toMatch(/\S/);
    expect(options.join('\n')).not.toMatch(SLIPPED);
    expect(new Set(options).size).toBe(options.length);
    await page.keyboard.press('Escape');
  }
}

/** A tablet; a desk at 200 % and at 400 %. */
const SIZES = [TABLET, { width: 640, height: 400 }, { width: 320, height: 640 }];

for (const [name, go] of Object.entries(VIEWS)) {
  test(`${name}: words in every list, no serious accessibility finding, light or dark; nothing runs off a tablet, nor at 200 % and 400 %`, async ({
    page,
  }) => {
    await signIn(page, 'Owner', 'elsewhere');
    await go(page);
    await page.waitForLoadState('networkidle');
    await saysWords(page);
    await lightAndDark(page);
    for (const size of SIZES) {
      await page.setViewportSize(size);
      // What is measured by an observer follows the new size a frame later.
      await expect.poll(() => runningOff(page)).toEqual([]);
      await expect.poll(() => unreachable(page)).toEqual([]);
    }
  });
}

for (const [device, size] of Object.entries({ tablet: TABLET, phone: { width: 390, height: 844 } })) {
  test(`the answer fits a ${device}: nothing runs off the side, targets are large enough`, async ({ page }) => {
    await page.setViewportSize(size);
    await signIn(page);
    await page.goto('/?line=DN12W+104k+2016');
    await expect(page.locator('button[data-row]').first()).toBeVisible();
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
    ).toBeLessThanOrEqual(0);
    const small = await page
      .locator('main button:visible')
      .evaluateAll((buttons) =>
        buttons.filter((button) => button.getBoundingClientRect().height < 36).map((button) => button.textContent),
      );
    expect(small).toEqual([]);
  });
}

test('the first page asks for less than 250 kB of compressed script', async ({ browser }) => {
  // A context of its own: nothing of the other journeys is in its cache.
  const context = await browser.newContext();
  const page = await context.newPage();
  let bytes = 0;
  const waiting: Promise<void>[] = [];
  page.on('response', (response) => {
    if (!response.url().endsWith('.js')) return;
    waiting.push(
      response
        .request()
        .sizes()
        .then(({ responseBodySize }) => {
          bytes += responseBodySize;
        }),
    );
    expect(response.headers()['content-encoding']).toBe('gzip');
  });
  await signIn(page);
  await page.waitForLoadState('networkidle');
  await Promise.all(waiting);
  expect(bytes).toBeGreaterThan(20_000);
  expect(bytes).toBeLessThan(250_000);
  await context.close();
});

test('the API describes itself', async ({ request }) => {
  const answer = await request.get('/api/openapi.json');
  const document = (await answer.json()) as { openapi: string; paths: Record<string, unknown> };
  expect(document.openapi).toMatch(/^3\.1/);
  expect(Object.keys(document.paths)).toEqual(
    expect.arrayContaining(['/api/lookup', '/api/vehicles/{id}/outlook', '/api/visits/{id}/done']),
  );
});

/** As on a machine that is too busy to draw: nobody is told of another size. */
const tellNobodyOfSizes = async (page: Page): Promise<void> => {
  await page.addInitScript(() => {
    window.ResizeObserver = class {
      observe(): void {}
      unobserve(): void {}
      disconnect(): void {}
    };
  });
};

test('a chart that was drawn for a wider page does not widen a narrower one, not even until it is drawn anew', async ({
  page,
}) => {
  await tellNobodyOfSizes(page);
  await signIn(page, 'Owner', 'elsewhere');
  await VIEWS['one weak point on the bench']!(page);
  const drawing = page.getByRole('img', { name: /^Share of all engines/ }).locator('svg');
  await expect(drawing).toBeVisible();
  const width = (await drawing.boundingBox())!.width;
  await page.setViewportSize({ width: 320, height: 640 });
  expect((await drawing.boundingBox())!.width).toBe(width);
  expect(
    await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
  ).toBeLessThanOrEqual(0);
});

test('the strip fills its place from the moment it is shown', async ({ page }) => {
  await tellNobodyOfSizes(page);
  await signIn(page, 'Owner', 'elsewhere');
  await vehicle('Outlook')(page);
  const drawing = page.getByRole('region', { name: 'Strip' }).locator('svg[role=presentation]');
  await expect(drawing).toBeVisible();
  const [drawn, place] = await drawing.evaluate((svg) => [
    svg.getBoundingClientRect().width,
    svg.parentElement!.getBoundingClientRect().width,
  ]);
  expect(Math.abs(place - drawn)).toBeLessThan(2);
});
